import fs from "node:fs";
import { expect, test } from "@playwright/test";
import { openErofs } from "~/core/files/formats/erofs";
import { openExt4 } from "~/core/files/formats/ext4";
import { mapSparse } from "~/core/files/formats/sparseImage";
import { recognise } from "~/core/files/recognise";
import type { FileKind } from "~/core/files/report";
import { seenAs } from "../rig/seen";
import { noise, Workshop } from "../rig/tools";

// Every reader against files that the platform's or system's own programs made, and against what those programs say.

const MiB = 1_048_576;
let shop: Workshop;
test.beforeEach(() => {
  shop = new Workshop();
});
test.afterEach(() => shop.done());

const seen = <K extends FileKind>(name: string, kind: K) => seenAs(shop, name, kind);

const PROPERTIES = [
  "ro.build.version.release=12",
  "ro.build.version.security_patch=2023-05-01",
  "ro.build.display.id=QLQ-SZ9A.230505.002",
  "ro.product.device=quill",
  "ro.product.cpu.abi=arm64-v8a",
  "ro.build.fingerprint=orvane/quill/quill:12/SQ3A.230505.002/9:user/release-keys",
  "",
].join("\n");

/** A folder shaped like a system, with a large folder so that its directory takes more than one block. */
function systemFolder() {
  shop.write("root/system/build.prop", PROPERTIES);
  shop.write("root/system/app/App/App.apk", noise(90_000));
  for (let i = 0; i < 300; i++) shop.write(`root/system/fonts/a-font-with-a-long-name-${i}.ttf`, "x");
}

test.describe("ext4, as mkfs.ext4 makes and dumpe2fs tells it", () => {
  for (const [name, words] of [
    ["with 64-bit", ["-O", "64bit"]],
    ["without", ["-O", "^64bit"]],
    ["with small blocks and old inodes", ["-b", "1024", "-I", "128"]],
    ["with blocks that are no extents", ["-O", "^extent,^64bit"]],
  ] as const)
    test(name, async () => {
      systemFolder();
      shop.run("mkfs.ext4", "-q", "-L", "system", ...words, "-d", "root", "system.img", "24M");
      const report = await seen("system.img", "ext4");
      const said = shop.run("dumpe2fs", "-h", "system.img");
      const number = (what: string) => Number(new RegExp(`^${what}:\\s+(\\d+)`, "m").exec(said)?.[1]);
      expect(report.expanded).toBe(number("Block count") * number("Block size"));
      expect(report.content.used).toBe((number("Block count") - number("Free blocks")) * number("Block size"));
      expect(report.content.label).toBe(/volume name:\s+(\S+)/.exec(said)?.[1]);
      expect(report.content.uuid).toBe(/UUID:\s+(\S+)/.exec(said)?.[1].replaceAll("-", ""));
      expect(report.whole.is).toBe("yes");
      const readable = name !== "with blocks that are no extents";
      expect(report.told.build).toBe(readable ? "QLQ-SZ9A.230505.002" : null);
      if (!readable) return;
      expect(report.told).toMatchObject({
        release: "12",
        api: 31,
        patch: "2023-05-01",
        devices: ["quill"],
        cpu: "arm64",
      });
      const { file } = await openExt4(shop.source("system.img"));
      expect(await file(["system", "app", "App", "App.apk"])).toEqual(noise(90_000));
      expect(await file(["system", "fonts", "a-font-with-a-long-name-299.ttf"])).toEqual(new Uint8Array([120]));
      expect(await file(["system", "nothing"])).toBeNull();
    });

  test("cut short", async () => {
    systemFolder();
    shop.run("mkfs.ext4", "-q", "-d", "root", "system.img", "24M");
    fs.truncateSync(shop.at("system.img"), 20 * MiB);
    expect((await seen("system.img", "ext4")).whole).toMatchObject({
      is: "no",
      says: expect.stringContaining("cut short"),
    });
  });
});

test.describe("EROFS, as mkfs.erofs makes and dump.erofs tells it", () => {
  test("plain: the build's properties are read", async () => {
    systemFolder();
    shop.run("mkfs.erofs", "system.img", "root");
    const report = await seen("system.img", "erofs");
    const said = shop.run("dump.erofs", "-s", "system.img");
    expect(report.content.uuid).toBe(/UUID:\s+(\S+)/.exec(said)?.[1].replaceAll("-", ""));
    expect(report.expanded).toBe(Number(/blocks:\s+(\d+)/.exec(said)?.[1]) * 4096);
    expect(report.told).toMatchObject({ release: "12", build: "QLQ-SZ9A.230505.002", cpu: "arm64" });
    const { file } = await openErofs(shop.source("system.img"));
    expect(await file(["system", "app", "App", "App.apk"])).toEqual(noise(90_000));
    expect(await file(["system", "fonts", "a-font-with-a-long-name-299.ttf"])).toEqual(new Uint8Array([120]));
  });

  for (const chunk of [4096, 65_536])
    test(`in chunks of ${chunk} bytes: the build's properties are read`, async () => {
      systemFolder();
      // A hole, and a last chunk that is not full.
      const holed = new Uint8Array(300_000);
      holed.set(noise(10_000), 0);
      holed.set(noise(5_000), 200_000);
      shop.write("root/system/holed.bin", holed);
      shop.run("mkfs.erofs", `--chunksize=${chunk}`, "system.img", "root");
      expect(shop.run("dump.erofs", "-s", "system.img")).toContain("chunked_file");
      const report = await seen("system.img", "erofs");
      expect(report.told).toMatchObject({ release: "12", build: "QLQ-SZ9A.230505.002", cpu: "arm64" });
      const { file } = await openErofs(shop.source("system.img"));
      expect(await file(["system", "app", "App", "App.apk"])).toEqual(noise(90_000));
      expect(await file(["system", "holed.bin"])).toEqual(holed);
    });

  test("chunks on another device are not guessed", async () => {
    systemFolder();
    shop.write("blob.img", "");
    shop.run("mkfs.erofs", "--chunksize=4096", "--blobdev=blob.img", "system.img", "root");
    const report = await seen("system.img", "erofs");
    expect(report.told.build).toBeNull();
    const { file } = await openErofs(shop.source("system.img"));
    expect(await file(["system", "app", "App", "App.apk"])).toBeNull();
  });

  test("packed: it is told, and what is packed is not guessed", async () => {
    shop.write("root/system/build.prop", PROPERTIES.repeat(200));
    shop.run("mkfs.erofs", "-zlz4", "system.img", "root");
    const report = await seen("system.img", "erofs");
    expect(report.content).toMatchObject({ packed: true, properties: {} });
  });
});

