import { asClause } from "~/core/catalogue/clause";
import type { Model } from "~/core/catalogue/model";
import type { Need } from "~/core/catalogue/need";
import { CLEARANCE_STATES, type ClearanceState } from "~/core/clearance/states";
import { DANGERS, type DangerKind } from "~/core/device/danger";
import { FACTS } from "~/core/device/fact";
import { type CurrentFacts, currentValue } from "~/core/device/lookUp";
import { policyFor } from "~/core/policy/ownSchools";
import type { Policy } from "~/core/policy/policy";
import { OWN_SCHOOLS } from "~/core/policy/schools";
import { type CatalogueIndex, IDENTITY_FACTS, type IndexedImage } from "./catalogueIndex";
import { Ends, isFinished } from "./end";
import { compareWays, nonDominated } from "./ranking";
import { type Searched, type SearchWorld, search, type Taught } from "./search";
import { PLANNING_FACTS, planDeviceOf } from "./state";
import { isAim, isSystem, type Stop, Stops } from "./stops";
import { endId, type Question, type Way, wayOf } from "./way";

export type Verdict = "can-go" | "check-first" | "waiting" | "not-this-way" | "good-enough";

/** A device as it comes to the planner. */
export interface PlanRequest {
  readonly facts: CurrentFacts;
  readonly clearance: ClearanceState;
  /** Why the device was set aside; nothing is planned for it then. */
  readonly aside?: DangerKind | null;
  readonly need: Need;
}

/** What comes of planning one device for one need. */
export interface Plan {
  readonly model: string | null;
  readonly verdict: Verdict;
  /** Why the verdict is what it is, in one sentence. */
  readonly says: string;
  /** What the ranking proposes; null when no way meets the need. */
  readonly best: Way | null;
  /** All non-dominated ways, best first; those that miss part of the need come last. */
  readonly ways: readonly Way[];
  /** Why each image that no way reaches is not reached. Worked out when it is asked for. */
  readonly stops: readonly Stop[];
  /** Images that some way reaches, but only ways that another is as good as in everything. */
  readonly outdone: readonly string[];
  readonly questions: readonly Question[];
}

/** What own runs say of operations on a model; nothing where there were none. */
export type ExperienceOf = (model: Model) => Taught | undefined;

/**
 * Plans one device for one need.
 *
 * Nothing beyond reading facts is planned while the clearance is open or the model is not known for sure.
 *
 * @example planDevice({ facts, clearance: "confirmed-clear", need: null, … }, index, policy).verdict // "can-go"
 */
export function planDevice(
  request: PlanRequest,
  index: CatalogueIndex,
  policy: Policy,
  experienceOf?: ExperienceOf,
): Plan {
  const gate = planGate(request, index);
  if ("plan" in gate) return gate.plan;
  const own = policyFor(policy, gate.model, request.need);
  return new Reached(gate.model, request.facts, index, own, experienceOf?.(gate.model)).planFor(request.need);
}

/**
 * What comes before any planning, whatever the need: a device that was set aside, one whose model is not known for sure,
 * the account lock.
 *
 * @returns the plan where it ends there, else the model that may be planned
 * @example planGate({ aside: "swollen", … }, index) // { plan: { verdict: "not-this-way", … } }
 */
export function planGate(
  request: Omit<PlanRequest, "need">,
  index: CatalogueIndex,
): { readonly plan: Plan } | { readonly model: Model } {
  if (request.aside) return { plan: planSetAside(request.aside) };
  const identity = index.identify(request.facts);
  const gate = CLEARANCE_STATES[request.clearance];
  const locked = !gate.opensGate && {
    verdict: gate.verdict as Verdict,
    says: `${gate.says}: ${gate.means}`,
  };
  if (identity.kind !== "one") {
    const says =
      identity.kind === "several"
        ? `${identity.candidates.length} boards share this: ${asClause(identity.distinction?.says ?? FACTS[identity.ask].ask)}`
        : identity.kind === "contradiction"
          ? identity.says
          : "The model is not in the catalogue, or not known yet";
    const number = currentValue(request.facts, "model.number");
    // Reading the number again brings nothing where it was read and no record bears it.
    const asks =
      identity.kind === "none" && number !== undefined
        ? `Put model ${number} into the catalogue, or correct the number`
        : FACTS[identity.ask].ask;
    const questions: Question[] = [{ fact: identity.ask, code: "identity.open", says: asks }];
    return { plan: { ...EMPTY, model: null, verdict: "check-first", says, questions } };
  }
  const { model } = identity;
  if (!locked) return { model };
  const questions: Question[] =
    request.clearance === "not-looked-at"
      ? [{ fact: "storage.state", code: "clearance.open", says: "Look whether an account is on it" }]
      : [];
  const stops = index
    .imagesFor(model)
    .filter(isSystem)
    .map(
      (e): Stop => ({ image: e.image.id, code: "clearance.open", says: `${gate.says}. Settle the account lock first` }),
    );
  return { plan: { ...EMPTY, ...locked, model: model.id, stops, questions } };
}

