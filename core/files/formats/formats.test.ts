import { createHash } from "node:crypto";
import { zipSync } from "fflate";
import { makeBoot4, makeDtbo, makeSuper, withFooter } from "~/testing/madeFiles";
import { makePayload, type PartitionToMake } from "~/testing/madePayload";
import { digestsOf } from "../digest";
import { openPayload, recognise } from "../recognise";
import { bytesSource, counting, type Source } from "../source";
import { writeSparse } from "../sparse";
import { osVersion } from "./boot";
import { readChecks } from "./ota";
import { takePartition } from "./payload";
import { toldByFingerprint } from "./vbmeta";
import { writeVbmeta } from "./writeVbmeta";

const text = (s: string) => new TextEncoder().encode(s);
const tell = (name: string, bytes: Uint8Array) => recognise(bytesSource(name, bytes));
const sha = (bytes: Uint8Array) => new Uint8Array(createHash("sha256").update(bytes).digest());

// Bytes by hand from AOSP "Android Verified Boot 2.0", README and headers.
describe("verification files", () => {
  const made = writeVbmeta({
    properties: {
      "com.android.build.system.fingerprint": "orvane/quill/quill:12/SQ3A.230505.002/9:user/release-keys",
      "com.android.build.boot.security_patch": "2023-05-01",
    },
    trees: ["system", "vendor"],
    hashed: ["boot", "dtbo"],
    chained: ["vbmeta_system"],
    algorithm: 2,
    rollbackIndex: 1_683_000_000,
    authentication: 576,
    madeBy: "avbtool 1.2.0",
  });

  test("flags, algorithm, rollback index, partitions and the build it belongs to", async () => {
    const report = await tell("vbmeta.img", made);
    expect(report.content).toMatchObject({
      kind: "vbmeta",
      algorithm: "SHA256_RSA4096",
      rollbackIndex: 1_683_000_000,
      flags: 0,
      verityOff: false,
      verificationOff: false,
      madeBy: "avbtool 1.2.0",
      partitions: ["system", "vendor", "boot", "dtbo", "vbmeta_system"],
    });
    expect(report.told).toMatchObject({
      build: "SQ3A.230505.002",
      release: "12",
      api: 31,
      patch: "2023-05-01",
      devices: ["quill"],
      partition: "vbmeta",
    });
  });

  test.each([
    [1, true, false],
    [2, false, true],
    [3, true, true],
  ])("flags %i", async (flags, verityOff, verificationOff) => {
    expect((await tell("v", writeVbmeta({ flags }))).content).toMatchObject({ verityOff, verificationOff });
  });

  test("a signed partition image tells its build by its footer", async () => {
    const boot = withFooter(makeBoot4(8000, 4000, 0, (12 << 25) | (23 << 4) | 5), made, 65_536);
    const report = await tell("boot.img", boot);
    expect(report.told).toMatchObject({
      build: "SQ3A.230505.002",
      release: "12",
      patch: "2023-05-01",
      partition: "boot",
    });
  });

  test("a build's fingerprint, in the parts that the compatibility definition names", () => {
    expect(toldByFingerprint("acme/myproduct/mydevice:13/LMYXX/3359:userdebug/test-keys")).toEqual({
      devices: ["mydevice"],
      release: "13",
      build: "LMYXX",
    });
    expect(toldByFingerprint("nothing of the kind")).toEqual({});
  });
});

describe("boot headers that no Debian program writes", () => {
  test("version 4, whole and cut", async () => {
    const bytes = makeBoot4(8000, 4000, 4096, (13 << 25) | (23 << 4) | 8);
    const report = await tell("boot.img", bytes);
    expect(report.content).toMatchObject({ headerVersion: 4, kernel: 8000, ramdisk: 4000, commandLine: "quiet" });
    expect([report.told.release, report.told.patch, report.whole.is]).toEqual(["13", "2023-08", "yes"]);
    expect((await tell("boot.img", bytes.subarray(0, 12_000))).whole.is).toBe("no");
    expect((await tell("init_boot.img", makeBoot4(0, 4000, 0, 0))).told.partition).toBe("init_boot");
  });

  test("the packed release field", () => {
    expect(osVersion((8 << 25) | (1 << 18) | (19 << 4) | 3)).toEqual({ release: "8.1", patch: "2019-03" });
    expect(osVersion((7 << 25) | (1 << 18) | (2 << 11) | (17 << 4) | 12)).toEqual({
      release: "7.1.2",
      patch: "2017-12",
    });
    expect(osVersion(0)).toEqual({ release: null, patch: null });
  });

  test("overlays", async () => {
    expect((await tell("dtbo.img", makeDtbo(3, 512))).content).toEqual({ kind: "dtbo", entries: 3 });
    expect((await tell("dtbo.img", makeDtbo(3, 512).subarray(0, 100))).whole.is).toBe("no");
  });
});

