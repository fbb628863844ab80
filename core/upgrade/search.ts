import { FACT_KEYS, type FactKey } from "~/core/device/fact";
import type { Policy } from "~/core/policy/policy";
import type { CatalogueIndex, IndexedImage } from "./catalogueIndex";
import {
  FIRST_OPERATIONS,
  OPERATION_BY_KIND,
  OPERATION_KINDS,
  OPERATIONS,
  type OperationCost,
  type OperationDefinition,
  type OperationKind,
} from "./operations";
import type { Rule, RuleContext } from "./rules";
import * as rules from "./rules";
import { initialState, type PlanDevice, type PlanState, stateKey } from "./state";

/** An operation with the image it is about. */
export interface PlannedOperation {
  readonly kind: OperationKind;
  readonly image: string | null;
}

/** Everything a path has cost so far. `failure` is −ln of the chance that all went well. */
export interface Label {
  readonly state: PlanState;
  /** Equal for labels that are interchangeable for what may follow. */
  readonly key: string;
  readonly operation: PlannedOperation | null;
  readonly before: Label | null;
  readonly handsOn: number;
  readonly unattended: number;
  readonly waitingDays: number;
  readonly bytes: number;
  readonly wipes: number;
  readonly irreversible: number;
  readonly failure: number;
  /** Bit i is set when the path has an operation of kind OPERATION_KINDS[i]. */
  readonly kinds: number;
  /** Bit i is set when FACT_KEYS[i] is still open and this path rests on it. */
  readonly questions: number;
}

export interface SearchWorld {
  readonly device: PlanDevice;
  readonly index: CatalogueIndex;
  readonly policy: Policy;
}

/** An operation made concrete for one model: what the search tries in every state. */
interface Candidate {
  readonly definition: OperationDefinition;
  readonly entry: IndexedImage | null;
  readonly cost: OperationCost;
}

/** Rules whose answer no operation changes: a candidate that breaks one is never tried. */
const LASTING: ReadonlySet<Rule> = new Set([
  rules.suitsModel,
  rules.notWithdrawn,
  rules.rootAllowed,
  rules.vendorInterface,
  rules.throughFastboot,
  rules.unlockPossible,
  rules.recoveryFits,
  rules.relockOffered,
]);

/** The rules of each operation that have to be asked anew in every state. */
const PASSING = new Map<OperationKind, readonly Rule[]>(
  OPERATIONS.map((o) => [o.kind, o.needs.filter((rule) => !LASTING.has(rule))]),
);

const bit = new Map(FACT_KEYS.map((key, i) => [key, 1 << i]));

/** Fact keys of a question mask. */
export function questionKeys(mask: number): FactKey[] {
  if (mask === 0) return [];
  return FACT_KEYS.filter((_key, i) => mask & (1 << i));
}

const openQuestions = (mask: number) => {
  let count = 0;
  for (let m = mask; m; m &= m - 1) count++;
  return count;
};

const kindBit = new Map<OperationKind, number>(OPERATION_KINDS.map((kind, i) => [kind, 1 << i]));

/** True when a path has an operation of a kind. */
export function hasKind(label: Label, kind: OperationKind): boolean {
  return (label.kinds & (kindBit.get(kind) as number)) !== 0;
}

/** True when a path is nothing, or only a reset from Settings. */
export function isUntouched(label: Label): boolean {
  return (label.kinds & ~(kindBit.get("factory-reset") as number)) === 0;
}

/** Every operation of the catalogue that may be tried on a model, by its kind. */
function candidatesFor({ device, index, policy }: SearchWorld, state: PlanState): Map<OperationKind, Candidate[]> {
  const images = index.imagesFor(device.model);
  const byKind = new Map<OperationKind, Candidate[]>();
  for (const definition of OPERATIONS) {
    const entries = definition.image === null ? [null] : images.filter((e) => e.image.kind === definition.image);
    const lasting = definition.needs.filter((rule) => LASTING.has(rule));
    byKind.set(
      definition.kind,
      entries
        .filter((entry) => lasting.every((rule) => rule({ device, state, entry, index, policy }).is === "holds"))
        .map((entry) => ({ definition, entry, cost: definition.cost(entry as IndexedImage, device) })),
    );
  }
  return byKind;
}

/**
 * Tries one operation in one state.
 *
 * @returns the open facts it rests on as a mask, or null when a precondition fails
 */
function tryRules(needs: readonly Rule[], ctx: RuleContext): number | null {
  let mask = 0;
  for (const rule of needs) {
    const outcome = rule(ctx);
    if (outcome.is === "fails") return null;
    if (outcome.is === "unknown") mask |= bit.get(outcome.fact) as number;
  }
  return mask;
}

