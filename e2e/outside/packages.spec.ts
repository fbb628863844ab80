import fs from "node:fs";
import { expect, test } from "@playwright/test";
import { agreesWithLists } from "~/core/files/agreesWithLists";
import { digestsOf } from "~/core/files/digest";
import { recognise } from "~/core/files/recognise";
import type { FileKind } from "~/core/files/report";
import { makeApk } from "../rig/apk";
import { seenAs } from "../rig/seen";
import { noise, Workshop } from "../rig/tools";

// Readers of packages, packed files and digest lists against what the system's own programs made, and what those say.

let shop: Workshop;
test.beforeEach(() => {
  shop = new Workshop();
});
test.afterEach(() => shop.done());

const seen = <K extends FileKind>(name: string, kind: K) => seenAs(shop, name, kind);

test("an OTA package, small and as zip64", async () => {
  shop.write(
    "META-INF/com/android/metadata",
    "ota-type=AB\npre-device=quill|quill2\npost-build=orvane/quill/quill:13/TQ3A.230805.001/5:user/release-keys\npost-sdk-level=33\npost-security-patch-level=2023-08-05\nota-downgrade=yes\n",
  );
  shop.write("big", noise(50_000));
  shop.run("zip", "-q", "-X", "-r", "ota.zip", "META-INF", "big");
  shop.run("zip", "-q", "-fz", "-X", "-r", "ota64.zip", "META-INF", "big");
  for (const name of ["ota.zip", "ota64.zip"]) {
    const report = await seen(name, "ota");
    expect(report.told).toMatchObject({
      release: "13",
      api: 33,
      build: "TQ3A.230805.001",
      patch: "2023-08-05",
      devices: ["quill", "quill2"],
    });
    expect(report.content).toMatchObject({ downgrade: true, wipes: true, full: true });
  }
  fs.truncateSync(shop.at("ota.zip"), 30_000);
  expect((await recognise(shop.source("ota.zip"))).whole).toMatchObject({ is: "no" });
});

test("xz: the unpacked size, without unpacking, of one stream, many blocks and several streams", async () => {
  shop.write("a.img", noise(1_500_001));
  shop.run("xz", "-k", "a.img");
  shop.run(
    "sh",
    "-c",
    "xz -k -c --block-size=1MiB a.img > b.xz; head -c 8 /dev/zero > pad; cat a.img.xz pad b.xz > two.xz; cat two.xz pad > padded.xz; xz -k -c --arm64 --lzma2 a.img > f.xz || xz -k -c --arm --lzma2 a.img > f.xz",
  );
  for (const name of ["a.img.xz", "b.xz", "two.xz", "padded.xz", "f.xz"]) {
    const report = await seen(name, "packed");
    const said = shop.run("xz", "--robot", "--list", name);
    expect(report.expanded).toBe(Number(/^totals\t(?:[^\t]*\t){3}(\d+)/m.exec(said)?.[1]));
  }
  fs.truncateSync(shop.at("two.xz"), 2_000_000);
  expect((await recognise(shop.source("two.xz"))).whole.is).toBe("no");
});

test("gzip: the size that comes out, of one member and of several; cut short and damaged", async () => {
  shop.write("a.img", noise(1_500_001));
  shop.write("b.img", "b".repeat(70_000));
  shop.run("sh", "-c", "gzip -k a.img b.img; cat a.img.gz b.img.gz > two.gz; head -c 900000 a.img.gz > cut.gz");
  for (const name of ["a.img.gz", "b.img.gz", "two.gz"]) {
    const report = await seen(name, "packed");
    expect(report.expanded).toBe(Number(shop.run("sh", "-c", `gzip -dc ${name} | wc -c`)));
    expect(report.content).toMatchObject({ exact: true });
    expect(report.whole.is).toBe("yes");
  }
  expect((await seen("a.img.gz", "packed")).content.inner).toBe("a.img");
  expect((await recognise(shop.source("cut.gz"))).whole.is).toBe("no");
  const bytes = shop.bytes("b.img.gz");
  bytes[30] ^= 0xff;
  shop.write("bad.gz", bytes);
  expect((await recognise(shop.source("bad.gz"))).whole.is).toBe("no");
});