// Bytes by hand from AOSP liblp, `metadata_format.h`.
describe("super layouts", () => {
  const MiB = 1_048_576;
  const wanted = {
    bytes: 4096 * MiB,
    groups: [
      { name: "default", maximum: 0 },
      { name: "main_a", maximum: 4000 * MiB },
    ],
    partitions: [
      { name: "system_a", group: 1, bytes: 2400 * MiB },
      { name: "product_a", group: 1, bytes: 900 * MiB },
      { name: "system_b", group: 1, bytes: 0 },
    ],
  };

  test.each([
    ["a device's", false],
    ["a layout-only file's", true],
  ])("%s", async (_name, layoutOnly) => {
    const report = await tell("super.img", await makeSuper(wanted, layoutOnly));
    expect(report.content).toEqual({
      kind: "super",
      bytes: 4096 * MiB,
      slots: 2,
      groups: [
        { name: "default", maximum: null },
        { name: "main_a", maximum: 4000 * MiB },
      ],
      partitions: [
        { name: "system_a", group: "main_a", bytes: 2400 * MiB },
        { name: "product_a", group: "main_a", bytes: 900 * MiB },
        { name: "system_b", group: "main_a", bytes: 0 },
      ],
    });
  });

  test("inside a sparse image", async () => {
    const report = await tell("super.img", writeSparse(await makeSuper(wanted), 4096 * MiB));
    expect(report.content).toMatchObject({ kind: "sparse", inside: "super" });
    expect(report.expanded).toBe(4096 * MiB);
  });

  /** One partition of 1 MiB behind the first MiB, all of it there. */
  const whole = async () => {
    const bytes = new Uint8Array(2 * MiB);
    bytes.set(
      await makeSuper({
        bytes: 8 * MiB,
        groups: [{ name: "main", maximum: 4 * MiB }],
        partitions: [{ name: "system", group: 0, bytes: MiB }],
      }),
    );
    return bytes;
  };

  test("whole is what reaches to the end of its last partition; a file that holds the layout only promises no more", async () => {
    const bytes = await whole();
    expect((await tell("super.img", bytes)).whole.is).toBe("yes");
    const cut = await tell("super.img", bytes.slice(0, -1));
    expect(cut.whole).toMatchObject({ is: "no", says: expect.stringContaining("2097152, the file has 2097151") });
    expect((await tell("super.img", await makeSuper(wanted, true))).whole.is).toBe("yes");
  });

  test("one flipped bit anywhere in geometry or tables is found by the checksums", async () => {
    const bytes = await whole();
    for (const at of [4096 + 44, 12_288 + 84, 12_288 + 128 + 5, 12_288 + 128 + 180]) {
      const damaged = bytes.slice();
      damaged[at] ^= 4;
      expect((await tell("super.img", damaged)).whole.is).toBe("no");
    }
  });
});

