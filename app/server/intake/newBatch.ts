import { z } from "zod";
import type { Store } from "~/store/database";
import { addBatch, findBatch } from "~/store/devices";

/** What a person says of a batch. */
export const NewBatch = z.object({
  title: z.string().trim().min(3, "Give the batch a name of at least three letters").max(80),
  received: z.iso.date("Write the day like 2026-11-16"),
  note: z.string().trim().max(300),
});
export type NewBatch = z.infer<typeof NewBatch>;

/** Makes a batch under a name of its own. @returns its id */
export function newBatch(store: Store, batch: NewBatch): string {
  const slug = batch.title
    .toLowerCase()
    .normalize("NFKD")
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "")
    .slice(0, 40);
  const month = batch.received.slice(0, 7);
  let id = `${month}-${slug || "batch"}`;
  for (let n = 2; findBatch(store, id); n++) id = `${month}-${slug || "batch"}-${n}`;
  addBatch(store, { id, ...batch });
  return id;
}
