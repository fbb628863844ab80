import type { Model } from "~/core/catalogue/model";
import { DEFAULT_POLICY, type Policy } from "~/core/policy/policy";
import type { Operation, World } from "~/core/ways/operation";
import { recoveryInstalls } from "~/core/ways/recovery-packages/rules";
import { operationOf, PROVIDERS, takersOf } from "~/core/ways/registry";
import type { CatalogueIndex, IndexedImage } from "./catalogueIndex";
import { faultsOn } from "./needFit";
import { type Fails, fails, type ReasonCode } from "./outcome";
import { after, initialState, type PlanState, planDeviceOf } from "./state";
import { ELSEWHERE } from "./stops";

/** How a model and an image stand to each other, as far as their records tell. */
export type CoverageState = "good" | "faults" | "stopped" | "withdrawn";

export interface CoverageCell {
  readonly model: string;
  readonly image: string;
  readonly state: CoverageState;
  readonly code: ReasonCode | null;
  readonly says: string;
}

/**
 * The first reason that stops an image on every device of a model: a lasting precondition of an operation that takes it, or
 * one of whatever would have to open the device for it first.
 */
function lastingStop(entry: IndexedImage, world: World, state: PlanState): Fails | null {
  const stops = takersOf(entry.image.kind).map((operation) => stopAt(operation, entry, world, state));
  if (stops.includes(null)) return null;
  return stops.find((s) => s && !ELSEWHERE.has(s.code)) ?? stops[0] ?? null;
}

function stopAt(operation: Operation, entry: IndexedImage, world: World, state: PlanState): Fails | null {
  const bound = operation.bind(entry, world);
  if (!bound) return null;
  const stop = bound.failure("lasting", state);
  if (stop) return stop;
  const failing: Fails[] = [];
  bound.ask("passing", state, (outcome) => {
    if (outcome.is === "fails") failing.push(outcome);
    return true;
  });
  for (const { code } of failing) {
    // What takes an image is judged by its own cell.
    const openers = (PROVIDERS.get(code) ?? []).flatMap((kind) => operationOf(kind).bind(null, world) ?? []);
    const behind = openers.map((opener) => opener.failure("lasting", state));
    // Of several the one that goes through this model's interface says why.
    if (behind.length && !behind.includes(null)) return behind.find((b) => b && !ELSEWHERE.has(b.code)) ?? behind[0];
  }
  return null;
}

/**
 * One cell of the coverage matrix.
 *
 * @returns null where the image is made for other boards: most of the matrix is empty
 */
export function coverageOf(
  model: Model,
  entry: IndexedImage,
  index: CatalogueIndex,
  policy: Policy = DEFAULT_POLICY,
): CoverageCell | null {
  const { image } = entry;
  const device = planDeviceOf(model, new Map());
  const state = initialState(device, index);
  const world: World = { device, index, policy };
  const cell = (state: CoverageState, code: ReasonCode | null, says: string): CoverageCell => ({
    model: model.id,
    image: image.id,
    state,
    code,
    says,
  });
  const stop = lastingStop(entry, world, state) ?? companionMissing(entry, world, state);
  if (stop?.code === "image.other-model") return null;
  if (stop) return cell(stop.code === "image.withdrawn" ? "withdrawn" : "stopped", stop.code, stop.says);
  const faults = faultsOn(image, model);
  if (faults.length) return cell("faults", null, faults.map((f) => f.says).join("; "));
  return cell(
    "good",
    null,
    image.models.length ? "Made for this board, nothing known against it" : "Generic, fits this board",
  );
}

/** A ROM without a recovery that installs it, a generic image without a verification file: the reason, else null. */
function companionMissing(entry: IndexedImage, world: World, state: PlanState): Fails | null {
  const own = world.index.imagesFor(world.device.model).filter((e) => !e.image.withdrawn);
  if (entry.image.kind === "gsi")
    return own.some((e) => e.image.kind === "verification" || e.image.files.some((f) => f.slot === "data"))
      ? null
      : fails("verification.missing", "The catalogue has no verification file for this board");
  if (entry.image.kind !== "rom") return null;
  let first: Fails | null = null;
  for (const { image } of own.filter((e) => e.image.kind === "recovery")) {
    const outcome = recoveryInstalls({ ...world, entry, state: after(state, { recovery: image.id }) });
    if (outcome.is !== "fails") return null;
    // Of several reasons the one of a recovery of the right kind says most.
    if (!first || first.code === "recovery.missing") first = outcome;
  }
  return first ?? fails("recovery.missing", "The catalogue has no recovery for this board");
}

/**
 * All cells that are not empty, model by model.
 *
 * @example coverage(indexCatalogue({ models: [], … })) // []
 */
export function coverage(index: CatalogueIndex, policy: Policy = DEFAULT_POLICY): CoverageCell[] {
  return [...index.models.values()].flatMap((model) =>
    index.imagesFor(model).flatMap((entry) => coverageOf(model, entry, index, policy) ?? []),
  );
}
