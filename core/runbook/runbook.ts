import { describeRelease, releaseOf } from "~/core/android/releases";
import type { Image } from "~/core/catalogue/image";
import { type Model, modelTitle } from "~/core/catalogue/model";
import type { Need } from "~/core/catalogue/need";
import { maskNumber } from "~/core/device/imei";
import type { CurrentFacts } from "~/core/device/lookUp";
import { currentValue } from "~/core/device/lookUp";
import { policyFor } from "~/core/policy/ownSchools";
import type { Policy } from "~/core/policy/policy";
import type { CatalogueIndex } from "~/core/upgrade/catalogueIndex";
import { oddsText } from "~/core/upgrade/odds";
import { initialState, type PlanState, planDeviceOf } from "~/core/upgrade/state";
import { changedFacts, interruptedFacts } from "~/core/upgrade/stateFacts";
import type { Way } from "~/core/upgrade/way";
import type { Bound } from "~/core/ways/operation";
import { operationOf } from "~/core/ways/registry";
import { Bench } from "./bench";
import { start } from "./commonSteps";
import type { IdentityCopy } from "./identityCopy";
import { isFetched } from "./preparation";
import { prepare } from "./prepare";
import type { FileRef, Makes, Runbook } from "./step";
import { sheetCautions, wayBackText } from "./warnings";

export interface RunbookRequest {
  readonly tag: string;
  readonly serial: string | null;
  readonly imei?: string | null;
  readonly model: Model;
  readonly facts: CurrentFacts;
  readonly way: Way;
  readonly index: CatalogueIndex;
  /** The house's; the model's own sides and those of the group count before it. */
  readonly policy: Policy;
  /** The group that receives it. */
  readonly need?: Need | null;
  /** What was kept of the device earlier; none where it does not say. */
  readonly copies?: readonly IdentityCopy[];
}

const refsOf = (image: Image): FileRef[] =>
  image.files.filter(isFetched).map((f) => ({ image: image.id, name: f.name, bytes: f.bytes, sha256: f.sha256 }));

/**
 * Writes the exact sheet for a device and a way: preparation, each operation's steps with what it makes of the device, first
 * start.
 *
 * @throws RangeError when the way names an image that the catalogue does not have
 * @example writeRunbook({ tag: "TH-001", model, facts, way, policy, index, … }).tag // "TH-001"
 */
export function writeRunbook(request: RunbookRequest): Runbook {
  const { facts, way, tag, index } = request;
  const policy = policyFor(request.policy, request.model, request.need ?? null);
  const device = planDeviceOf(request.model, facts);
  const { model } = device;
  const bounds = way.operations.map(({ kind, image }): Bound => {
    const entry = image === null ? null : (index.images.get(image) ?? null);
    const bound = operationOf(kind).bind(entry, { device, index, policy });
    if (!bound) throw new RangeError(`The catalogue has no image “${image}” any more: plan the device again`);
    return bound;
  });
  let state = initialState(device, index);
  const computer = bounds.some(({ operation }) => !operation.withoutComputer);
  const bench = new Bench(model, state.started === "running" ? "android" : "off", request.serial, policy);
  const build = { current: currentValue(facts, "build.number") ?? null };
  const slot = { current: model.slots ? (currentValue(facts, "slot.current") ?? null) : null };
  // An official update comes over the air: only what the bench writes is fetched beforehand.
  const files = bounds.flatMap(({ entry }) =>
    entry && entry.image.kind !== "official-update" ? refsOf(entry.image) : [],
  );
  prepare(bench, {
    computer,
    files,
    serial: request.serial,
    imei: request.imei ?? null,
    build: build.current,
    way,
  });
  const operations = bounds.map((bound, i) => {
    const before: PlanState = state;
    bench.beginOperation(i);
    const recovery = before.recovery === "stock" ? null : (index.images.get(before.recovery)?.image ?? null);
    const slotBefore = slot.current;
    bound.steps({
      bench,
      state: before,
      recovery,
      running: before.image === null ? null : (index.images.get(before.image)?.image ?? null),
      slot,
      build,
      release: before.assumed.includes("android.release") ? null : releaseOf(before.api),
      copies: request.copies ?? [],
    });
    state = bound.apply(before);
    const { operation, entry } = bound;
    const flavour = entry?.image.generic.patching ?? null;
    const ifNotStarting: Makes = flavour === null ? {} : { "gsi.failed": flavour };
    return {
      kind: operation.kind,
      image: entry?.image.id ?? null,
      says: operation.says,
      makes: {
        ...changedFacts(before, state, index),
        // An update goes to the other slot: which one is current then is read again.
        ...(slotBefore !== null && slot.current === null ? { "slot.current": null } : {}),
      },
      interrupted: interruptedFacts(before, state, operation.keepsBase === true, index),
      ifNotStarting,
    };
  });
  bench.beginOperation(bounds.length);
  const last = bench.steps.at(-1);
  if (
    last?.code.startsWith("android.factory-reset") ||
    last?.code.startsWith("recovery.factory-reset") ||
    !["android", "android-without-debugging"].includes(bench.mode)
  )
    start(bench);
  const named = index.images.get(way.image ?? "")?.image.port;
  bench.hands("check.release", {
    title: `Look: Settings shows Android ${way.release}`,
    says: `Look on the set-up's first page, or skip through the set-up without an account and without Wi-Fi. It must say Android ${way.release}.${named ? ` It names itself ${named.name} (${named.modelNumber}): that is right for a port; the label keeps ${modelTitle(model)}.` : ""} Then hand the device to Checkout.`,
    normal: `Android ${way.release}${way.patch ? `, security patch ${way.patch}` : ""}`,
    otherwise: "Another version: choose “something is wrong” and write down what it says",
    usual: 120,
    latest: 600,
    makes: { "system.starts": "yes" },
  });

  const release = currentValue(facts, "android.release");
  const back = way.back === null ? undefined : index.images.get(way.back.image)?.image;
  return {
    format: "upshift-lane-runbook",
    version: 1,
    tag,
    model: model.id,
    modelTitle: modelTitle(model),
    serialEnd: request.serial ? maskNumber(request.serial) : null,
    way: way.id,
    from: release ? `Android ${release}` : "an Android version that is not known",
    to: describeRelease(way.api),
    promisedRelease: way.release,
    promisedApi: way.api,
    files,
    cautions: sheetCautions(way, model),
    odds: `${Math.round(way.success * 100)} % at the first try; ${oddsText(way)}`,
    wayBack: wayBackText(way, policy),
    backFiles: back ? refsOf(back) : [],
    operations,
    steps: bench.steps,
  };
}
