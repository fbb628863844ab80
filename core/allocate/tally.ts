import { atLeast } from "./confidence";
import { type Aim, neverIn, type Option, type Placed, type Question, sameOption, takes } from "./question";
import { FAIR_SUM, type Scores } from "./verdict";

/** Scores below which an aim must not fall while another one is made better. */
export type Floors = { readonly [A in Aim]?: number | undefined };

/** What a computer's rounding makes. */
export const TINY = 1e-9;
/** How much more the larger of several shortfalls leads than the smaller: high enough that the largest decides. */
const STEEP = 12;
/** How much of its weight a group that has nearly enough counts, to lead there. */
const NEAR = 0.3;

/** What a group has so far. */
type Held = {
  readonly chances: number[];
  expected: number;
  met: boolean | null;
  near: number;
};
/** An option with its places in the sums, and what it takes of the bench's times. */
type Choice = {
  readonly option: Option;
  readonly group: number;
  readonly build: number;
  readonly kind: number;
  readonly minutes: readonly (readonly [time: number, minutes: number])[];
};

/** A division that is changed device by device, with its sums kept. */
export class Tally {
  /** Per device, which of its options; -1 for none. */
  readonly chosen: Int32Array;
  private readonly choices: readonly (readonly Choice[])[];
  private readonly held: Held[];
  private readonly used: Int32Array;
  /** Minutes that are taken of each of the bench's times. */
  private readonly taken: Float64Array;
  private kinds = 0;
  private years = 0;
  private hands = 0;

  /** @param pinned devices that stay where they are */
  constructor(
    private readonly question: Question,
    placed: readonly Placed[],
    pinned: ReadonlySet<string>,
  ) {
    const { groups, candidates, bench } = question;
    const isNever = neverIn(question.pins);
    const place = new Map(groups.map(({ id }, k) => [id, k]));
    const numbers = new Map<string, number>();
    const numberOf = (text: string) => {
      if (!numbers.has(text)) numbers.set(text, numbers.size);
      return numbers.get(text) as number;
    };
    this.choices = candidates.map(({ device, options }) =>
      options.flatMap((option) => {
        const group = place.get(option.group);
        if (group === undefined || (!pinned.has(device) && isNever(device, option.group))) return [];
        const kind = groups[group].alike ? numberOf(`alike ${option.group}|${option.model}`) : -1;
        const minutes = bench.flatMap((time, k) => {
          const each = groups[group].by <= time.day ? takes(option, time) : 0;
          return each > 0 ? [[k, each] as const] : [];
        });
        return [{ option, group, build: numberOf(`build ${option.build}`), kind, minutes }];
      }),
    );
    this.held = groups.map(() => ({ chances: [], expected: 0, met: null, near: 0 }));
    this.used = new Int32Array(numbers.size);
    this.taken = new Float64Array(bench.length);
    this.chosen = new Int32Array(candidates.length).fill(-1);
    const row = new Map(candidates.map(({ device }, k) => [device, k]));
    for (const { device, option } of placed) {
      const k = row.get(device) as number;
      // Devices of one class share their options in what the solver found: the same choice, but not the same object.
      this.choose(
        k,
        this.choices[k].findIndex((each) => sameOption(each.option, option)),
      );
    }
  }

  countOf(device: number): number {
    return this.choices[device].length;
  }

  /** The number of the group that a device goes to; -1 for none. */
  groupOf(device: number): number {
    return this.chosen[device] < 0 ? -1 : this.choices[device][this.chosen[device]].group;
  }

  /** The first way in which a device can go to a group; -1 for none. */
  wayTo(device: number, group: number): number {
    return this.choices[device].findIndex((choice) => choice.group === group);
  }

  choose(device: number, next: number): void {
    const before = this.chosen[device];
    if (before === next) return;
    if (before >= 0) this.count(this.choices[device][before], -1);
    if (next >= 0) this.count(this.choices[device][next], 1);
    this.chosen[device] = next;
  }

  private count({ option, group, build, kind, minutes }: Choice, by: 1 | -1): void {
    const held = this.held[group];
    if (by === 1) held.chances.push(option.chance);
    else held.chances.splice(held.chances.indexOf(option.chance), 1);
    held.expected += by * option.chance;
    for (const [time, each] of minutes) this.taken[time] += by * each;
    held.met = null;
    this.countKind(build, by);
    if (kind >= 0) this.countKind(kind, by);
    this.years += by * option.years * option.chance;
    this.hands += by * option.hands;
  }

  private countKind(kind: number, by: 1 | -1): void {
    const before = this.used[kind];
    this.used[kind] = before + by;
    this.kinds += Number(before + by > 0) - Number(before > 0);
  }

  /** Nobody has more than they take, and the bench has the minutes. */
  fits(): boolean {
    const { groups, bench } = this.question;
    if (groups.some(({ wanted, spares }, k) => this.held[k].chances.length > wanted + spares)) return false;
    return bench.every(({ minutes }, k) => this.taken[k] <= minutes + TINY);
  }

  scores(): Scores {
    const { groups } = this.question;
    let least = 0;
    let largest = 0;
    let sum = 0;
    groups.forEach(({ wanted, weight }, k) => {
      if (this.isMet(k)) least += weight;
      const short = Math.max(0, 1 - this.held[k].expected / wanted);
      largest = Math.max(largest, short * weight);
      sum += short;
    });
    return { least, fair: -largest - FAIR_SUM * sum, years: this.years, builds: -this.kinds, hands: -this.hands };
  }

  private isMet(k: number): boolean {
    const held = this.held[k];
    if (held.met === null) {
      const { confidence, groups } = this.question;
      const chance = atLeast(held.chances, groups[k].least);
      held.met = chance >= confidence - TINY;
      held.near = Math.min(1, chance / confidence) ** 2;
    }
    return held.met;
  }

  /** How near the groups that have not enough are to it: less than one of them has by having enough. */
  private nearly(): number {
    let near = 0;
    this.question.groups.forEach(({ weight }, k) => {
      if (!this.isMet(k)) near += weight * NEAR * this.held[k].near;
    });
    return near;
  }

  /**
   * What leads small changes to a better aim: the aim itself, but where it says of hardly any change whether it helps. For
   * the largest shortfall a steep mean of all of them does; for least numbers, how near the others are to theirs.
   */
  guide(aim: Aim, scores: Scores): number {
    if (aim === "least") return scores.least + this.nearly();
    if (aim !== "fair") return scores[aim];
    let sum = 0;
    let steep = 0;
    this.question.groups.forEach(({ wanted, weight }, k) => {
      const short = Math.max(0, 1 - this.held[k].expected / wanted);
      steep += (short * weight) ** STEEP;
      sum += short;
    });
    return -(steep ** (1 / STEEP)) - FAIR_SUM * sum;
  }

  placed(): Placed[] {
    return this.question.candidates.flatMap(({ device }, k) =>
      this.chosen[k] < 0 ? [] : [{ device, option: this.choices[k][this.chosen[k]].option }],
    );
  }
}
