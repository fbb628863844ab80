import { z } from "zod";
import { refusalOf } from "~/app/server/http/refusal";
import { catalogueOf } from "~/app/server/planning/planning";
import { entryVersion, saveEntry } from "~/store/catalogue";
import type { Hand, Store } from "~/store/database";

const Request = z.object({
  image: z.string(),
  file: z.string(),
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  bytes: z.coerce.number().int().positive(),
});

/** Writes a file's size and digest into the image record it belongs to; refused where another digest stands there. */
export function recordDigest(store: Store, form: unknown, hand: Hand): { readonly ok: boolean; readonly says: string } {
  const read = Request.safeParse(form);
  if (!read.success) return { ok: false, says: "This is no digest of a file" };
  const { image: id, file: name, sha256, bytes } = read.data;
  const image = catalogueOf(store).images.find((i) => i.id === id);
  const file = image?.files.find((f) => f.name === name);
  if (!image || !file) return { ok: false, says: `There is no ${name} of ${id} in the catalogue any more` };
  if (file.sha256 && file.sha256 !== sha256)
    return { ok: false, says: "Another digest stands in the record. Change it there, if you are sure" };
  const files = image.files.map((f) => (f === file ? { ...f, bytes, sha256 } : f));
  try {
    saveEntry(store, "image", { ...image, files }, entryVersion(store, "image", id), hand);
  } catch (error) {
    return { ok: false, says: refusalOf(error) };
  }
  return { ok: true, says: `The record of ${image.title} has the digest now; later files are compared with it` };
}
