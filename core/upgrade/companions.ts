import type { Image } from "~/core/catalogue/image";
import type { Model } from "~/core/catalogue/model";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import { TOGETHER } from "~/core/ways/registry";
import type { CatalogueIndex, IndexedImage } from "./catalogueIndex";
import type { Outcome, ReasonCode } from "./outcome";
import { after, initialState } from "./state";

/** Another image that an image is used with, and whether the two go together. */
export interface Companion {
  readonly image: string;
  readonly kind: Image["kind"];
  readonly title: string;
  readonly goes: boolean;
  readonly code: ReasonCode | null;
  readonly says: string;
}

/**
 * The images that an image is used with on its models: recoveries and add-ons of a ROM, ROMs of a recovery, the verification
 * file of a stock build. The planner's own rules decide; those that do not go together say why.
 *
 * @example companionsOf(rom, index).map((c) => c.image.kind) // ["recovery", …]
 */
export function companionsOf(entry: IndexedImage, index: CatalogueIndex): Companion[] {
  const kinds = kindsBeside(entry.image.kind);
  const found = new Map<string, Companion>();
  for (const model of index.models.values()) {
    const near = index.imagesFor(model);
    if (!near.includes(entry)) continue;
    for (const other of near) {
      if (!kinds.includes(other.image.kind) || other.image.withdrawn) continue;
      const outcome = together(entry, other, model, index);
      // One model on which they go together is enough to name them.
      if (outcome && (outcome.is === "holds" || !found.get(other.image.id)?.goes))
        found.set(other.image.id, {
          image: other.image.id,
          kind: other.image.kind,
          title: other.image.title,
          goes: outcome.is === "holds",
          code: outcome.is === "holds" ? null : outcome.code,
          says: outcome.is === "fails" ? outcome.says : "",
        });
    }
  }
  return [...found.values()].sort((a, b) => Number(b.goes) - Number(a.goes) || (a.image < b.image ? -1 : 1));
}

/** Whether two images go together on a model; null where the question makes no sense. */
function together(one: IndexedImage, two: IndexedImage, model: Model, index: CatalogueIndex): Outcome | null {
  const of = (kind: Image["kind"]) => [one, two].find((e) => e.image.kind === kind) ?? null;
  const device = { model, facts: new Map() };
  for (const pair of TOGETHER) {
    const [entry, beside] = [of(pair.about), of(pair.beside)];
    if (!entry || !beside) continue;
    const change = pair.state(beside);
    if (!change) return null;
    const state = after(initialState(device, index), change);
    const outcome = pair.rule({ device, state, entry, index, policy: DEFAULT_POLICY });
    return pair.onlyIfGoes && outcome.is !== "holds" ? null : outcome;
  }
  return null;
}

/** Kinds of image that a kind is used with. */
const kindsBeside = (kind: Image["kind"]) =>
  TOGETHER.flatMap((pair) => (pair.about === kind ? [pair.beside] : pair.beside === kind ? [pair.about] : []));
