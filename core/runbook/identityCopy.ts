import { z } from "zod";

/** What was saved of one partition that makes a device itself: where it lies and how it is told from any other file. */
export const IdentityCopy = z
  .object({
    partition: z.string().regex(/^[a-z][a-z0-9_-]{1,30}$/),
    file: z
      .string()
      .regex(/^[A-Za-z0-9][A-Za-z0-9._-]{0,150}$/, "A file's name without folders: letters, digits, dot, _ and -"),
    bytes: z.number().int().min(1, "An empty file saves nothing").max(1_073_741_824),
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

/** Partitions of a step that are not among the copies. */
export const notKept = (partitions: readonly string[], copies: readonly IdentityCopy[]) =>
  partitions.filter((p) => !copies.some((c) => c.partition === p));