test("what is packed in another way is told by name, with what unpacks it", async () => {
  shop.write("a.img", noise(5000));
  shop.run(
    "sh",
    "-c",
    "lz4 -q a.img a.lz4; lz4 -q -l a.img a.legacy; zstd -q a.img -o a.zst; bzip2 -k a.img; xz -k --format=lzma a.img",
  );
  for (const [name, says] of [
    ["a.lz4", "with lz4"],
    ["a.legacy", "with lz4, in the older form"],
    ["a.zst", "with Zstandard"],
    ["a.img.bz2", "with bzip2"],
    ["a.img.lzma", "with LZMA"],
  ]) {
    const report = await seen(name, "unknown");
    expect(report.says).toContain(says);
    expect(report.whole.is).toBe("unknown");
  }
  shop.write("system.new.dat.br", noise(5000, 7));
  expect((await seen("system.new.dat.br", "unknown")).says).toContain("Brotli, by its name");
});

test("digest lists as openssl, sha512sum and a signature by gpg make them", async () => {
  shop.write("a.img", noise(5000));
  const made = await digestsOf(shop.source("a.img"), { sha512: true });
  shop.run(
    "sh",
    "-c",
    `openssl dgst -sha512 a.img > o512; openssl dgst -sha256 a.img > o256; sha512sum a.img > s512; sha512sum --tag a.img > t512; mkdir -m 700 g;
     sha256sum a.img > sums; gpg -q --homedir g --batch --pinentry-mode loopback --passphrase "" --quick-gen-key tester@example.invalid default default never;
     gpg -q --homedir g --batch --pinentry-mode loopback --passphrase "" --clearsign -o signed sums`,
  );
  for (const name of ["o512", "o256", "s512", "t512", "signed"]) {
    const { content, says } = await seen(name, "digest-list");
    expect(content.lines, name).toHaveLength(1);
    expect(agreesWithLists("a.img", made, content.lines), name).toBe("agrees");
    expect(agreesWithLists("a.img", { ...made, sha256: "0".repeat(64), sha512: "0".repeat(128) }, content.lines)).toBe(
      "other",
    );
    expect(says.includes("signature is not checked")).toBe(name === "signed");
  }
});

test("a download-mode package: tar with its MD5 behind the end, whole and damaged", async () => {
  for (const name of ["boot.img", "system.img", "vbmeta.img"]) shop.write(name, noise(40_000, name.length));
  shop.run(
    "sh",
    "-c",
    "tar --format=ustar -cf p.tar boot.img system.img vbmeta.img && (cat p.tar; md5sum p.tar) > p.tar.md5",
  );
  const report = await seen("p.tar.md5", "tar");
  expect(report.content.images.map((i) => i.name)).toEqual(["boot.img", "system.img", "vbmeta.img"]);
  const { of, expect: says } = report.content.md5 as { of: number; expect: string };
  const digest = async () => (await digestsOf(shop.source("p.tar.md5"), { mark: of })).marked;
  expect(await digest()).toBe(says);
  const bytes = shop.bytes("p.tar.md5");
  bytes[20_000] ^= 1;
  shop.write("p.tar.md5", bytes);
  expect(await digest()).not.toBe(says);
});

