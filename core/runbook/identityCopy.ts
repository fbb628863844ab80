import { z } from "zod";

/** No flash of a phone or a box is larger. */
const MOST_BYTES = 2 ** 41;
/** What every partition has in a dump of the simulated board: it stands for a board's, and is as long as none. */
export const PRACTICE_BYTES = 4096;

/** What was saved of one partition that makes a device itself: where it lies and how it is told from any other file. */
export const IdentityCopy = z
  .object({
    partition: z.string().regex(/^[a-z][a-z0-9_-]{1,30}$/),
    file: z
      .string()
      .regex(/^[A-Za-z0-9][A-Za-z0-9._-]{0,150}$/, "A file's name without folders: letters, digits, dot, _ and -"),
    bytes: z.number().int().min(1, "An empty file saves nothing").max(MOST_BYTES),
    sha256: z.string().regex(/^[0-9a-f]{64}$/, "64 digits and letters a to f, as sha256sum prints them"),
  })
  .readonly();
export type IdentityCopy = z.infer<typeof IdentityCopy>;

/**
 * Reads what a script reports of a saved partition.
 *
 * @param name name of the reported value, like "identity.persist"
 * @param value "<file> <bytes> <sha256>"
 * @returns null where it is something else
 * @example readIdentityValue("identity.persist", "A-1-persist.img 4096 e3b0…") // { partition: "persist", bytes: 4096, … }
 */
export function readIdentityValue(name: string, value: string): IdentityCopy | null {
  if (!name.startsWith("identity.")) return null;
  const [file, bytes, sha256] = value.split(" ");
  return (
    IdentityCopy.safeParse({ partition: name.slice("identity.".length), file, bytes: Number(bytes), sha256 }).data ??
    null
  );
}

/**
 * Partitions of a step that are not among the copies.
 *
 * @example notKept(["persist"], []) // ["persist"]
 */
export const notKept = (partitions: readonly string[], copies: readonly IdentityCopy[]) =>
  partitions.filter((p) => !copies.some((c) => c.partition === p));

/**
 * Copies that are not as long as their partition: cut short, or of another one.
 *
 * @param sizes bytes by partition; one that is not named is not held against anything
 * @returns none where all of them have PRACTICE_BYTES: a dump that broke off is not that even
 * @example notWhole({}, []) // []
 */
export function notWhole(sizes: Readonly<Record<string, number>>, copies: readonly IdentityCopy[]): IdentityCopy[] {
  const sized = copies.filter(({ partition }) => Object.hasOwn(sizes, partition));
  if (sized.every(({ bytes }) => bytes === PRACTICE_BYTES)) return [];
  return sized.filter(({ partition, bytes }) => bytes !== sizes[partition]);
}
