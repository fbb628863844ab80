import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import fc from "fast-check";
import { gunzipSync, zipSync } from "fflate";
import { makeBoot4, makeSuper } from "~/testing/madeFiles";
import { makePayload } from "~/testing/madePayload";
import { FileReadError } from "../readError";
import { openPayload, recognise } from "../recognise";
import { FileReport } from "../report";
import { bytesSource, counting } from "../source";
import { writeSparse } from "../sparse";
import { takePartition } from "./payload";
import { writeVbmeta } from "./writeVbmeta";

const text = (s: string) => new TextEncoder().encode(s);
const sha = (bytes: Uint8Array) => new Uint8Array(createHash("sha256").update(bytes).digest());
const sample = (name: string) => gunzipSync(readFileSync(`core/files/formats/samples/${name}.gz`));

describe("hostile files", () => {
  const samples = async (): Promise<Record<string, Uint8Array>> => ({
    vbmeta: writeVbmeta({ properties: { a: "b" }, trees: ["system"], hashed: ["boot"] }),
    super: await makeSuper({
      bytes: 8_388_608,
      groups: [{ name: "g", maximum: 1 }],
      partitions: [{ name: "system", group: 0, bytes: 4096 }],
    }),
    boot: makeBoot4(8000, 4000, 4096, 5),
    sparse: writeSparse(new Uint8Array(5000), 100_000),
    payload: makePayload([
      {
        name: "boot",
        bytes: 4096,
        digest: sha(new Uint8Array(4096)),
        operations: [{ type: 0, data: new Uint8Array(4096), blocks: [[0, 1]] }],
      },
    ]),
    zip: zipSync({ "META-INF/com/android/metadata": text("ota-type=AB\n"), "payload.bin": new Uint8Array(99) }),
    apk: zipSync({
      "AndroidManifest.xml": new Uint8Array([3, 0, 8, 0, 200, 0, 0, 0, 1, 0, 28, 0, 100, 0, 0, 0, 255, 255, 255, 255]),
    }),
    list: text("FIRMWARE\nmtdparts=x:1m@0(a),1m@512k(b)"),
    ext4: sample("ext4.img"),
    erofs: sample("erofs.img"),
    arsc: zipSync({ "AndroidManifest.xml": sample("manifest.xml"), "resources.arsc": sample("resources.arsc") }),
  });

  /** A source that refuses to be read without end: what a reader may ask for of a small file. */
  const watched = (name: string, bytes: Uint8Array) => {
    const source = counting(bytesSource(name, bytes));
    let calls = 0;
    return {
      ...source,
      get bytesRead() {
        return source.bytesRead;
      },
      async read(from: number, length: number) {
        if (++calls > 20_000) throw new Error("the reader does not stop");
        return source.read(from, length);
      },
    };
  };

  test("real files with bytes changed or cut off: a report, in bounded reads, and never another error", async () => {
    const all = await samples();
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...Object.keys(all)),
        fc.array(fc.tuple(fc.nat(20_000), fc.constantFrom(0, 1, 0x7f, 0x80, 0xff)), { maxLength: 6 }),
        fc.option(fc.nat(20_000)),
        async (kind, changes, cut) => {
          const bytes = all[kind].slice(0, cut ?? undefined);
          for (const [at, value] of changes) if (at < bytes.length) bytes[at % Math.max(1, bytes.length)] = value;
          const source = watched(kind, bytes);
          const report = FileReport.parse(await recognise(source));
          expect(report.size).toBe(bytes.length);
          expect(source.bytesRead).toBeLessThan(64 * 1_048_576);
          const opened = await openPayload(source).catch((e) => {
            expect(e).toBeInstanceOf(FileReadError);
            return null;
          });
          if (opened)
            await takePartition(opened.source, opened.payload, "boot").catch((e) =>
              expect(e).toBeInstanceOf(FileReadError),
            );
        },
      ),
      { numRuns: 500 },
    );
  });

  test("any bytes at all", async () => {
    await fc.assert(
      fc.asyncProperty(fc.uint8Array({ maxLength: 6000 }), async (bytes) => {
        FileReport.parse(await recognise(watched("x", bytes)));
      }),
      { numRuns: 150 },
    );
  });

  test("sizes and counts from headers are never trusted", async () => {
    // A sparse header that promises four billion chunks; a vbmeta with blocks of petabytes; a payload with a huge manifest.
    const sparse = writeSparse(new Uint8Array(4096), 4096);
    new DataView(sparse.buffer).setUint32(20, 0xffffffff, true);
    const vbmeta = writeVbmeta({});
    new DataView(vbmeta.buffer).setBigUint64(20, 2n ** 50n, false);
    const payload = makePayload([]);
    new DataView(payload.buffer).setBigUint64(12, 2n ** 40n, false);
    for (const bytes of [sparse, vbmeta, payload]) {
      const source = watched("x", bytes);
      expect((await recognise(source)).whole.is).toBe("no");
      expect(source.bytesRead).toBeLessThan(200_000);
    }
  });

  test("a package that unpacks to far more than it says is stopped", async () => {
    const bomb = zipSync({ "AndroidManifest.xml": new Uint8Array(40_000_000) }, { level: 1 });
    expect((await recognise(bytesSource("bomb.apk", bomb))).whole.is).toBe("unknown");
    // The same with a directory that lies about the size.
    const view = new DataView(bomb.buffer, bomb.byteOffset, bomb.byteLength);
    for (let at = 0; at + 4 < bomb.length; at++)
      if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, 1000, true);
    expect((await recognise(bytesSource("bomb.apk", bomb))).content.kind).toBe("unknown");
  });
});
