import fc from "fast-check";
import { demoCatalogue, md5Hex } from "~/demo/catalogue";
import { isSparse, readSparse, SparseError, writeSparse } from "./sparse";
import { readSlotTar, readStandIn, standInBytes } from "./standIn";

describe("sparse images", () => {
  test("what is written is read again", () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: 1, maxLength: 9000 }),
        fc.integer({ min: 1, max: 4_000_000_000 }),
        (head, size) => {
          const read = readSparse(writeSparse(head, size));
          expect(read.expanded).toBe(Math.max(Math.ceil(head.length / 4096), Math.ceil(size / 4096)) * 4096);
          expect([...read.head.subarray(0, head.length)]).toEqual([...head]);
        },
      ),
      { numRuns: 60 },
    );
  });

  test("any damage is a typed error or still a whole image, never a hang", () => {
    const whole = writeSparse(new Uint8Array(5000).fill(7), 1_000_000);
    fc.assert(
      fc.property(fc.nat(whole.length - 1), fc.nat(255), fc.nat(whole.length), (at, value, cut) => {
        const damaged = whole.slice(0, cut);
        if (at < damaged.length) damaged[at] = value;
        try {
          expect(readSparse(damaged).blocks).toBeGreaterThanOrEqual(0);
        } catch (error) {
          expect(error).toBeInstanceOf(SparseError);
        }
      }),
      { numRuns: 400 },
    );
    expect(isSparse(new Uint8Array(3))).toBe(false);
  });
});

describe("stand-in files", () => {
  const catalogue = demoCatalogue();
  const codename = (id: string) => catalogue.models.find((m) => m.id === id)?.codename;

  test("every file of every demo image tells its image and release", () => {
    for (const image of catalogue.images)
      for (const file of image.files) {
        if (file.slot) {
          const parts = readSlotTar(standInBytes(image, file.name, codename, md5Hex), md5Hex);
          for (const part of parts)
            expect(typeof part === "string" ? part : part.label).toMatchObject({ image: image.id, build: image.build });
          expect(parts).toHaveLength(file.slot === "system" && image.kind === "stock" ? 4 : 1);
          continue;
        }
        const read = readStandIn(standInBytes(image, file.name, codename, md5Hex));
        expect(read?.label).toMatchObject({ image: image.id, release: image.release, build: image.build });
        if (file.expanded && file.partition) expect(read?.size).toBe(Math.ceil(file.expanded / 4096) * 4096);
      }
  });

  test("bytes that are no stand-in are none", () => {
    fc.assert(fc.property(fc.uint8Array({ maxLength: 300 }), (bytes) => expect(readStandIn(bytes)).toBeNull()));
  });
});
