import type { ImageKind } from "~/core/catalogue/image";
import type { Policy } from "~/core/policy/policy";
import type { Steps } from "~/core/runbook/steps";
import type { CatalogueIndex, IndexedImage } from "~/core/upgrade/catalogueIndex";
import type { Outcome, ReasonCode } from "~/core/upgrade/outcome";
import type { ImageSituation, Rule, Situation } from "~/core/upgrade/rule";
import type { PlanDevice, PlanState, SystemKind } from "~/core/upgrade/state";

/** What an operation takes. Minutes, days, share of failure 0 to 1, wipes, marks that stay. */
export interface OperationCost {
  readonly handsOn: number;
  readonly unattended: number;
  readonly failure: number;
  readonly waitingDays?: number;
  readonly wipes?: number;
  readonly irreversible?: readonly string[];
}

/** What an operation of any way says of itself, beside its preconditions and effects. */
interface About {
  /** What is done, in words. */
  readonly says: string;
  /** What may sensibly come next, by kind; everything else would only be done twice or undone again. "any": the device stands at the beginning again. */
  readonly next?: readonly string[] | "any";
  /** The same seen from behind: kinds that may come right before, where their folder does not know this one. */
  readonly follows?: readonly string[];
  /** Reasons of other operations that this one takes away. */
  readonly settles?: readonly ReasonCode[];
  /** It installs a system of this kind. */
  readonly installs?: Exclude<SystemKind, "none">;
  /** The system that runs stays as it is: a path of nothing else leaves the device as it was. */
  readonly keepsSystem?: true;
  /** It only opens the device for what follows: a path that stops behind it has done nothing useful. */
  readonly opens?: true;
  /** It leaves the maker's boot and vendor part as they are, also when it is not finished. */
  readonly keepsBase?: true;
  /** Done on the device alone, without a computer. */
  readonly withoutComputer?: true;
}

interface Spec<C, E> extends About {
  /** All must hold, in the order they are told to people. */
  readonly needs: readonly Rule<C>[];
  readonly apply: (state: PlanState, entry: E, device: PlanDevice, index: CatalogueIndex) => PlanState;
  readonly cost: (entry: E, device: PlanDevice) => OperationCost;
  /** Writes what is done at the bench. */
  readonly steps: (steps: Steps, entry: E) => void;
  /** What has to be said on the sheet and beside the way; null where nothing. */
  readonly caution?: (entry: E, device: PlanDevice) => string | null;
}

/** What is the same for all operations of a search. */
export interface World {
  readonly device: PlanDevice;
  readonly index: CatalogueIndex;
  readonly policy: Policy;
}

/** A precondition with the image, the device and the house filled in: only the state is left open. */
export type BoundRule = (state: PlanState) => Outcome;

/** An operation made concrete: with its image, for one device in one house. */
export interface Bound {
  readonly operation: Operation;
  readonly entry: IndexedImage | null;
  readonly rules: readonly BoundRule[];
  /** Those whose answer no operation changes, and those that have to be asked in every state. */
  readonly lasting: readonly BoundRule[];
  readonly passing: readonly BoundRule[];
  readonly cost: OperationCost;
  readonly caution: string | null;
  apply(state: PlanState): PlanState;
  steps(steps: Steps): void;
}

/** An operation as the planner, the sheet and the pages know it. */
export interface Operation<K extends string = string> extends About {
  readonly kind: K;
  /** Kind of image it is about; null for none. */
  readonly image: ImageKind | null;
  /** Fields of the state that its preconditions rest on. */
  readonly reads: ReadonlySet<keyof PlanState>;
  /** @returns null where the image is missing or of another kind */
  bind(entry: IndexedImage | null, world: World): Bound | null;
}

/** A rule with its context kept, so that the search makes no new object for each question. */
function boundRules<C extends Situation>(needs: readonly Rule<C>[], context: C) {
  const open = context as { -readonly [K in keyof C]: C[K] };
  const rules = needs.map((rule): BoundRule => {
    return (state) => {
      open.state = state;
      return rule(open);
    };
  });
  return {
    rules,
    lasting: rules.filter((_r, i) => needs[i].lasting),
    passing: rules.filter((_r, i) => !needs[i].lasting),
  };
}

const readsOf = (needs: readonly { readonly reads: readonly (keyof PlanState)[] }[]) =>
  new Set(needs.flatMap((rule) => rule.reads));

const NO_STATE = {} as PlanState;

function bound<C extends Situation, E extends IndexedImage | null>(
  operation: Operation,
  spec: Spec<C, E>,
  entry: E,
  context: C,
): Bound {
  const { device, index } = context;
  return {
    operation,
    entry,
    ...boundRules(spec.needs, context),
    cost: spec.cost(entry, device),
    caution: spec.caution?.(entry, device) ?? null,
    apply: (state) => spec.apply(state, entry, device, index),
    steps: (steps) => spec.steps(steps, entry),
  };
}

/** An operation that takes no image. */
export function operation<const K extends string>(kind: K, spec: Spec<Situation, null>): Operation<K> {
  const self: Operation<K> = {
    ...spec,
    kind,
    image: null,
    reads: readsOf(spec.needs),
    bind: (_entry, world) => bound<Situation, null>(self, spec, null, { ...world, state: NO_STATE }),
  };
  return self;
}

/** An operation about an image of one kind. */
export function imageOperation<const K extends string>(
  kind: K,
  image: ImageKind,
  spec: Spec<ImageSituation, IndexedImage>,
): Operation<K> {
  const self: Operation<K> = {
    ...spec,
    kind,
    image,
    reads: readsOf(spec.needs),
    bind: (entry, world) =>
      entry?.image.kind === image
        ? bound<ImageSituation, IndexedImage>(self, spec, entry, { ...world, entry, state: NO_STATE })
        : null,
  };
  return self;
}

/** A family of operations that suits a flash interface: one folder. */
export interface WayFamily<O extends readonly Operation[] = readonly Operation[]> {
  readonly id: string;
  /** What it is, in words. */
  readonly says: string;
  readonly operations: O;
  /** Codes of what is done with fingers in its steps, as the phone's hands port takes them; those that end in a dot take an image. */
  readonly hands: readonly string[];
  /** Images that are used with each other in this way. */
  readonly together?: readonly Together[];
}

/** Two kinds of image that are used with each other, and the rule that says whether two of them go together. */
export interface Together {
  /** Kind of the image that the rule is asked about, and of the one that is there already. */
  readonly about: ImageKind;
  readonly beside: ImageKind;
  readonly rule: Rule<ImageSituation>;
  /** The state a device is in with the second image; null where the two have nothing to say to each other. */
  readonly state: (beside: IndexedImage) => Partial<PlanState> | null;
  /** Only those that go together are worth naming: there is one of the other for each of the one. */
  readonly onlyIfGoes?: true;
}

/** Share of failure: what the catalogue recorded for the image, else the usual one. */
export const failureOf = (entry: IndexedImage, usual: number) =>
  entry.image.success === null ? usual : 1 - entry.image.success;

/** Minutes a write over the lead takes at the model's rate. */
export const writeMinutes = (bytes: number, device: PlanDevice) => bytes / device.model.writeRate / 60;
