import { OPEN_FACTS } from "~/core/catalogue/model";
import type { FactKey } from "~/core/device/fact";
import type { Bound, OperationCost, Which, World } from "~/core/ways/operation";
import { NEXT, OPERATION_KINDS, OPERATIONS, type OperationKind, operationOf } from "~/core/ways/registry";
import { Heap } from "./heap";
import type { Outcome, ReasonCode } from "./outcome";
import { type OpenFact, Questions } from "./questions";
import { areAlike, initialState, type PlanState } from "./state";

/** An operation with the image it is about. */
export interface PlannedOperation {
  readonly kind: OperationKind;
  readonly image: string | null;
}

/** What own runs on a model taught about operations. */
export interface Taught {
  /** The cost as own runs have it; the usual one where they say nothing. */
  cost(operation: PlannedOperation, usual: OperationCost): OperationCost;
  /** What the chance rests on; null where there was no own run of the kind. */
  learned(operation: PlannedOperation, usual: OperationCost): LearnedChance | null;
}

/** A chance of one operation with the own runs it rests on. */
export interface LearnedChance {
  readonly mean: number;
  readonly low: number;
  readonly high: number;
  readonly here: { readonly ok: number; readonly of: number };
  readonly all: { readonly ok: number; readonly of: number };
}

export interface SearchWorld extends World {
  readonly taught?: Taught;
}

/** A path through states, with everything it has cost so far. `failure` is −ln of the chance that all went well. */
export interface Path {
  readonly state: PlanState;
  /** Equal for paths that are interchangeable for what may follow and for how they may end. */
  readonly key: string;
  readonly kind: OperationKind | null;
  readonly bound: Bound | null;
  readonly before: Path | null;
  readonly handsOn: number;
  readonly unattended: number;
  readonly waitingDays: number;
  readonly bytes: number;
  readonly wipes: number;
  readonly irreversible: number;
  readonly failure: number;
  /** Nothing was done, or only what leaves the system as it is. */
  readonly untouched: boolean;
  /** Something was opened that only pays when something is installed behind it, and nothing was yet. */
  readonly onlyOpened: boolean;
  /** Open questions that it rests on, as a mask of the search's {@link Questions}. */
  readonly questions: number;
  /** Another path to the same state was found to be as good in everything. */
  outdone: boolean;
}

export interface Searched {
  /** Paths to all states reached, cheapest first, dominated ones dropped. */
  readonly paths: readonly Path[];
  questionsOf(path: Path): OpenFact[];
}

/** An operation that may be tried, with its cost and the questions that its lasting preconditions leave open. */
interface Candidate {
  readonly bound: Bound;
  readonly cost: OperationCost;
  readonly failure: number;
  readonly questions: number;
}

/** Every operation of the catalogue that may be tried on a device, by its kind. */
function candidatesFor(world: SearchWorld, state: PlanState, asker: Asker): Map<OperationKind, Candidate[]> {
  const { index, device } = world;
  const byKind = new Map<OperationKind, Candidate[]>();
  for (const operation of OPERATIONS) {
    const entries = operation.image === null ? NO_IMAGE : index.imagesOf(device.model, operation.image);
    const found: Candidate[] = [];
    // What looks at no image is asked once for all of them.
    let shared: number | null = null;
    for (const entry of entries) {
      const bound = operation.bind(entry, world);
      if (!bound) continue;
      shared ??= asker.ask(bound, "lasting-shared", state);
      if (shared === null) break;
      const own = asker.ask(bound, "lasting-own", state);
      if (own === null) continue;
      const mask = shared | own;
      const open = operation.withoutComputer ? 0 : recordOpen(device, asker);
      const cost = world.taught
        ? world.taught.cost({ kind: operation.kind, image: entry?.image.id ?? null }, bound.cost)
        : bound.cost;
      found.push({ bound, cost, failure: -Math.log(Math.max(1e-9, 1 - cost.failure)), questions: mask | open });
    }
    byKind.set(operation.kind, found);
  }
  return byKind;
}

/** What the model's record leaves open and nobody read on this device: asked before anything goes over a lead. */
function recordOpen({ model }: SearchWorld["device"], asker: Asker): number {
  let mask = 0;
  for (const part of model.open) if (part !== "hardware") mask |= asker.bitOf(OPEN_FACTS[part], "model.open");
  return mask;
}

const NO_IMAGE = [null] as const;

/** Asks preconditions and gathers the open facts they leave, without a new object for each asking. */
class Asker {
  private mask = 0;
  private failed = false;

  constructor(private readonly questions: Questions) {}

