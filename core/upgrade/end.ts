import { releaseOf } from "~/core/android/releases";
import type { Hardware } from "~/core/catalogue/common";
import { OPEN_FACTS } from "~/core/catalogue/model";
import type { Need } from "~/core/catalogue/need";
import { floorOf } from "~/core/catalogue/need";
import { brokenHardware } from "~/core/device/brokenHardware";
import { FACTS, type FactKey, factText } from "~/core/device/fact";
import { currentValue } from "~/core/device/lookUp";
import { firmwareAnswer } from "~/core/ways/common/rules";
import { STOCK_FACTS } from "~/core/ways/official-update/rules";
import type { ReasonCode } from "~/core/ways/reasons";
import { faultsOn, fitNeed } from "./needFit";
import type { OpenFact } from "./questions";
import type { Ranked } from "./ranking";
import { boundOf, type Path, type Searched, type SearchWorld } from "./search";
import type { PlanState } from "./state";
import type { Question, Way } from "./way";

/** The question behind an open fact, in words. A contradiction asks to read again. */
export function questionOn(
  { fact, code }: OpenFact,
  { device: { facts, model } }: Pick<SearchWorld, "device">,
): Question {
  const standing = facts.get(fact);
  if (standing?.contradictedBy)
    return {
      fact,
      code: "fact.contradicted",
      says: `Read again: ${FACTS[fact].says} was read as ${factText(standing.value)}, later said to be ${factText(standing.contradictedBy.value)}`,
    };
  if (code === "firmware.not-in-order")
    return {
      fact,
      code,
      says: `Put firmware ${standing?.value ?? "versions"} into its place in the record of ${model.id}: its order of versions does not hold all that are compared`,
    };
  return { fact, code, says: FACTS[fact].ask };
}

/** True when a path ends with a device that can be handed over: a system that starts, nobody's data, locked where it should be. */
export function isFinished(
  path: Path,
  { device, policy }: SearchWorld,
  need: Need,
  hasServices: (release: string, image: string) => boolean,
): boolean {
  const { state } = path;
  if (state.storage !== "clean" || state.started === "broken" || state.system === "none") return false;
  // Unlocking only to avoid the reset from Settings is no way to end.
  if (path.onlyOpened) return false;
  if (firmwareAnswer(device.model, state.firmware).is === "fails") return false;
  if (state.system === "stock") {
    if (state.started === "fresh" || state.recovery !== "stock" || state.verification !== "on") return false;
    if (state.product !== "present") return false;
    // What was written whole is locked again, where the house wants it; what came unlocked can't be told to be whole.
    return !state.whole || state.locked || !(policy.relock === "when-stock" && device.model.relock);
  }
  if (state.system === "generic" && state.verification !== "off") return false;
  if (path.untouched) return state.started === "running";
  if (state.started !== "fresh") return false;
  if (state.system === "generic") return true;
  const wantsServices = need.apps.some((app) => app.services);
  return !wantsServices || state.services !== null || !hasServices(releaseOf(state.api) ?? "", state.image ?? "");
}

/** What a finished path comes to: everything two ways are compared by. */
export interface End extends Ranked {
  readonly path: Path;
  /** Hardware that works in the end. */
  readonly working: readonly Hardware[];
}

interface Fit extends Pick<Way, "fit" | "faults"> {
  readonly working: readonly Hardware[];
}

const asksForHardware = (need: Need) => need.hardware.length > 0 || need.apps.some((app) => app.hardware.length > 0);

/** Works out the ends of a search for one need; what ends alike is fitted once. */
export class Ends {
  private readonly fits = new Map<string, Fit>();
  private readonly floor: number;
  private readonly broken: readonly Hardware[];
  private readonly asksFor: { readonly integrity: boolean; readonly services: boolean };

  constructor(
    private readonly world: SearchWorld,
    private readonly searched: Searched,
    private readonly need: Need,
  ) {
    this.floor = floorOf(need).api;
    this.asksFor = {
      integrity: need.apps.some((app) => app.integrity),
      services: need.apps.some((app) => app.services),
    };
    this.broken = brokenHardware(currentValue(world.device.facts, "hardware.broken") ?? "");
  }