/** True when `a` is at least as good as `b` in everything a path can cost. */
function covers(a: Label, b: Label): boolean {
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

/** One number to order the search by; any positive mix of the costs keeps the result complete. */
const order = (l: Label) =>
  l.handsOn +
  l.unattended * 0.2 +
  l.waitingDays * 60 +
  l.wipes * 5 +
  l.irreversible * 20 +
  l.failure * 100 +
  openQuestions(l.questions) * 30;

/**
 * Searches all states a device can be brought to, keeping for every state the paths that no other path covers.
 *
 * Each operation says what may sensibly follow it. Once a ROM or generic image is written, only what belongs to
 * finishing it follows; stock packages and updates are both goals and stepping stones. Two paths to one state differ in
 * what may follow only by their last operation, so that is part of what makes a state the same.
 *
 * @returns labels of all states reached, cheapest first, dominated ones dropped
 */
export function search(world: SearchWorld): Label[] {
  const { device, index, policy } = world;
  const state = initialState(device, index);
  const candidates = candidatesFor(world, state);
  const start: Label = {
    state,
    key: keyOf(null, state),
    operation: null,
    before: null,
    handsOn: 0,
    unattended: 0,
    waitingDays: 0,
    bytes: 0,
    wipes: 0,
    irreversible: 0,
    failure: 0,
    kinds: 0,
    questions: 0,
  };
  const open = new Heap();
  const kept = new Map<string, Label[]>();
  const done: Label[] = [];
  push(start);
  while (true) {
    const label = open.pop();
    if (!label) break;
    if (!kept.get(label.key)?.includes(label)) continue;
    done.push(label);
    for (const kind of label.operation ? OPERATION_BY_KIND[label.operation.kind].next : FIRST_OPERATIONS) {
      const needs = PASSING.get(kind) as readonly Rule[];
      for (const { definition, entry, cost } of candidates.get(kind) as Candidate[]) {
        const mask = tryRules(needs, { device, state: label.state, entry, index, policy });
        if (mask === null) continue;
        const next = definition.apply(label.state, entry as IndexedImage, device);
        push({
          state: next,
          key: keyOf(kind, next),
          operation: { kind, image: entry?.image.id ?? null },
          before: label,
          handsOn: label.handsOn + cost.handsOn,
          unattended: label.unattended + cost.unattended,
          waitingDays: label.waitingDays + (cost.waitingDays ?? 0),
          bytes: label.bytes + (entry?.bytes ?? 0),
          wipes: label.wipes + (cost.wipes ?? 0),
          irreversible: label.irreversible + (cost.irreversible?.length ?? 0),
          failure: label.failure - Math.log(Math.max(1e-9, 1 - cost.failure)),
          kinds: label.kinds | (kindBit.get(kind) as number),
          questions: label.questions | mask,
        });
      }
    }
  }
  return done;

  function push(label: Label) {
    const { key } = label;
    const standing = kept.get(key);
    if (!standing) kept.set(key, [label]);
    else {
      if (standing.some((other) => covers(other, label))) return;
      kept.set(key, [...standing.filter((other) => !covers(label, other)), label]);
    }
    open.push(label, order(label));
  }
}

const keyOf = (kind: OperationKind | null, state: PlanState) => `${kind}|${stateKey(state)}`;

/** The operations of a path, first to last. */
export function pathOf(label: Label): PlannedOperation[] {
  const path: PlannedOperation[] = [];
  for (let at: Label | null = label; at?.operation; at = at.before) path.push(at.operation);
  return path.reverse();
}

/** A binary heap, smallest first; ties leave in the order they came. */
class Heap {
  private readonly items: { label: Label; cost: number; turn: number }[] = [];
  private turn = 0;

  push(label: Label, cost: number) {
    const item = { label, cost, turn: this.turn++ };
    const { items } = this;
    let at = items.push(item) - 1;
    while (at > 0) {
      const up = (at - 1) >> 1;
      if (!less(item, items[up])) break;
      items[at] = items[up];
      at = up;
    }
    items[at] = item;
  }

  pop(): Label | null {
    const { items } = this;
    const first = items[0];
    if (!first) return null;
    const last = items.pop() as (typeof items)[number];
    if (items.length > 0) {
      let at = 0;
      while (true) {
        let down = 2 * at + 1;
        if (down >= items.length) break;
        if (down + 1 < items.length && less(items[down + 1], items[down])) down++;
        if (!less(items[down], last)) break;
        items[at] = items[down];
        at = down;
      }
      items[at] = last;
    }
    return first.label;
  }
}

const less = (a: { cost: number; turn: number }, b: { cost: number; turn: number }) =>
  a.cost < b.cost || (a.cost === b.cost && a.turn < b.turn);