  /** @returns the open facts as a mask, or null when a precondition fails */
  ask(bound: Bound, which: Which, state: PlanState): number | null {
    this.mask = 0;
    this.failed = false;
    bound.ask(which, state, this.hear);
    return this.failed ? null : this.mask;
  }

  bitOf(fact: FactKey, code: ReasonCode): number {
    return this.questions.bit(fact, code);
  }

  private readonly hear = (outcome: Outcome): boolean => {
    if (outcome.is === "unknown") this.mask |= this.questions.bit(outcome.fact, outcome.code);
    else this.failed = true;
    return !this.failed;
  };
}

/** What the preconditions about images say, asked once for all states that they can't tell from each other. */
class OwnAnswers {
  private readonly kept = new Map<OperationKind, { state: PlanState; open: readonly (number | null)[] }[]>();

  constructor(private readonly asker: Asker) {}

  /** @returns for each candidate the facts it leaves open as a mask, or null where it may not be done in that state */
  of(kind: OperationKind, tried: readonly Candidate[], state: PlanState): readonly (number | null)[] {
    const { readsOwn } = tried[0].bound.operation;
    let kept = this.kept.get(kind);
    if (!kept) {
      kept = [];
      this.kept.set(kind, kept);
    }
    for (const one of kept) if (areAlike(one.state, state, readsOwn)) return one.open;
    const open = tried.map(({ bound }) => this.asker.ask(bound, "passing-own", state));
    kept.push({ state, open });
    return open;
  }
}

/** True when `a` is at least as good as `b` in everything a path can cost. */
function covers(a: Path, b: Path): boolean {
  return (
    a.handsOn <= b.handsOn &&
    a.unattended <= b.unattended &&
    a.waitingDays <= b.waitingDays &&
    a.bytes <= b.bytes &&
    a.wipes <= b.wipes &&
    a.irreversible <= b.irreversible &&
    a.failure <= b.failure &&
    (a.questions & b.questions) === a.questions
  );
}

const countBits = (mask: number) => {
  let count = 0;
  for (let m = mask; m; m &= m - 1) count++;
  return count;
};

/** One number to order the search by; any positive mix of the costs keeps the result complete. */
const order = (p: Path) =>
  p.handsOn +
  p.unattended * 0.2 +
  p.waitingDays * 60 +
  p.wipes * 5 +
  p.irreversible * 20 +
  p.failure * 100 +
  countBits(p.questions) * 30;

/**
 * Searches all states a device can be brought to, keeping for every state the paths that no other path covers.
 *
 * Each operation says what may sensibly follow it; a plan may begin with any. Two paths count as being in one state when
 * nothing that may still follow, and no end, can tell them apart: behind a ROM, for one, nothing asks any more which
 * recovery wrote it. So a model with many recoveries and ROMs stays small.
 *
 * @example search({ device, index, policy, … }).ways.length // 12
 */
export function search(world: SearchWorld): Searched {
  const { device, index } = world;
  const questions = new Questions();
  const keys = new Keys(world);
  const state = initialState(device, index);
  const asker = new Asker(questions);
  const candidates = candidatesFor(world, state, asker);
  const answers = new OwnAnswers(asker);
  const start: Path = {
    state,
    key: keys.of(null, state, 0),
    kind: null,
    bound: null,
    before: null,
    handsOn: 0,
    unattended: 0,
    waitingDays: 0,
    bytes: 0,
    wipes: 0,
    irreversible: 0,
    failure: 0,
    untouched: true,
    onlyOpened: false,
    questions: 0,
    outdone: false,
  };
  const open = new Heap<Path>();
  const kept = new Map<string, Path[]>();
  const done: Path[] = [];
  push(start);
  while (true) {
    const path = open.pop();
    if (!path) break;
    if (path.outdone) continue;
    done.push(path);
    for (const kind of path.kind ? (NEXT.get(path.kind) ?? []) : OPERATION_KINDS) {
      const tried = candidates.get(kind) ?? [];
      // What does not depend on the image is asked once for all of them.
      const shared = tried.length > 0 ? asker.ask(tried[0].bound, "passing-shared", path.state) : null;
      if (shared === null) continue;
      const own = answers.of(kind, tried, path.state);
      for (let i = 0; i < tried.length; i++) {
        const open = own[i];
        if (open !== null) push(extend(path, kind, tried[i], shared | open));
      }
    }
  }
  return { paths: done, questionsOf: (path) => questions.of(path.questions) };

  function extend(path: Path, kind: OperationKind, { bound, cost, failure, questions }: Candidate, mask: number): Path {
    const next = bound.apply(path.state);
    const { operation } = bound;
    const untouched = path.untouched && operation.keepsSystem === true;
    const onlyOpened = operation.installs === undefined && (path.onlyOpened || operation.opens === true);
    return {
      state: next,
      key: keys.of(kind, next, (untouched ? 1 : 0) | (onlyOpened ? 2 : 0)),
      kind,
      bound,
      before: path,
      handsOn: path.handsOn + cost.handsOn,
      unattended: path.unattended + cost.unattended,
      waitingDays: path.waitingDays + (cost.waitingDays ?? 0),
      bytes: path.bytes + (bound.entry?.bytes ?? 0),
      wipes: path.wipes + (cost.wipes ?? 0),
      irreversible: path.irreversible + (cost.irreversible?.length ?? 0),
      failure: path.failure + failure,
      untouched,
      onlyOpened,
      questions: path.questions | questions | mask,
      outdone: false,
    };
  }

  function push(path: Path) {
    const standing = kept.get(path.key);
    if (standing) {
      for (const other of standing) if (covers(other, path)) return;
      let left = 0;
      for (const other of standing)
        if (covers(path, other)) other.outdone = true;
        else standing[left++] = other;
      standing.length = left;
      standing.push(path);
    } else kept.set(path.key, [path]);
    open.push(path, order(path));
  }
}

