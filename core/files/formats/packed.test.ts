import { gzipSync } from "node:zlib";
import { recognise } from "../recognise";
import { bytesSource } from "../source";

// RFC 1952; Node's zlib makes the members.

const told = (bytes: Uint8Array) => recognise(bytesSource("system.img.gz", bytes));
/** Bytes that look like nothing, the same each time. */
function noise(length: number): Uint8Array {
  const out = new Uint8Array(length);
  for (let i = 0, x = 1; i < length; i++) {
    x = (Math.imul(x, 1_103_515_245) + 12_345) >>> 0;
    out[i] = x >>> 24;
  }
  return out;
}
const both = (...parts: readonly Uint8Array[]) => new Uint8Array(Buffer.concat(parts));

describe("gzip", () => {
  const one = gzipSync(noise(50_000));
  const two = both(one, gzipSync(new Uint8Array(70_000)));

  test("what unpacks to its end with its checksums is whole", async () => {
    expect(await told(one)).toMatchObject({ expanded: 50_000, whole: { is: "yes" } });
    expect(await told(two)).toMatchObject({ expanded: 120_000, whole: { is: "yes" } });
    expect(await told(both(gzipSync(new Uint8Array(0)), one))).toMatchObject({
      expanded: 50_000,
      whole: { is: "yes" },
    });
  });

  test.each([
    ["the checksum of the only member", one, one.length - 8],
    ["the size of the only member", one, one.length - 4],
    ["the checksum of the first of two", two, one.length - 8],
    ["the size of the first of two", two, one.length - 1],
    ["the checksum of the last of two", two, two.length - 7],
  ])("%s is wrong: damaged", async (_what, bytes, at) => {
    const bad = new Uint8Array(bytes);
    bad[at] ^= 1;
    expect((await told(bad)).whole).toMatchObject({ is: "no", says: expect.stringContaining("checksum") });
  });

  test("cut short anywhere behind the first member: never whole", async () => {
    for (const kept of [1, 5, 9, 12, 30, two.length - one.length - 1])
      expect((await told(two.subarray(0, one.length + kept))).whole.is).toBe("no");
    for (const lost of [1, 4, 7, 8, 9]) expect((await told(one.subarray(0, one.length - lost))).whole.is).toBe("no");
  });

  test("a member that begins anywhere about the end of a piece that is read at once", async () => {
    const piece = 4 * 1_048_576;
    const data = noise(piece);
    const stored = (bytes: number) => gzipSync(data.subarray(0, bytes), { level: 0 });
    const over = stored(piece - 1000).length - (piece - 1000);
    for (let off = -12; off <= 12; off += 3) {
      const first = stored(piece + off - over);
      expect(first.length).toBe(piece + off);
      expect(await told(both(first, one))).toMatchObject({
        expanded: piece + off - over + 50_000,
        whole: { is: "yes" },
      });
    }
  });
});
