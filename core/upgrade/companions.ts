import type { Image } from "~/core/catalogue/image";
import type { Model } from "~/core/catalogue/model";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import type { CatalogueIndex, IndexedImage } from "./catalogueIndex";
import type { Outcome, ReasonCode } from "./outcome";
import * as rules from "./rules";
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

/** Kinds of image that are used with each other. */
const TOGETHER: Partial<Record<Image["kind"], readonly Image["kind"][]>> = {
  rom: ["recovery", "services"],
  recovery: ["rom"],
  services: ["rom"],
  verification: ["stock", "official-update"],
  stock: ["verification"],
  "official-update": ["verification"],
};

/**
 * The images that an image is used with on its models: recoveries and add-ons of a ROM, ROMs of a recovery, the verification
 * file of a stock build. The planner's own rules decide; those that do not go together say why.
 */
export function companionsOf(entry: IndexedImage, index: CatalogueIndex): Companion[] {
  const kinds = TOGETHER[entry.image.kind] ?? [];
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
  const ask = (rule: rules.Rule, entry: IndexedImage, change: Parameters<typeof after>[1]) =>
    rule({ device, state: after(initialState(device, index), change), entry, index, policy: DEFAULT_POLICY });
  const [rom, recovery, services, verification] = [of("rom"), of("recovery"), of("services"), of("verification")];
  if (rom && recovery) return ask(rules.recoveryInstalls, rom, { recovery: recovery.image.id });
  if (rom && services) return ask(rules.servicesMatch, services, { image: rom.image.id });
  const stock = of("stock") ?? of("official-update");
  if (!verification || !stock?.image.build) return null;
  const outcome = ask(rules.verificationMatches, verification, { baseBuild: stock.image.build, assumed: [] });
  // A file of another build is not worth naming: there is one for each.
  return outcome.is === "holds" ? outcome : null;
}
