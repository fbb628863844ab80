import type { Policy } from "~/core/catalogue/policy";
import { FACT_KEYS, type FactKey } from "~/core/device/fact";
import type { CatalogueIndex, IndexedImage } from "./catalogueIndex";
import { OPERATIONS, type OperationCost, type OperationDefinition, type OperationKind } from "./operations";
import type { RuleContext } from "./rules";
import { initialState, type PlanDevice, type PlanState, stateKey } from "./state";

/** An operation with the image it is about. */
export interface PlannedOperation {
  readonly kind: OperationKind;
  readonly image: string | null;
}

/** Everything a path has cost so far. `failure` is −ln of the chance that all went well. */
export interface Label {
  readonly state: PlanState;
  readonly operation: PlannedOperation | null;
  readonly before: Label | null;
  readonly handsOn: number;
  readonly unattended: number;
  readonly waitingDays: number;
  readonly bytes: number;
  readonly wipes: number;
  readonly irreversible: number;
  readonly failure: number;
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
  /** Position in the order of trying; only to make the search's result repeatable. */
  readonly place: number;
}

const bit = new Map(FACT_KEYS.map((key, i) => [key, 1 << i]));

/** Fact keys of a question mask. */
export function questionKeys(mask: number): FactKey[] {
  return FACT_KEYS.filter((_key, i) => mask & (1 << i));
}

const openQuestions = (mask: number) => {
  let count = 0;
  for (let m = mask; m; m &= m - 1) count++;
  return count;
};

/** Every operation of the catalogue that may be tried on a model. */
export function candidatesFor({ device, index }: SearchWorld): Candidate[] {
  const images = index.imagesFor(device.model);
  const list: Candidate[] = [];
  const add = (definition: OperationDefinition, entry: IndexedImage | null) =>
    list.push({ definition, entry, cost: definition.cost(entry as IndexedImage, device), place: list.length });
  for (const definition of OPERATIONS) {
    if (definition.image === null) add(definition, null);
    else for (const entry of images) if (entry.image.kind === definition.image) add(definition, entry);
  }
  return list;
}

/**
 * Tries one operation in one state.
 *
 * @returns the open facts it rests on as a mask, or null when a precondition fails
 */
export function tryOperation(definition: OperationDefinition, ctx: RuleContext): number | null {
  let mask = 0;
  for (const rule of definition.needs) {
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
 * Once a ROM or generic image is written, only what belongs to finishing it follows: nobody installs one as a stepping
 * stone to another. Stock packages and updates are both goals and stepping stones.
 *
 * @returns labels of all states reached, cheapest first, dominated ones dropped
 */
export function search(world: SearchWorld): Label[] {
  const { device, index, policy } = world;
  const candidates = candidatesFor(world);
  const start: Label = {
    state: initialState(device, index),
    operation: null,
    before: null,
    handsOn: 0,
    unattended: 0,
    waitingDays: 0,
    bytes: 0,
    wipes: 0,
    irreversible: 0,
    failure: 0,
    questions: 0,
  };
  const open = new Heap();
  const kept = new Map<string, Label[]>();
  const done: Label[] = [];
  push(start);
  while (true) {
    const label = open.pop();
    if (!label) break;
    const standing = kept.get(stateKey(label.state));
    if (!standing?.includes(label)) continue;
    done.push(label);
    const target = label.operation && isTargetWritten(label.state);
    for (const candidate of candidates) {
      const { definition, entry, cost } = candidate;
      if (target ? !FINISHING.has(definition.kind) : definition.kind === "format-data") continue;
      const mask = tryOperation(definition, { device, state: label.state, entry, index, policy });
      if (mask === null) continue;
      push({
        state: definition.apply(label.state, entry as IndexedImage, device),
        operation: { kind: definition.kind, image: entry?.image.id ?? null },
        before: label,
        handsOn: label.handsOn + cost.handsOn,
        unattended: label.unattended + cost.unattended,
        waitingDays: label.waitingDays + (cost.waitingDays ?? 0),
        bytes: label.bytes + (entry?.bytes ?? 0),
        wipes: label.wipes + (cost.wipes ?? 0),
        irreversible: label.irreversible + (cost.irreversible?.length ?? 0),
        failure: label.failure - Math.log(Math.max(1e-9, 1 - cost.failure)),
        questions: label.questions | mask,
      });
    }
  }
  return done;

  function push(label: Label) {
    const key = stateKey(label.state);
    const standing = kept.get(key);
    if (!standing) kept.set(key, [label]);
    else {
      if (standing.some((other) => covers(other, label))) return;
      kept.set(key, [...standing.filter((other) => !covers(label, other)), label]);
    }
    open.push(label, order(label));
  }
}

/** Operations that finish a ROM or generic image once it is written. */
const FINISHING: ReadonlySet<OperationKind> = new Set(["install-services", "format-data", "flash-verification"]);

const isTargetWritten = (state: PlanState) => state.system !== "stock" && state.started === "fresh";

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