/**
 * The plan of a device that was set aside: none.
 *
 * @example planSetAside("swollen").verdict // "not-this-way"
 */
export function planSetAside(kind: DangerKind): Plan {
  return {
    ...EMPTY,
    model: null,
    verdict: "not-this-way",
    says: `Set aside: ${asClause(DANGERS[kind].says)}. Not charged, not treated; it goes where local rules say`,
  };
}

const EMPTY = { best: null, ways: [], stops: [], outdone: [], questions: [] } as const;

/** What a device can be brought to, whatever its next owner needs: searched once, and asked for one need after the other. */
class Reached {
  private readonly world: SearchWorld;
  private readonly searched: Searched;
  private readonly images: readonly IndexedImage[];
  private readonly hasServices: (release: string, rom: string) => boolean;
  private readonly backs = new Map();

  constructor(
    private readonly model: Model,
    private readonly facts: CurrentFacts,
    index: CatalogueIndex,
    policy: Policy,
    taught: Taught | undefined,
  ) {
    this.world = { device: planDeviceOf(model, facts), index, policy, taught };
    this.searched = search(this.world);
    this.images = index.imagesFor(this.world.device.model);
    this.hasServices = servicesFor(this.images, this.world);
  }

  planFor(need: Need): Plan {
    const { ways, reached } = this.endsFor(need);
    const { index, policy, taught } = this.world;
    const { model, facts } = this;
    const best = ways[0]?.fit.works ? ways[0] : null;
    return withStops(
      {
        model: model.id,
        ...verdictOf(best, ways, index),
        best,
        ways,
        outdone: this.images
          .map((e) => e.image.id)
          .filter((id) => reached.has(id) && !ways.some((w) => w.image === id)),
        questions: best?.questions ?? ways[0]?.questions ?? [],
      },
      // Searched anew rather than kept: what a search went through is many times as large as the plan.
      () => new Reached(model, facts, index, policy, taught).stopsFor(need),
    );
  }

  private stopsFor(need: Need): readonly Stop[] {
    const { finished, refused, reached } = this.endsFor(need);
    const stops = new Stops(this.searched.paths, this.world);
    const noWayBack = new Set(refused.map((w) => w.image));
    const cleaned = new Set(finished.map((p) => p.state.cleaned));
    const isReached = ({ image: { id } }: IndexedImage) => reached.has(id) || cleaned.has(id);
    return this.images
      .filter((e) => isAim(e) && !isReached(e))
      .map((e) =>
        noWayBack.has(e.image.id)
          ? {
              image: e.image.id,
              code: "back.none",
              says: "No stock package would bring the device back, and the house writes nothing without one (policy)",
            }
          : stops.of(e),
      );
  }

  /** The paths that end with a device to hand over, the ways that come of them, best first, and the images they reach. */
  private endsFor(need: Need) {
    const { world, searched } = this;
    const { policy } = world;
    const ends = new Ends(world, searched, need);
    const finished = searched.paths.filter((path) => isFinished(path, world, need, this.hasServices));
    const all = nonDominated(
      finished.map((path) => ends.of(path)),
      endId,
    ).map((end) => wayOf(end, world, this.backs));
    const refused = policy.wayBack === "refused" ? all.filter((w) => w.writes && w.back === null) : [];
    const ways = all.filter((w) => !refused.includes(w)).sort((a, b) => compareWays(a, b, policy));
    const reached = new Set(
      policy.wayBack === "refused" ? ways.map((w) => w.image) : finished.map((p) => p.state.image),
    );
    return { finished, refused, ways, reached };
  }
}

/** A plan whose reasons are found when somebody asks: a lane shows thousands of plans, and the reasons of one at a time. */
function withStops(plan: Omit<Plan, "stops">, find: () => readonly Stop[]): Plan {
  let found: readonly Stop[] | undefined;
  return {
    ...plan,
    get stops() {
      found ??= find();
      return found;
    },
  };
}

/** Whether the catalogue has a services add-on that goes with a ROM, each ROM asked once. */
function servicesFor(images: readonly IndexedImage[], { index, device }: SearchWorld) {
  const addOns = images.filter(
    (e) =>
      e.image.kind === "services" && !e.image.withdrawn && (e.image.cpu === null || e.image.cpu === device.model.cpu),
  );
  const asked = new Map<string, boolean>();
  return (release: string, rom: string) => {
    let has = asked.get(rom);
    if (has === undefined) {
      has =
        !index.images.get(rom)?.image.services &&
        addOns.some((e) => e.image.release === release && !index.incompatible(e.image.id, rom));
      asked.set(rom, has);
    }
    return has;
  };
}