/** Fields of the state that an operation which may still come looks at, by the last operation. */
const LOOKED_AT: ReadonlyMap<OperationKind | null, ReadonlySet<keyof PlanState>> = new Map(
  [null, ...OPERATION_KINDS].map((kind) => {
    const reached = new Set<OperationKind>(kind === null ? OPERATION_KINDS : (NEXT.get(kind) ?? []));
    for (const one of reached) for (const next of NEXT.get(one) ?? []) reached.add(next);
    return [kind, new Set([...reached].flatMap((k) => [...operationOf(k).reads]))];
  }),
);

const NUMBERS = {
  system: { stock: 0, custom: 1, generic: 2, none: 3 },
  permission: { none: 0, asked: 1, granted: 2 },
  storage: { donor: 0, workshop: 1, clean: 2, "must-format": 3 },
  started: { running: 0, fresh: 1, broken: 2 },
} as const;

/** Texts that are equal for states that nothing which may still come, and no end, can tell apart. */
class Keys {
  private readonly dangerous: boolean;

  constructor(private readonly world: SearchWorld) {
    this.dangerous = world.device.model.firmware.dangerous.length > 0;
  }

  /** @param sort a number below four that tells apart what else must be: untouched, only opened */
  of(kind: OperationKind | null, s: PlanState, sort: number): string {
    const asked = LOOKED_AT.get(kind) as ReadonlySet<keyof PlanState>;
    const stock = s.system === "stock";
    const small =
      NUMBERS.system[s.system] |
      (NUMBERS.storage[s.storage] << 2) |
      (NUMBERS.started[s.started] << 4) |
      (s.locked ? 64 : 0) |
      (s.verification === "off" ? 128 : 0) |
      (s.services === null ? 0 : 256) |
      (s.product === "removed" && (stock || asked.has("product")) ? 512 : 0) |
      (s.whole && (stock || asked.has("whole")) ? 1024 : 0) |
      ((asked.has("permission") ? NUMBERS.permission[s.permission] : 0) << 11) |
      (s.cleaned === null ? 0 : 8192) |
      (sort << 14) |
      (s.api << 16);
    const base = asked.has("baseBuild") ? s.baseBuild : "";
    const firmware = this.dangerous || asked.has("firmware") ? s.firmware : "";
    const recovery =
      s.recovery === "stock" || !(stock || asked.has("recovery")) ? "" : this.world.index.recoveryClass(s.recovery);
    const open: readonly FactKey[] = s.assumed;
    return `${kind}|${small}|${s.image}|${s.patch}|${s.basePatch}|${base}|${asked.has("baseApi") ? s.baseApi : ""}|${firmware}|${recovery}|${open.length ? open.join() : ""}`;
  }
}

/** The operations of a path, first to last. */
export function boundOf(path: Path): Bound[] {
  const bounds: Bound[] = [];
  for (let at: Path | null = path; at?.bound; at = at.before) bounds.push(at.bound);
  return bounds.reverse();
}

/** The operations of a path as they are written down, first to last. */
export function operationsOf(path: Path): PlannedOperation[] {
  const planned: PlannedOperation[] = [];
  for (let at: Path | null = path; at?.kind; at = at.before)
    planned.push({ kind: at.kind, image: at.bound?.entry?.image.id ?? null });
  return planned.reverse();
}