test.describe("sparse images, as img2simg makes, simg_dump tells and simg2img unfolds them", () => {
  test("chunks, expanded size and what is inside", async () => {
    systemFolder();
    shop.run("mkfs.ext4", "-q", "-L", "system", "-d", "root", "raw.img", "24M");
    shop.run("img2simg", "raw.img", "system.img");
    const report = await seen("system.img", "sparse");
    const said = shop.run("simg_dump", "system.img");
    const [, blocks, size, chunks] = /Total of (\d+) (\d+)-byte output blocks in (\d+) input chunks/.exec(said) ?? [];
    expect(report.content).toMatchObject({
      blocks: Number(blocks),
      blockSize: Number(size),
      chunks: Number(chunks),
      inside: "ext4",
    });
    expect(report.expanded).toBe(24 * MiB);
    expect(report.told.build).toBe("QLQ-SZ9A.230505.002");
    shop.run("simg2img", "system.img", "back.img");
    const { inside } = await mapSparse(shop.source("system.img"));
    expect(Buffer.from(await inside.read(0, inside.size)).equals(Buffer.from(shop.bytes("back.img")))).toBe(true);
    expect(await inside.read(5_000_001, 77_777)).toEqual(shop.bytes("back.img").subarray(5_000_001, 5_077_778));
  });

  test("cut short", async () => {
    shop.write("raw.img", noise(2 * MiB));
    shop.run("img2simg", "raw.img", "system.img");
    fs.truncateSync(shop.at("system.img"), MiB);
    const report = await recognise(shop.source("system.img"));
    expect(report.whole).toMatchObject({ is: "no", says: expect.stringContaining("cut short") });
  });
});

test.describe("boot images, as mkbootimg makes and unpack_bootimg tells them", () => {
  // Version 4 is made by hand in the unit tests: the Debian program does not write it.
  for (const version of [0, 1, 2, 3])
    test(`header version ${version}`, async () => {
      shop.write("kernel", noise(300_000));
      shop.write("ramdisk", noise(150_001, 2));
      shop.write("dtb", noise(2000, 3));
      const words = ["--kernel", "kernel", "--ramdisk", "ramdisk", "--header_version", `${version}`];
      if (version === 2) words.push("--dtb", "dtb");
      if (version < 3) words.push("--board", "quill");
      shop.run(
        "mkbootimg",
        ...words,
        "--os_version",
        "11.0.0",
        "--os_patch_level",
        "2021-09",
        "--cmdline",
        "console=ttyS0 quiet",
        "-o",
        "boot.img",
      );
      const report = await seen("boot.img", "boot");
      const said = shop.run("unpack_bootimg", "--boot_img", "boot.img", "--out", "out");
      const line = (what: string) => new RegExp(`^${what}: (.*)$`, "m").exec(said)?.[1];
      expect(report.content.headerVersion).toBe(version);
      expect(`${report.content.kernel} ${report.content.ramdisk}`).toBe(
        `${line("kernel.size")} ${line("ramdisk size")}`,
      );
      expect(`${report.told.release}.0.0 ${report.told.patch}`).toBe(`${line("os version")} ${line("os patch level")}`);
      expect(report.content.commandLine).toBe(line("command line args"));
      expect(report.whole.is).toBe("yes");
      // Without the padding of its last page it may have been cut short; without the last byte before it, it was.
      const pageSize = report.content.pageSize;
      const last = version === 2 ? 2000 : 150_001;
      const padding = Math.ceil(last / pageSize) * pageSize - last;
      const all = fs.statSync(shop.at("boot.img")).size;
      for (const missing of [1, padding]) {
        fs.truncateSync(shop.at("boot.img"), all - missing);
        expect((await seen("boot.img", "boot")).whole).toMatchObject({
          is: "unknown",
          says: expect.stringContaining(`ends ${missing} bytes early`),
        });
      }
      fs.truncateSync(shop.at("boot.img"), all - padding - 1);
      expect((await seen("boot.img", "boot")).whole.is).toBe("no");
    });

  test("vendor boot, header version 3", async () => {
    shop.write("ramdisk", noise(150_001, 2));
    shop.write("dtb", noise(2000, 3));
    const words = ["--vendor_ramdisk", "ramdisk", "--dtb", "dtb", "--header_version", "3", "--vendor_cmdline", "quiet"];
    shop.run("mkbootimg", ...words, "--board", "quill", "--vendor_boot", "vendor_boot.img");
    const report = await seen("vendor_boot.img", "boot");
    const said = shop.run("unpack_bootimg", "--boot_img", "vendor_boot.img", "--out", "out");
    expect(report.content).toMatchObject({ vendor: true, headerVersion: 3, board: "quill", commandLine: "quiet" });
    expect(said).toContain(`vendor ramdisk size: ${report.content.ramdisk}`);
    expect(report.whole.is).toBe("yes");
  });
});
