import type { Policy } from "~/core/policy/policy";
import type { CatalogueIndex, IndexedImage } from "./catalogueIndex";
import type { Outcome } from "./outcome";
import type { PlanDevice, PlanState } from "./state";

type Field = keyof PlanState;

/** What a rule may look at. Of the state it sees the fields it names, no others. */
export interface Situation<R extends Field = Field> {
  readonly device: PlanDevice;
  readonly state: Pick<PlanState, R>;
  readonly index: CatalogueIndex;
  readonly policy: Policy;
}

/** The same for a rule about an operation that takes an image. */
export interface ImageSituation<R extends Field = Field> extends Situation<R> {
  readonly entry: IndexedImage;
}

/**
 * A precondition: a value in an operation's list, never a branch in a long function.
 *
 * `reads` names the fields of the state its answer rests on; the compiler holds it to them. A rule that reads none is
 * lasting: no operation changes its answer. The search asks lasting rules once, the coverage matrix asks only them.
 */
export interface Rule<C = Situation> {
  (context: C): Outcome;
  readonly reads: readonly Field[];
  readonly lasting: boolean;
  /** It does not look at the image: one answer serves all images of an operation. */
  readonly shared: boolean;
}

const named = <C>(reads: readonly Field[], ask: (context: C) => Outcome, shared: boolean): Rule<C> =>
  Object.assign(ask, { reads, lasting: reads.length === 0, shared });

/**
 * A rule about the device and its state.
 *
 * @example rule(["locked"], ({ state }) => (state.locked ? fails("bootloader.locked", "…") : HOLDS))
 */
export function rule<R extends Field = never>(
  reads: readonly R[],
  ask: (situation: Situation<R>) => Outcome,
): Rule<Situation> {
  return named<Situation>(reads, ask, true);
}

/**
 * A rule that also looks at the image the operation is about.
 *
 * @example imageRule(["api"], ({ image }) => (image.api > 30 ? HOLDS : …)).reads // ["api"]
 */
export function imageRule<R extends Field = never>(
  reads: readonly R[],
  ask: (situation: ImageSituation<R>) => Outcome,
): Rule<ImageSituation> {
  return named<ImageSituation>(reads, ask, false);
}
