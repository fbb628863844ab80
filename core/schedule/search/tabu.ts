import type { Chance } from "../chance";
import type { Graph } from "./graph";

/** Rounds that what was turned round stays so, and by how many more at most: few work best (measured on job shops). */
const TENURE = 9;
const TENURE_SPREAD = 6;

/** A task goes right behind, or right before, another one of its machine. */
type Move = { readonly task: number; readonly other: number; readonly behind: boolean; readonly estimate: number };

/**
 * Tabu search over the orders of machines: the best allowed move along a longest path is made, also when it makes
 * things worse, and what it turned round may not be turned back for a while.
 *
 * @source Balas and Vazacopoulos (1998), moves and estimates; Zhang et al. (2007), the neighbourhood N6
 */
export class Tabu {
  /** Until which round a pair of one machine must not come into this order again; by task × task. */
  private readonly until: Int32Array;
  private round = 0;
  private readonly spareHeads: Float64Array;
  private chosen: Move | null = null;
  private any: Move | null = null;
  private ties = 0;
  private seen = 0;

  constructor(
    private readonly graph: Graph,
    private readonly chance: Chance,
  ) {
    this.until = new Int32Array(graph.count * graph.count);
    this.spareHeads = new Float64Array(graph.count);
  }

  /** What was turned round is forgotten. */
  forget(): void {
    this.until.fill(0);
    this.round = 0;
  }

  /**
   * Makes one move in the measured graph.
   *
   * @param best the shortest length so far: whoever is estimated below it may break a tabu
   * @returns false when there is nothing to move: then the order is the best there is
   */
  step(best: number): boolean {
    const { graph, chance } = this;
    this.round++;
    this.chosen = null;
    this.any = null;
    this.ties = 0;
    this.seen = 0;
    for (const block of graph.criticalBlocks((count) => chance.below(count))) this.considerBlock(block, best);
    const move = this.chosen ?? this.any;
    if (!move) return false;
    this.make(move);
    return true;
  }

  private make({ task, other, behind }: Move): void {
    const { graph, until, chance } = this;
    const stays = this.round + TENURE + chance.below(TENURE_SPREAD);
    const { count } = graph;
    if (behind) {
      for (let k = task; k !== other; ) {
        k = graph.next[k];
        until[task * count + k] = stays;
      }
      graph.moveBehind(task, other);
    } else {
      for (let k = task; k !== other; ) {
        k = graph.previous[k];
        until[k * count + task] = stays;
      }
      graph.moveBefore(task, other);
    }
  }

  /**
   * Whether a move brings back what was turned round: only its outermost pair is asked. (Asking all that it passes
   * forbids so much that the published job shops come out a per cent longer: measured.)
   */
  private isTabu({ task, other, behind }: Move): boolean {
    const { count } = this.graph;
    return this.until[behind ? other * count + task : task * count + other] > this.round;
  }

  /** Every task of a block to its ends, and its ends into it; only what can't make a ring. */
  private considerBlock(block: readonly number[], best: number): void {
    const last = block.length - 1;
    for (let k = 0; k < last; k++) this.considerBehind(block[k], block[last], best);
    for (let k = last > 1 ? 1 : 2; k <= last; k++) this.considerBefore(block[k], block[0], best);
    for (let k = 1; k < last; k++) {
      this.considerBehind(block[0], block[k], best);
      this.considerBefore(block[last], block[k], best);
    }
  }

  private considerBehind(task: number, other: number, best: number): void {
    const { afterAt, afters, tails, minutes } = this.graph;
    const rest = minutes[other] + tails[other];
    for (let k = afterAt[task]; k < afterAt[task + 1]; k++) if (tails[afters[k]] >= rest) return;
    this.consider(task, other, true, this.estimateBehind(task, other), best);
  }

  private considerBefore(task: number, other: number, best: number): void {
    const { beforeAt, befores, heads, minutes } = this.graph;
    const end = heads[other] + minutes[other];
    for (let k = beforeAt[task]; k < beforeAt[task + 1]; k++) if (heads[befores[k]] >= end) return;
    this.consider(task, other, false, this.estimateBefore(task, other), best);
  }

  /** Keeps the best move that is allowed, and any move for when none is; each of several equals is as likely. */
  private consider(task: number, other: number, behind: boolean, estimate: number, best: number): void {
    const { chance, chosen } = this;
    const move = { task, other, behind, estimate };
    if (chance.below(++this.seen) === 0) this.any = move;
    if (chosen && estimate > chosen.estimate) return;
    if (estimate >= best && this.isTabu(move)) return;
    this.ties = chosen && estimate === chosen.estimate ? this.ties + 1 : 1;
    if (this.ties === 1 || chance.below(this.ties) === 0) this.chosen = move;
  }

  /** Longest path through the moved tasks, with heads before and tails behind them as they are. */
  private estimateBehind(task: number, other: number): number {
    const { previous, next, heads, tails, minutes, chainHeads, chainTails } = this.graph;
    const { spareHeads } = this;
    const leads = previous[task];
    let end = leads >= 0 ? heads[leads] + minutes[leads] : 0;
    for (let k = next[task]; ; k = next[k]) {
      spareHeads[k] = Math.max(chainHeads[k], end);
      end = spareHeads[k] + minutes[k];
      if (k === other) break;
    }
    spareHeads[task] = Math.max(chainHeads[task], end);
    const follows = next[other];
    let rest = Math.max(chainTails[task], follows >= 0 ? tails[follows] + minutes[follows] : 0) + minutes[task];
    let longest = spareHeads[task] + rest;
    for (let k = other; k !== task; k = previous[k]) {
      rest = Math.max(chainTails[k], rest) + minutes[k];
      if (spareHeads[k] + rest > longest) longest = spareHeads[k] + rest;
    }
    return longest;
  }

  private estimateBefore(task: number, other: number): number {
    const { previous, next, heads, tails, minutes, chainHeads, chainTails } = this.graph;
    const { spareHeads } = this;
    const leads = previous[other];
    spareHeads[task] = Math.max(chainHeads[task], leads >= 0 ? heads[leads] + minutes[leads] : 0);
    let end = spareHeads[task] + minutes[task];
    for (let k = other; k !== task; k = next[k]) {
      spareHeads[k] = Math.max(chainHeads[k], end);
      end = spareHeads[k] + minutes[k];
    }
    const follows = next[task];
    let rest = follows >= 0 ? tails[follows] + minutes[follows] : 0;
    let longest = 0;
    for (let k = previous[task]; ; k = previous[k]) {
      rest = Math.max(chainTails[k], rest) + minutes[k];
      if (spareHeads[k] + rest > longest) longest = spareHeads[k] + rest;
      if (k === other) break;
    }
    return Math.max(longest, spareHeads[task] + Math.max(chainTails[task], rest) + minutes[task]);
  }
}
