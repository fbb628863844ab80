import type { Image } from "~/core/catalogue/image";
import type { Model } from "~/core/catalogue/model";
import type { FactKey, FactValue } from "~/core/device/fact";
import { DEFAULT_POLICY, type Policy } from "~/core/policy/policy";
import { type IndexedImage, indexCatalogue } from "~/core/upgrade/catalogueIndex";
import type { ImageSituation, Rule } from "~/core/upgrade/rule";
import { after, initialState, type PlanState, planDeviceOf } from "~/core/upgrade/state";
import { makeCatalogue, makeFacts, makeImage, makeModel } from "./catalogueEntries";

/** A world in which a rule is asked: everything has a usual value that a case may change. */
export interface RuleCase {
  readonly model?: Partial<Record<Exclude<keyof Model, "id">, unknown>>;
  readonly facts?: Partial<Record<FactKey, FactValue | null>>;
  readonly image?: Partial<Record<Exclude<keyof Image, "id" | "kind">, unknown>>;
  readonly kind?: string;
  readonly api?: number;
  readonly others?: readonly Image[];
  readonly state?: Partial<PlanState>;
  readonly policy?: Partial<Policy>;
  readonly pairs?: readonly [string, string][];
}

const USUAL: Partial<Record<FactKey, FactValue>> = {
  "model.number": "N-m",
  "android.release": "10",
  "build.number": "B1",
  "firmware.version": "F2",
  "system.kind": "stock",
  "bootloader.locked": false,
  "recovery.image": "stock",
  "verification.off": false,
};

/** @returns "holds", the code of the reason, or "? " and the fact that is open */
export function askRule(rule: Rule<ImageSituation>, c: RuleCase = {}): string {
  const model = makeModel({ id: "m", ...c.model });
  const image = makeImage(
    { id: "i", kind: c.kind ?? "rom", models: ["m"], installs: "packages", build: "B9", ...c.image },
    c.api ?? 33,
  );
  const pairs = (c.pairs ?? []).map(([a, b]) => ({ a, b, says: "they fight", source: "test", on: "2026-01-01" }));
  const index = indexCatalogue(
    makeCatalogue({ models: [model], images: [image, ...(c.others ?? [])], incompatible: pairs }),
  );
  const values = Object.fromEntries(Object.entries({ ...USUAL, ...c.facts }).filter(([, v]) => v !== null)) as Partial<
    Record<FactKey, FactValue>
  >;
  const device = planDeviceOf(model, makeFacts(values));
  const state = after(initialState(device, index), c.state ?? {});
  const outcome = rule({
    device,
    state,
    entry: index.images.get("i") as IndexedImage,
    index,
    policy: { ...DEFAULT_POLICY, ...c.policy },
  });
  return outcome.is === "holds" ? "holds" : outcome.is === "fails" ? outcome.code : `? ${outcome.fact}`;
}

type Told = Partial<Record<Exclude<keyof Image, "id" | "kind">, unknown>>;

/** A custom recovery for model “m”, as another image of the catalogue. */
export const recovery = (over: Told = {}, api = 33): Image =>
  makeImage({ id: "r", kind: "recovery", models: ["m"], flavour: "custom", version: "3.7", ...over }, api);

/** A ROM of packages for model “m”, as another image of the catalogue. */
export const rom = (over: Told = {}, api = 33): Image =>
  makeImage({ id: "rom", kind: "rom", models: ["m"], installs: "packages", ...over }, api);
