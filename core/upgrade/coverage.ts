import type { Model } from "~/core/catalogue/model";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import type { CatalogueIndex, IndexedImage } from "./catalogueIndex";
import { faultsOn } from "./needFit";
import type { Outcome, ReasonCode } from "./outcome";
import * as rules from "./rules";
import { after, initialState } from "./state";

/** How a model and an image stand to each other, as far as their records tell. */
export type CoverageState = "good" | "faults" | "stopped" | "withdrawn";

export interface CoverageCell {
  readonly model: string;
  readonly image: string;
  readonly state: CoverageState;
  readonly code: ReasonCode | null;
  readonly says: string;
}

/** What has to hold for a kind of image on any device of a model; rules about a device's moment are left out. */
const STATIC: Record<IndexedImage["image"]["kind"], readonly rules.Rule[]> = {
  "official-update": [],
  stock: [rules.unlockPossible, rules.throughFastboot],
  "firmware-pack": [rules.unlockPossible, rules.throughFastboot],
  recovery: [rules.unlockPossible, rules.throughFastboot, rules.recoveryFits],
  rom: [rules.unlockPossible, rules.throughFastboot],
  gsi: [
    rules.unlockPossible,
    rules.vendorInterface,
    rules.binderFits,
    rules.layoutFits,
    rules.throughFastboot,
    rules.imageFits,
  ],
  services: [],
  verification: [rules.unlockPossible, rules.throughFastboot],
};

const firmwareKills: rules.Rule = (ctx) => {
  const outcome = rules.bringsSafeFirmware(ctx);
  // Whether it would go back depends on the device; that it kills boards does not.
  return outcome.is === "fails" && outcome.code !== "firmware.dangerous" ? { is: "holds" } : outcome;
};

/**
 * One cell of the coverage matrix.
 *
 * @returns null where the image is made for other boards: most of the matrix is empty
 */
export function coverageOf(model: Model, entry: IndexedImage, index: CatalogueIndex): CoverageCell | null {
  const { image } = entry;
  const device = { model, facts: new Map() };
  const fresh = initialState(device, index);
  const removable = model.room.product !== null && model.logical && model.userspaceFastboot;
  const state = after(fresh, { product: removable ? "removed" : "present" });
  const ctx = { device, state, entry, index, policy: DEFAULT_POLICY };
  const suits = rules.suitsModel(ctx);
  if (suits.is === "fails" && suits.code === "image.other-model") return null;
  const cell = (state: CoverageState, code: ReasonCode | null, says: string): CoverageCell => ({
    model: model.id,
    image: image.id,
    state,
    code,
    says,
  });
  const withdrawn = rules.notWithdrawn(ctx);
  if (withdrawn.is === "fails") return cell("withdrawn", withdrawn.code, withdrawn.says);
  const stop = [() => suits, ...[...STATIC[image.kind], firmwareKills].map((rule) => () => rule(ctx))]
    .map((judge) => judge())
    .find((o): o is Extract<Outcome, { is: "fails" }> => o.is === "fails");
  if (stop) return cell("stopped", stop.code, stop.says);
  const missing = companionMissing(entry, ctx);
  if (missing) return cell("stopped", missing.code, missing.says);
  const faults = faultsOn(image, model);
  if (faults.length) return cell("faults", null, faults.map((f) => f.says).join("; "));
  return cell(
    "good",
    null,
    image.models.length ? "Made for this board, nothing known against it" : "Generic, fits this board",
  );
}

/** A ROM without a recovery that installs it, a generic image without a verification file: the reason, else null. */
function companionMissing(entry: IndexedImage, ctx: rules.RuleContext): Extract<Outcome, { is: "fails" }> | null {
  const own = ctx.index.imagesFor(ctx.device.model).filter((e) => !e.image.withdrawn);
  if (entry.image.kind === "gsi")
    return own.some((e) => e.image.kind === "verification")
      ? null
      : { is: "fails", code: "verification.missing", says: "The catalogue has no verification file for this board" };
  if (entry.image.kind !== "rom") return null;
  let first: Extract<Outcome, { is: "fails" }> | null = null;
  for (const { image } of own.filter((e) => e.image.kind === "recovery")) {
    const outcome = rules.recoveryInstalls({ ...ctx, state: after(ctx.state, { recovery: image.id }) });
    if (outcome.is !== "fails") return null;
    // Of several reasons the one of a recovery of the right kind says most.
    if (!first || first.code === "recovery.missing") first = outcome;
  }
  return first ?? { is: "fails", code: "recovery.missing", says: "The catalogue has no recovery for this board" };
}

/** All cells that are not empty, model by model. */
export function coverage(index: CatalogueIndex): CoverageCell[] {
  return [...index.models.values()].flatMap((model) =>
    index.imagesFor(model).flatMap((entry) => coverageOf(model, entry, index) ?? []),
  );
}
