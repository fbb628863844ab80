import type { ImageKind } from "~/core/catalogue/image";
import type { Policy } from "~/core/policy/policy";
import type { Steps } from "~/core/runbook/steps";
import type { CatalogueIndex, IndexedImage } from "~/core/upgrade/catalogueIndex";
import { type Fails, fails, HOLDS, type Outcome, type ReasonCode } from "~/core/upgrade/outcome";
import { type ImageSituation, type Rule, rule, type Situation } from "~/core/upgrade/rule";
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
  readonly cost: (entry: E, device: PlanDevice, policy: Policy) => OperationCost;
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

/**
 * Which preconditions are asked: all; those whose answer no operation changes; those to be asked in every state, and of these
 * the ones that look at the image and the ones that do not.
 */
export type Which = "all" | "lasting" | "lasting-shared" | "lasting-own" | "passing" | "passing-shared" | "passing-own";

/** An operation made concrete: with its image, for one device in one house. */
export interface Bound {
  readonly operation: Operation;
  readonly entry: IndexedImage | null;
  readonly cost: OperationCost;
  readonly caution: string | null;
  /**
   * Asks the preconditions in a state, in the order they are told to people; those that hold are passed over.
   *
   * @param hear is told of each that fails or is open; false ends the asking
   */
  ask(which: Which, state: PlanState, hear: (outcome: Outcome) => boolean): void;
  /** The first precondition that fails; null where none does. */
  failure(which: Which, state: PlanState): Fails | null;
  /** How many of them fail. */
  failures(which: Which, state: PlanState): number;
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
  /** The same for those that look at the image. */
  readonly readsOwn: readonly (keyof PlanState)[];
  /** @returns null where the image is missing or of another kind */
  bind(entry: IndexedImage | null, world: World): Bound | null;
}

const readsOf = (needs: readonly { readonly reads: readonly (keyof PlanState)[] }[]) =>
  new Set(needs.flatMap((rule) => rule.reads));

/** What goes over a lead needs something at its other end: a computer, or a second phone. */
const atTheBench = rule([], ({ policy }) =>
  policy.host === "none"
    ? fails("host.none", "This needs a computer or a second phone at the bench, and the house has neither (policy)")
    : HOLDS,
);

const withHost = <C>({ needs, withoutComputer }: { needs: readonly Rule<C>[]; withoutComputer?: true }) =>
  withoutComputer ? needs : [...needs, atTheBench as unknown as Rule<C>];

const NO_STATE = {} as PlanState;

type Needs<C> = Readonly<Record<Which, readonly Rule<C>[]>>;

const needsOf = <C>(all: readonly Rule<C>[]): Needs<C> => ({
  all,
  lasting: all.filter((rule) => rule.lasting),
  "lasting-shared": all.filter((rule) => rule.lasting && rule.shared),
  "lasting-own": all.filter((rule) => rule.lasting && !rule.shared),
  passing: all.filter((rule) => !rule.lasting),
  "passing-shared": all.filter((rule) => !rule.lasting && rule.shared),
  "passing-own": all.filter((rule) => !rule.lasting && !rule.shared),
});

/** The search makes and asks very many of these: one context is kept and only its state is put in anew. */
class BoundOperation<C extends Situation, E extends IndexedImage | null> implements Bound {
  private readonly open: { state: PlanState };

  constructor(
    readonly operation: Operation,
    private readonly spec: Spec<C, E>,
    private readonly needs: Needs<C>,
    readonly entry: E,
    private readonly context: C,
  ) {
    this.open = context as { state: PlanState };
  }

  private costs: OperationCost | undefined;
  private said: string | null | undefined;

  /** Worked out once, as is what has to be said: many ways of a plan share an operation, and most that are made are never tried. */
  get cost(): OperationCost {
    this.costs ??= this.spec.cost(this.entry, this.context.device, this.context.policy);
    return this.costs;
  }

  get caution(): string | null {
    if (this.said === undefined) this.said = this.spec.caution?.(this.entry, this.context.device) ?? null;
    return this.said;
  }

  ask(which: Which, state: PlanState, hear: (outcome: Outcome) => boolean) {
    this.open.state = state;
    for (const rule of this.needs[which]) {
      const outcome = rule(this.context);
      if (outcome.is !== "holds" && !hear(outcome)) return;
    }
  }

  failure(which: Which, state: PlanState): Fails | null {
    this.open.state = state;
    for (const rule of this.needs[which]) {
      const outcome = rule(this.context);
      if (outcome.is === "fails") return outcome;
    }
    return null;
  }

  failures(which: Which, state: PlanState): number {
    this.open.state = state;
    let count = 0;
    for (const rule of this.needs[which]) if (rule(this.context).is === "fails") count++;
    return count;
  }

  apply(state: PlanState): PlanState {
    return this.spec.apply(state, this.entry, this.context.device, this.context.index);
  }

  steps(steps: Steps) {
    this.spec.steps(steps, this.entry);
  }
}

/**
 * An operation that takes no image.
 *
 * @example operation("unlock", { needs: [], … }).kind // "unlock"
 */
export function operation<const K extends string>(kind: K, spec: Spec<Situation, null>): Operation<K> {
  const needs = needsOf(withHost(spec));
  const self: Operation<K> = {
    ...spec,
    kind,
    image: null,
    reads: readsOf(spec.needs),
    readsOwn: [...readsOf(needs["passing-own"])],
    bind: (_entry, { device, index, policy }) =>
      new BoundOperation<Situation, null>(self, spec, needs, null, { device, index, policy, state: NO_STATE }),
  };
  return self;
}

/** An operation about an image of one kind. */
export function imageOperation<const K extends string>(
  kind: K,
  image: ImageKind,
  spec: Spec<ImageSituation, IndexedImage>,
): Operation<K> {
  const needs = needsOf(withHost(spec));
  const self: Operation<K> = {
    ...spec,
    kind,
    image,
    reads: readsOf(spec.needs),
    readsOwn: [...readsOf(needs["passing-own"])],
    bind: (entry, { device, index, policy }) =>
      entry?.image.kind === image
        ? new BoundOperation<ImageSituation, IndexedImage>(self, spec, needs, entry, {
            device,
            index,
            policy,
            entry,
            state: NO_STATE,
          })
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