test("tars with long names and letters beyond ASCII, in three formats", async () => {
  const long = `${"a-folder-with-a-long-name/".repeat(5)}système-größe.img`;
  shop.write(long, noise(700));
  shop.write("boot.img", noise(600));
  for (const format of ["gnu", "pax", "posix"]) {
    shop.run("tar", `--format=${format}`, "-cf", `${format}.tar`, long, "boot.img");
    const { content, whole } = await seen(`${format}.tar`, "tar");
    expect(content.images.map((i) => [i.name, i.bytes])).toEqual([
      [`…${long.slice(-119)}`, 700],
      ["boot.img", 600],
    ]);
    expect(whole.is).toBe("yes");
  }
  const split = `${"b-folder/".repeat(12)}${"c".repeat(60)}.img`;
  shop.write(split, noise(800));
  shop.run("tar", "--format=ustar", "-cf", "ustar.tar", split);
  expect((await seen("ustar.tar", "tar")).content.images[0].name).toBe(`…${split.slice(-119)}`);
});

test("a payload that is packed inside its zip is said", async () => {
  shop.write("META-INF/com/android/metadata", "post-build=a/b/c:12/X/1:user/release-keys\npre-device=quill\n");
  shop.write("payload.bin", "CrAU".padEnd(4000, "x"));
  shop.run("zip", "-q", "-9", "-r", "ota.zip", "META-INF", "payload.bin");
  expect((await recognise(shop.source("ota.zip"))).says).toContain("payload is packed inside the zip");
});

test("a bootloader-script package: which script wipes, which one locks", async () => {
  shop.write("images/boot.img", noise(4000));
  shop.write("images/system.img", noise(4000));
  shop.write(
    "flash_all.sh",
    "fastboot $* flash boot images/boot.img\nfastboot $* flash system images/system.img\nfastboot -w\n",
  );
  shop.write("flash_keep.sh", "fastboot $* flash boot images/boot.img\nfastboot $* flash system images/system.img\n");
  shop.write(
    "flash_all_lock.bat",
    "fastboot %* flash boot_ab images\\boot.img\r\nfastboot %* flash userdata x\r\nfastboot %* flashing lock\r\n",
  );
  shop.run("zip", "-q", "-r", "stock.zip", "images", "flash_all.sh", "flash_keep.sh", "flash_all_lock.bat");
  const report = await seen("stock.zip", "factory");
  expect(report.content.scripts.map(({ name, wipes, locks }) => [name, wipes, locks])).toEqual([
    ["flash_all.sh", true, false],
    ["flash_keep.sh", false, false],
    ["flash_all_lock.bat", true, true],
  ]);
  expect(report.says).toContain("flash_all_lock.bat LOCKS the bootloader");
});

test("a package that holds apps is no app; a script that locks is said whatever else is in it", async () => {
  makeApk(shop, { package: "example.bank", label: "Bank", minApi: 29, asks: [] });
  makeApk(shop, { package: "example.maps", label: "Maps", minApi: 26, asks: [] });
  shop.write("images/boot.img", noise(4000));
  shop.write("flash_all.sh", "fastboot flash boot images/boot.img\n");
  shop.run("zip", "-q", "-r", "stock.zip", "images", "flash_all.sh", "example.bank.apk");
  expect((await seen("stock.zip", "factory")).says).not.toContain("LOCKS");
  shop.run("zip", "-q", "two.zip", "example.bank.apk", "example.maps.apk");
  const two = await recognise(shop.source("two.zip"));
  expect(two.content.kind).not.toBe("apk");
  expect(two.says).toContain("2 apps, not one: example.bank");
  // The client behind a variable, behind another command, in a script without an ending.
  shop.write("flash-locked", '$FB flash boot images/boot.img\necho "locking" && $FB flashing lock\n');
  shop.run("zip", "-q", "-r", "locks.zip", "images", "flash_all.sh", "flash-locked");
  expect((await recognise(shop.source("locks.zip"))).says).toContain("flash-locked LOCKS the bootloader");
  shop.write("flash-said", 'echo "this does no flashing lock"\n# fastboot flashing lock\n');
  shop.run("zip", "-q", "-r", "said.zip", "images", "flash_all.sh", "flash-said");
  expect((await recognise(shop.source("said.zip"))).says).not.toContain("LOCKS");
});
