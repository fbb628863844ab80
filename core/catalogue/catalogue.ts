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

/** The whole catalogue as one document: the format of export and import. */
export const Catalogue = z.strictObject({
  format: z.literal("upshift-lane-catalogue"),
  version: z.literal(1),
  models: z.array(Model),
  images: z.array(Image),
  needs: z.array(Need),
  incompatible: z.array(Incompatible),
});
export type Catalogue = z.infer<typeof Catalogue>;

export interface CatalogueProblem {
  /** Where in the document, like `images[3].models[0]`. */
  readonly at: string;
  readonly says: string;
}

const pathText = (path: readonly PropertyKey[]) =>
  path.map((p, i) => (typeof p === "number" ? `[${p}]` : `${i ? "." : ""}${String(p)}`)).join("");

/**
 * Reads a catalogue document.
 *
 * @param text JSON text, as written by the export
 * @returns the catalogue, or every problem with its place; never throws
 */
export function readCatalogue(
  text: string,
):
  | { readonly ok: true; readonly catalogue: Catalogue }
  | { readonly ok: false; readonly problems: readonly CatalogueProblem[] } {
  let json: unknown;
  try {
    json = JSON.parse(text.replace(/^\uFEFF/, ""));
  } catch (error) {
    return {
      ok: false,
      problems: [
        {
          at: "document",
          says: `This is not JSON (${(error as Error).message}). Choose a file made by the catalogue export`,
        },
      ],
    };
  }
  const parsed = Catalogue.safeParse(json);
  if (!parsed.success) {
    return {
      ok: false,
      problems: parsed.error.issues.slice(0, 50).map((i) => ({ at: pathText(i.path) || "document", says: i.message })),
    };
  }
  const problems = checkReferences(parsed.data);
  return problems.length ? { ok: false, problems } : { ok: true, catalogue: parsed.data };
}

/** Names that point nowhere, doubled ids, firmware not on the model's list. */
export function checkReferences(catalogue: Catalogue): CatalogueProblem[] {
  const problems: CatalogueProblem[] = [];
  const models = new Map(catalogue.models.map((m) => [m.id, m]));
  const images = new Map(catalogue.images.map((i) => [i.id, i]));
  const seen = new Set<string>();
  const doubled = (kind: string, id: string, at: string) => {
    if (seen.has(`${kind}:${id}`)) problems.push({ at, says: `“${id}” stands twice; every id is used once` });
    seen.add(`${kind}:${id}`);
  };
  catalogue.models.forEach((model, i) => {
    doubled("model", model.id, `models[${i}].id`);
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
    doubled("image", image.id, `images[${i}].id`);
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
  catalogue.needs.forEach((need, i) => {
    doubled("need", need.id, `needs[${i}].id`);
  });
  catalogue.incompatible.forEach((pair, i) => {
    for (const key of ["a", "b"] as const)
      if (!images.has(pair[key]))
        problems.push({ at: `incompatible[${i}].${key}`, says: `There is no image “${pair[key]}”` });
  });
  return problems;
}