// Encoded by protobufjs, which the product does not use; packed data of xz and bzip2 in e2e/outside/payload.spec.ts.
describe("update payloads", () => {
  const boot = new Uint8Array(20_480).map((_, i) => i * 7);
  const plain: PartitionToMake = {
    name: "boot",
    bytes: boot.length,
    digest: sha(boot),
    operations: [
      { type: 0, data: boot.subarray(8192), blocks: [[2, 3]], digest: sha(boot.subarray(8192)) },
      { type: 0, data: boot.subarray(0, 8192), blocks: [[0, 2]] },
    ],
  };
  const zeros: PartitionToMake = {
    name: "vbmeta",
    bytes: 8192,
    digest: sha(new Uint8Array(8192)),
    operations: [{ type: 6, data: new Uint8Array(), blocks: [[0, 2]] }],
  };
  const delta: PartitionToMake = {
    name: "system",
    bytes: 3_000_000_000,
    digest: sha(new Uint8Array(1)),
    operations: [{ type: 5, data: boot, blocks: [[0, 1]] }],
  };
  const payload = makePayload([plain, zeros, delta], {
    patch: "2023-08-05",
    groups: [{ name: "main", size: 4_000_000_000, partition_names: ["system"] }],
  });

  test("partitions, sizes, groups, patch level", async () => {
    const report = await tell("payload.bin", payload);
    expect(report.content).toMatchObject({
      kind: "payload",
      full: true,
      partitions: [
        { name: "boot", bytes: 20_480, fetch: 20_480, takeable: true, digest: Buffer.from(sha(boot)).toString("hex") },
        { name: "vbmeta", takeable: true },
        { name: "system", bytes: 3_000_000_000, takeable: false },
      ],
      groups: [{ name: "main", maximum: 4_000_000_000, partitions: ["system"] }],
    });
    expect(report.told.patch).toBe("2023-08-05");
    expect((await tell("payload.bin", payload.subarray(0, payload.length - 9))).whole.is).toBe("no");
  });

  const take = async (source: Source, name: string) => {
    const opened = await openPayload(source);
    if (!opened) throw new Error("no payload");
    return takePartition(opened.source, opened.payload, name);
  };

  test("one small partition out of a payload, and out of a zip that holds it, by its ranges only", async () => {
    expect(await take(bytesSource("payload.bin", payload), "boot")).toEqual(boot);
    expect(await take(bytesSource("payload.bin", payload), "vbmeta")).toEqual(new Uint8Array(8192));
    const zip = zipSync({
      "META-INF/com/android/metadata": [text("ota-type=AB\npost-sdk-level=33\n"), { level: 0 }],
      "payload.bin": [payload, { level: 0 }],
    });
    const source = counting(bytesSource("ota.zip", zip));
    expect(await take(source, "boot")).toEqual(boot);
    expect((await tell("ota.zip", zip)).content).toMatchObject({ kind: "ota", payload: { kind: "payload" } });
  });

  test("what is damaged, missing or only a difference is refused, never handed out", async () => {
    const damaged = payload.slice();
    damaged[payload.length - 100] ^= 1;
    const [source, broken] = [bytesSource("p", payload), bytesSource("p", damaged)];
    await expect(take(source, "system")).rejects.toMatchObject({ problem: "too-large" });
    await expect(take(source, "modem")).rejects.toMatchObject({ problem: "not-this" });
    const small = { ...delta, bytes: 4096 };
    await expect(take(bytesSource("p", makePayload([small])), "system")).rejects.toMatchObject({
      problem: "not-supported",
    });
    const last = makePayload([plain]).slice();
    last[last.length - 1] ^= 1;
    await expect(take(bytesSource("p", last), "boot")).rejects.toMatchObject({ problem: "damaged" });
    expect(broken.size).toBe(payload.length);
  });
});

