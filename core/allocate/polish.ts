import { Chance } from "~/core/schedule/chance";
import type { Aim, Placed, Question } from "./question";
import { type Floors, Tally, TINY } from "./tally";
import type { Scores } from "./verdict";

/** Looks at the clock this often. */
const BREATH = 256;
/** Rounds per device without anything gained after which nothing more is expected. */
const PATIENCE = 300;

type Changes = {
  readonly seed: number;
  /** Devices that stay where they are. */
  readonly pinned: ReadonlySet<string>;
  /** Whether there is still time; told the scores that are led by. */
  readonly goOn: (scores: Scores) => boolean;
};

/**
 * Makes one aim of a division better by small changes (a device goes somewhere else, two change places), for as long as it
 * is allowed to; none of the others falls below its floor. Quick where the exact solver is slow; proves nothing.
 */
export function polish(
  question: Question,
  placed: readonly Placed[],
  aim: Aim,
  floors: Floors,
  { seed, pinned, goOn }: Changes,
): Placed[] {
  const tally = new Tally(question, placed, pinned);
  const moves = new Moves(question, tally, pinned, seed);
  if (moves.free.length === 0) return [...placed];
  let scores = tally.scores();
  let guide = tally.guide(aim, scores);
  const held = Object.entries(floors) as [Aim, number | undefined][];
  const falls = (next: Scores) => held.some(([key, floor]) => floor !== undefined && next[key] < floor - TINY);
  let best = { value: scores[aim], chosen: tally.chosen.slice() };
  for (let round = 0, idle = 0; idle < moves.free.length * PATIENCE; round++, idle++) {
    if (round % BREATH === 0 && !goOn(scores)) break;
    moves.make();
    const after = tally.fits() ? tally.scores() : null;
    const leads = after ? tally.guide(aim, after) : Number.NEGATIVE_INFINITY;
    if (after && leads >= guide - TINY && !falls(after)) {
      if (leads > guide + TINY) idle = 0;
      scores = after;
      guide = leads;
      if (scores[aim] >= best.value - TINY) best = { value: scores[aim], chosen: tally.chosen.slice() };
    } else moves.undo();
  }
  for (const k of moves.free) tally.choose(k, best.chosen[k]);
  return tally.placed();
}

/** Small changes by chance, each of which can be taken back. */
class Moves {
  /** Places of devices that may go somewhere else. */
  readonly free: readonly number[];
  private readonly chance: Chance;
  private readonly before: [device: number, choice: number][] = [];

  constructor(
    { candidates }: Question,
    private readonly tally: Tally,
    pinned: ReadonlySet<string>,
    seed: number,
  ) {
    this.chance = new Chance(seed);
    this.free = candidates.flatMap(({ device }, k) => (pinned.has(device) || tally.countOf(k) === 0 ? [] : [k]));
  }

  make(): void {
    const { chance, tally, free, before } = this;
    before.length = 0;
    const one = free[chance.below(free.length)];
    const came = tally.groupOf(one);
    this.choose(one, chance.below(tally.countOf(one) + 1) - 1);
    // Somebody makes room there, or takes the place that came free, or does anything else.
    if (chance.below(3) === 0) return;
    const other = free[chance.below(free.length)];
    if (other === one) return;
    const back = came < 0 ? -1 : tally.wayTo(other, came);
    this.choose(other, back >= 0 && chance.below(2) === 0 ? back : chance.below(tally.countOf(other) + 1) - 1);
  }

  private choose(device: number, next: number): void {
    this.before.push([device, this.tally.chosen[device]]);
    this.tally.choose(device, next);
  }

  undo(): void {
    for (let k = this.before.length - 1; k >= 0; k--) this.tally.choose(...this.before[k]);
  }
}
