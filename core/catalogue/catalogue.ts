import { z } from "zod";
import { Provenance, Slug } from "./common";
import { Image } from "./image";
import { Model } from "./model";
import { Need } from "./need";

/** Two images known not to work together. */
export const Incompatible = z.strictObject({
  a: Slug,
  b: Slug,
  says: z.string().min(3).max(200),
  ...Provenance,
});
export type Incompatible = z.infer<typeof Incompatible>;

/** The whole catalogue: in it, every name points at something. */
export interface Catalogue {
  readonly models: readonly Model[];
  readonly images: readonly Image[];
  readonly needs: readonly Need[];
  readonly incompatible: readonly Incompatible[];
}

/** What every pack begins with. */
export const PACK_HEAD = { format: "upshift-lane-catalogue", version: 1 } as const;

/**
 * A part of a catalogue, or the whole of it, as one document: the format of export and import. Its names may point at
 * entries that it does not hold. The JSON Schema made of it is published (docs/catalogue.schema.json).
 */
export const Pack = z.strictObject({
  $schema: z.string().optional(),
  format: z.literal(PACK_HEAD.format),
  version: z.literal(PACK_HEAD.version),
  /** What the pack goes by; another one of the same title is a later state of the same pack. */
  title: z.string().trim().min(1).max(80).default("Catalogue"),
  models: z.array(Model).default([]),
  images: z.array(Image).default([]),
  needs: z.array(Need).default([]),
  incompatible: z.array(Incompatible).default([]),
});
export type Pack = z.infer<typeof Pack>;

export interface CatalogueProblem {
  /** Where in the document, like `images[3].models[0]`. */
  readonly at: string;
  readonly says: string;
}

const pathText = (path: readonly PropertyKey[]) =>
  path.map((p, i) => (typeof p === "number" ? `[${p}]` : `${i ? "." : ""}${String(p)}`)).join("");

/** What is wrong with a document that was to be read. */
export interface Unreadable {
  readonly ok: false;
  readonly problems: readonly CatalogueProblem[];
}

/**
 * Reads a pack.
 *
 * @param text JSON text, as written by the export
 * @returns the pack, or every problem with its place; never throws
 */
export function readPack(text: string): { readonly ok: true; readonly pack: Pack } | Unreadable {
  let json: unknown;
  try {
    json = JSON.parse(text.replace(/^\uFEFF/, ""));
  } catch (error) {
    const says = `This is not JSON (${(error as Error).message}). Choose a file made by the catalogue export`;
    return { ok: false, problems: [{ at: "document", says }] };
  }
  const parsed = Pack.safeParse(json);
  if (!parsed.success)
    return {
      ok: false,
      problems: parsed.error.issues.slice(0, 50).map((i) => ({
        at: pathText(i.path) || "document",
        says: i.message.endsWith("received undefined") ? "This is missing" : i.message,
      })),
    };
  const problems = doubledIds(parsed.data);
  return problems.length ? { ok: false, problems } : { ok: true, pack: parsed.data };
}

/** Entries that stand twice in a pack: nobody can say which of the two is meant. */
function doubledIds(pack: Pack): CatalogueProblem[] {
  const problems: CatalogueProblem[] = [];
  for (const kind of ["models", "images", "needs", "incompatible"] as const) {
    const seen = new Set<string>();
    pack[kind].forEach((entry, i) => {
      const id = entryId(entry);
      if (seen.has(id)) problems.push({ at: `${kind}[${i}]`, says: `“${id}” stands twice; every id is used once` });
      seen.add(id);
    });
  }
  return problems;
}

/** What a pair goes by, whichever of the two stands first. */
export const pairId = ({ a, b }: Pick<Incompatible, "a" | "b">): string => [a, b].sort().join(" ");

/** What an entry of any kind goes by. */
export const entryId = (entry: Model | Image | Need | Incompatible): string =>
  "a" in entry ? pairId(entry) : entry.id;

/** Names that point nowhere, and firmware that is not on the model's list. */
export function checkReferences(catalogue: Catalogue): CatalogueProblem[] {
  const problems: CatalogueProblem[] = [];
  const models = new Map(catalogue.models.map((m) => [m.id, m]));
  const images = new Map(catalogue.images.map((i) => [i.id, i]));
  catalogue.models.forEach((model, i) => {
    model.firmware.dangerous.forEach((range, j) => {
      for (const key of ["from", "to", "safe"] as const)
        if (!model.firmware.order.includes(range[key]))
          problems.push({
            at: `models[${i}].firmware.dangerous[${j}].${key}`,
            says: `“${range[key]}” is not in this model's firmware order`,
          });
    });
  });
  catalogue.images.forEach((image, i) => {
    image.models.forEach((id, j) => {
      if (!models.has(id))
        problems.push({
          at: `images[${i}].models[${j}]`,
          says: `There is no model “${id}”. Add the model or take the name out`,
        });
    });
    image.faults.forEach((fault, j) => {
      for (const id of fault.models)
        if (!models.has(id))
          problems.push({ at: `images[${i}].faults[${j}].models`, says: `There is no model “${id}”` });
    });
    const next = image.withdrawn?.successor;
    if (next && !images.has(next))
      problems.push({ at: `images[${i}].withdrawn.successor`, says: `There is no image “${next}”` });
  });
  catalogue.incompatible.forEach((pair, i) => {
    for (const key of ["a", "b"] as const)
      if (!images.has(pair[key]))
        problems.push({ at: `incompatible[${i}].${key}`, says: `There is no image “${pair[key]}”` });
  });
  return problems;
}