function verdictOf(best: Way | null, ways: readonly Way[], index: CatalogueIndex): { verdict: Verdict; says: string } {
  if (!best) {
    const nearest = ways[0];
    if (!nearest) return { verdict: "not-this-way", says: "No way ends with a system that starts" };
    const missing = [
      ...nearest.fit.appsNot.map((a) => `${a.app} ${a.says}`),
      ...nearest.fit.hardwareNot.map((h) => h.says),
    ];
    return nearest.questions.length
      ? { verdict: "check-first", says: `Nearest: Android ${nearest.release}, but ${missing[0]}` }
      : { verdict: "not-this-way", says: `The best this can become is Android ${nearest.release}: ${missing[0]}` };
  }
  if (best.questions.length)
    return {
      verdict: "check-first",
      says: `${best.questions.length === 1 ? "One question is" : `${best.questions.length} questions are`} open: ${asClause(best.questions[0].says)}`,
    };
  if (best.keeps && best.cleaned === null)
    return {
      verdict: "good-enough",
      says: `Android ${best.release} already runs everything asked for${best.operations.length ? "; only reset it" : ""}`,
    };
  const title = best.image ? index.images.get(best.image)?.image.title : null;
  const ending = title
    ? title.includes(best.release)
      ? title
      : `Android ${best.release} with ${title}`
    : `Android ${best.release}`;
  if (best.waitingDays > 0)
    return {
      verdict: "waiting",
      says: `${ending}, after ${best.waitingDays} days of waiting for the maker's permission`,
    };
  return {
    verdict: "can-go",
    says: `${ending}${best.cleaned === null ? "" : ", its stock system cleaned"}, about ${Math.round(best.handsOnMinutes)} min hands-on`,
  };
}

const SIGNATURE_FACTS = [...new Set([...IDENTITY_FACTS, ...PLANNING_FACTS])];

/** Devices with the same signature have the same plan. */
export function planSignature(request: PlanRequest): string {
  return `${request.need.id}\n${deviceSignature(request)}`;
}

function deviceSignature({ facts, clearance, aside }: PlanRequest): string {
  const parts = SIGNATURE_FACTS.map((key) => {
    const fact = facts.get(key);
    // Which slot is current matters at the bench; for the plan only that it is known.
    if (!fact) return "";
    // The question that a contradiction asks tells both words.
    if (fact.contradictedBy) return `${fact.value}!${fact.contradictedBy.value}`;
    return key === "slot.current" ? "known" : `${fact.value}`;
  });
  return `${clearance}\n${aside ?? ""}\n${parts.join("\n")}`;
}

/** Plans many devices, each signature once; a device that is planned for several needs in a row is searched once. */
export class Planner {
  private readonly kept = new Map<string, Plan>();
  private last: { readonly of: string; readonly reached: Reached } | null = null;

  constructor(
    readonly index: CatalogueIndex,
    readonly policy: Policy,
    private readonly experienceOf?: ExperienceOf,
  ) {}

  plan(request: PlanRequest): Plan {
    const device = deviceSignature(request);
    const signature = `${request.need.id}\n${device}`;
    let plan = this.kept.get(signature);
    if (!plan) {
      const gate = planGate(request, this.index);
      plan = "plan" in gate ? gate.plan : this.reachedBy(gate.model, request, device).planFor(request.need);
      this.kept.set(signature, plan);
    }
    return plan;
  }

  private reachedBy(model: Model, { facts, need }: PlanRequest, device: string): Reached {
    const policy = policyFor(this.policy, model, need);
    const of = `${OWN_SCHOOLS.map((school) => policy[school]).join()}\n${device}`;
    if (this.last?.of !== of)
      this.last = { of, reached: new Reached(model, facts, this.index, policy, this.experienceOf?.(model)) };
    return this.last.reached;
  }

  get signatures(): number {
    return this.kept.size;
  }
}

/**
 * Open questions of many devices, the one that would decide most first.
 *
 * @example rankQuestions([]) // []
 */
export function rankQuestions(plans: Iterable<Plan>): { readonly question: Question; readonly devices: number }[] {
  const count = new Map<string, { question: Question; devices: number }>();
  for (const plan of plans)
    for (const question of plan.questions) {
      const key = `${question.fact}\n${question.code}`;
      const entry = count.get(key);
      if (entry) entry.devices++;
      else count.set(key, { question, devices: 1 });
    }
  return [...count.values()].sort((a, b) => b.devices - a.devices || (a.question.fact < b.question.fact ? -1 : 1));
}
