import { z } from "zod";
import { change, type Hand, query, type Store } from "./database";

/** One file that was looked at. */
export const FileSeen = z.object({
  name: z.string().min(1).max(400),
  size: z.number().int().min(0).max(Number.MAX_SAFE_INTEGER),
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  md5: z
    .string()
    .regex(/^[0-9a-f]{32}$/)
    .nullable(),
  /** The catalogue's image and file it was found to be. */
  image: z.string().max(64).nullable(),
  file: z.string().max(120).nullable(),
  verdict: z.enum(["yes", "no", "unknown"]),
  says: z.string().max(600),
});
export type FileSeen = z.infer<typeof FileSeen>;

const add = change<FileSeen & Hand>(`
  INSERT INTO file_seen (name, size, sha256, md5, image, file, verdict, says, at, by)
  VALUES (@name, @size, @sha256, @md5, @image, @file, @verdict, @says, @at, @by)
`);

/** Writes down that a file was looked at. */
export function appendFileSeen(store: Store, seen: FileSeen, hand: Hand) {
  add(store, { ...FileSeen.parse(seen), ...hand });
}

const last = query<{ limit: number }, FileSeen & Hand>(`
  SELECT name, size, sha256, md5, image, file, verdict, says, at, by
  FROM   file_seen
  ORDER  BY id DESC
  LIMIT  @limit
`);

/** The files looked at last, newest first. */
export const lastFilesSeen = (store: Store, limit: number) => last(store, { limit });

const newest = query<
  object,
  { image: string; file: string; sha256: string; verdict: FileSeen["verdict"]; at: string }
>(`
  SELECT image, file, sha256, verdict, at
  FROM   file_seen
  WHERE  id IN (SELECT max(id) FROM file_seen WHERE image IS NOT NULL AND file IS NOT NULL GROUP BY image, file)
`);

/** What was last seen of each catalogue file, by `<image>/<file>`. */
export const newestSeen = (store: Store) =>
  new Map(newest(store, {}).map(({ image, file, ...seen }) => [`${image}/${file}`, seen]));