  of(path: Path): End {
    const { state } = path;
    const { fit, faults, working } = this.fitOf(path);
    return {
      path,
      working,
      fit,
      faults,
      enough: path.untouched && fit.works && state.api >= this.floor + this.world.policy.enoughMargin,
      cleaned: state.cleaned,
      api: state.api,
      patch: state.patch,
      handsOnMinutes: round(path.handsOn),
      unattendedMinutes: round(path.unattended),
      waitingDays: path.waitingDays,
      bytes: path.bytes,
      success: Math.round(Math.exp(-path.failure) * 1000) / 1000,
      wipes: path.wipes,
      irreversible: path.irreversible === 0 ? [] : boundOf(path).flatMap((b) => b.cost.irreversible ?? []),
      questions: this.questionsOf(path),
    };
  }

  private fitOf({ state }: Path): Fit {
    const key = `${state.image}|${state.system}|${state.api}|${state.locked}|${state.services === null}`;
    const kept = this.fits.get(key);
    if (kept) return kept;
    const { device, index } = this.world;
    const { model } = device;
    const image = state.image === null ? null : (index.images.get(state.image)?.image ?? null);
    const faults = faultsOn(image, model);
    const broken = new Set<string>([...faults.map((f) => f.hardware), ...this.broken]);
    const working = model.hardware.filter((h) => !broken.has(h));
    const stock = state.system === "stock";
    // A stock build says whether it brings the services; one that nobody recorded is taken for an ordinary one.
    const built = image ? image.services : stock;
    const fit = fitNeed(
      {
        api: state.api,
        services: built || state.services !== null,
        // A fuse that a foreign system blew stays blown: what asks for the verdict refuses for good.
        integrity: stock
          ? state.locked && currentValue(device.facts, "fuse.blown") !== true
          : (image?.integrity ?? false) && !image?.rooted,
        cpu: image?.cpu ?? model.cpu,
        working,
        faults,
        broken: this.broken,
      },
      model,
      this.need,
    );
    const judged = { fit, faults, working };
    this.fits.set(key, judged);
    return judged;
  }

  /** What the operations left open, and what the end itself rests on though no operation asked for it. */
  private questionsOf(path: Path): readonly Question[] {
    const { state } = path;
    const open = this.searched.questionsOf(path);
    const { model } = this.world.device;
    // Nothing is taken for missing, or for there, that nobody looked at.
    if (model.open.includes("hardware") && asksForHardware(this.need))
      open.push({ fact: OPEN_FACTS.hardware, code: "model.open" });
    if (state.assumed.length > 0 || model.firmware.dangerous.length > 0) {
      rests(open, state, "android.release", "release.unknown");
      rests(open, state, "system.kind", "system.unknown");
      if (state.system === "stock") {
        const parts = STOCK_FACTS.filter((key) => state.assumed.includes(key));
        // A locked bootloader answers all of them at once.
        if (this.asksFor.integrity || parts.length) rests(open, state, "bootloader.locked", "bootloader.unknown");
        if (!state.assumed.includes("bootloader.locked")) for (const key of parts) rests(open, state, key, "fact.open");
      }
      if (state.system === "custom" && this.asksFor.services) rests(open, state, "services.addon", "fact.open");
      const firmware = firmwareAnswer(this.world.device.model, state.firmware);
      if (firmware.is === "unknown" && !open.some((q) => q.fact === firmware.fact)) open.push(firmware);
    }
    return open.map((q) => questionOn(q, this.world));
  }
}

const round = (minutes: number) => Math.round(minutes * 10) / 10;

/** The end rests on a fact that was only assumed: it is asked, once. */
function rests(open: OpenFact[], { assumed }: PlanState, fact: FactKey, code: ReasonCode): void {
  if (assumed.includes(fact) && !open.some((q) => q.fact === fact)) open.push({ fact, code });
}