describe("what is damaged or old, and can still be read", () => {
  const layout = {
    bytes: 64 * 1_048_576,
    groups: [{ name: "main", maximum: 32 * 1_048_576 }],
    partitions: [{ name: "system_a", bytes: 4 * 1_048_576, group: 0 }],
  };
  /** A device's layout with the backups where liblp puts them. */
  const withBackups = async () => {
    const made = await makeSuper(layout);
    const [geometry, metadata] = [made.slice(4096, 8192), made.slice(12_288, 12_288 + 65_536)];
    // To the end of its partition, which begins behind the first MiB.
    const whole = new Uint8Array(5 * 1_048_576);
    whole.set(made.subarray(0, Math.min(made.length, whole.length)));
    whole.set(geometry, 8192);
    whole.set(metadata, 12_288 + 2 * 65_536);
    return whole;
  };
  test.each([
    ["geometry", 4100],
    ["geometry's mark", 4096],
    ["metadata", 12_300],
  ])("the first copy of a super layout's %s is damaged: the backup is read, and it is said", async (_what, at) => {
    const bytes = await withBackups();
    expect((await recognise(bytesSource("super.img", bytes))).whole.is).toBe("yes");
    bytes[at] ^= 0xff;
    const report = await recognise(bytesSource("super.img", bytes));
    expect(report).toMatchObject({ content: { kind: "super" }, whole: { is: "no" } });
    expect(report.says).toContain("read from the backup");
    bytes[12_300 + 2 * 65_536] ^= 0xff;
    bytes[8196] ^= 0xff;
    expect((await recognise(bytesSource("super.img", bytes))).content.kind).toBe("unknown");
  });

  test("a boot image of before versions keeps a device tree's size where they stand: its last byte counts", async () => {
    const page = 2048;
    const bytes = new Uint8Array(page * 5);
    const needs = page * 4 + 100;
    bytes.set(new TextEncoder().encode("ANDROID!"));
    const view = new DataView(bytes.buffer);
    for (const [at, value] of [
      [8, 1000],
      [16, 900],
      [36, page],
      [40, page + 100],
    ])
      view.setUint32(at, value, true);
    const report = await recognise(bytesSource("boot.img", bytes));
    expect(report).toMatchObject({ content: { kind: "boot", headerVersion: 0 }, whole: { is: "yes" } });
    const short = async (size: number) => (await recognise(bytesSource("boot.img", bytes.subarray(0, size)))).whole.is;
    // Padding holds nothing, but is written: where it is missing, nobody can tell.
    expect([await short(page * 5 - 1), await short(needs), await short(needs - 1)]).toEqual([
      "unknown",
      "unknown",
      "no",
    ]);
  });

  test("a verification file without its key is not whole; the build is the system's, not another part's", async () => {
    const properties = {
      "com.android.build.vendor.fingerprint": "a/b/c:10/OLD/1:user/release-keys",
      "com.android.build.system.fingerprint": "a/b/c:12/NEW/1:user/release-keys",
    };
    const whole = writeVbmeta({ properties });
    expect((await recognise(bytesSource("vbmeta.img", whole))).told).toMatchObject({ build: "NEW", release: "12" });
    const only = writeVbmeta({
      properties: { "com.android.build.vendor.fingerprint": "a/b/c:10/OLD/1:user/release-keys" },
    });
    expect((await recognise(bytesSource("vbmeta.img", only))).told.build).toBeNull();
    const signed = writeVbmeta({ properties, algorithm: 2 });
    const view = new DataView(signed.buffer, signed.byteOffset);
    // A key that lies past the block it belongs to.
    view.setBigUint64(64, 1_000_000n, false);
    view.setBigUint64(72, 1032n, false);
    expect((await recognise(bytesSource("vbmeta.img", signed))).whole.is).toBe("no");
  });
});

test("digests by their published vectors", async () => {
  const of = (s: string) => digestsOf(bytesSource("v", text(s)));
  expect((await of("abc")).sha256).toBe("ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad");
  expect((await of("abcdbcdecdefdefgefghfghighijhijkijkljklmklmnlmnomnopnopq")).sha256).toBe(
    "248d6a61d20638b8e5c026930c3e6039a33ce45964ff2167f6ecedd419db06c1",
  );
  expect((await of("message digest")).md5).toBe("f96b697d7cb7938d525a2f31aaf161d0");
  expect((await of("")).md5).toBe("d41d8cd98f00b204e9800998ecf8427e");
  const marked = await digestsOf(bytesSource("v", text("abcdef")), { mark: 3 });
  expect(marked.marked).toBe("900150983cd24fb0d6963f7d28e17f72");
  await expect(digestsOf(bytesSource("v", text("abc")), { signal: { aborted: true } })).rejects.toMatchObject({
    problem: "cancelled",
  });
});

test("what a package's script checks", () => {
  expect(
    readChecks(
      'assert(getprop("ro.product.device") == "quill" || getprop("ro.build.product") == "quill" || abort("E3004"));\nassert(vendor.verify_modem("A1", "A2") == "1");\ngetprop("ro.bootloader") == "BL3" || abort("x");',
    ),
  ).toEqual({ devices: ["quill"], checks: ["ro.bootloader must be BL3", "modem: A1, A2"] });
});

test.each([
  ["an empty file", new Uint8Array(), "empty", "no"],
  ["a web page saved as a zip", text("<!DOCTYPE html><html><title>Sign in</title>"), "web-page", "no"],
  ["noise", new Uint8Array([1, 2, 3, 250]), "unknown", "unknown"],
  ["a zip's beginning", new Uint8Array([0x50, 0x4b, 3, 4, 0, 0, 0, 0]), "unknown", "no"],
])("%s", async (_name, bytes, kind, whole) => {
  const report = await tell("x.zip", bytes);
  expect([report.content.kind, report.whole.is]).toEqual([kind, whole]);
});
