import { Chance } from "~/core/schedule/chance";
import { atLeast } from "./confidence";
import { type Aim, type Option, type Placed, type Question, sameOption } from "./question";
import { FAIR_SUM, type Scores } from "./verdict";

/** Scores below which an aim must not fall while another one is made better. */
export type Floors = Partial<Readonly<Record<Aim, number>>>;

/** Looks at the clock this often. */
const BREATH = 256;
/** Rounds per device without anything gained after which nothing more is expected. */
const PATIENCE = 300;
const TINY = 1e-9;

/**
 * Makes one aim of a division better by small changes (a device goes somewhere else, two change places), for as long as it
 * is allowed to; none of the others falls below its floor. Quick where the exact solver is slow; proves nothing.
 */
export function polish(
  question: Question,
  placed: readonly Placed[],
  aim: Aim,
  floors: Floors,
  { seed, pinned, goOn }: { readonly seed: number; readonly pinned: ReadonlySet<string>; readonly goOn: () => boolean },
): Placed[] {
  const state = new State(question, placed, pinned);
  const chance = new Chance(seed);
  const free = question.candidates.flatMap(({ device, options }, k) =>
    pinned.has(device) || options.length === 0 ? [] : [k],
  );
  if (free.length === 0) return [...placed];
  let scores = state.scores();
  let guide = state.guide(aim, scores);
  let best = { value: scores[aim], chosen: state.chosen.slice() };
  const falls = (next: Scores) => Object.entries(floors).some(([key, floor]) => next[key as Aim] < floor - TINY);
  let idle = 0;
  for (let round = 0; idle < free.length * PATIENCE && (round % BREATH > 0 || goOn()); round++, idle++) {
    const one = free[chance.below(free.length)];
    const undo: (readonly [number, number])[] = [[one, state.chosen[one]]];
    const options = state.optionsOf(one);
    const came = state.chosen[one] >= 0 ? options[state.chosen[one]].group : null;
    const next = chance.below(options.length + 1) - 1;
    state.choose(one, next);
    // Somebody makes room there, or takes the place that came free, or does anything else.
    if (chance.below(3) > 0) {
      const other = free[chance.below(free.length)];
      if (other !== one) {
        undo.push([other, state.chosen[other]]);
        const others = state.optionsOf(other);
        const back = others.findIndex(({ group }) => group === came);
        state.choose(other, back >= 0 && chance.below(2) === 0 ? back : chance.below(others.length + 1) - 1);
      }
    }
    const after = state.fits() ? state.scores() : null;
    const leads = after ? state.guide(aim, after) : Number.NEGATIVE_INFINITY;
    if (after && leads >= guide - TINY && !falls(after)) {
      if (leads > guide + TINY) idle = 0;
      scores = after;
      guide = leads;
      if (scores[aim] >= best.value - TINY) best = { value: scores[aim], chosen: state.chosen.slice() };
    } else for (const [device, choice] of undo.reverse()) state.choose(device, choice);
  }
  for (const k of free) state.choose(k, best.chosen[k]);
  return state.placed();
}

/** How much more the larger of several shortfalls leads than the smaller: high enough that the largest decides. */
const STEEP = 12;

/** What a group has so far. */
type Held = { readonly place: number; readonly chances: number[]; expected: number; hands: number };

/** A division that is changed device by device, with its sums kept. */
class State {
  /** Per device, which of its options; -1 for none. */
  readonly chosen: Int32Array;
  private readonly options: readonly (readonly Option[])[];
  private readonly groups = new Map<string, Held>();
  private readonly met: (boolean | null)[];
  private readonly builds = new Map<string, number>();
  private kinds = new Map<string, number>();
  private years = 0;
  private hands = 0;

  constructor(
    private readonly question: Question,
    placed: readonly Placed[],
    pinned: ReadonlySet<string>,
  ) {
    const never = new Set(
      question.pins.filter(({ kind }) => kind === "never").map(({ device, group }) => `${device}|${group}`),
    );
    question.groups.forEach(({ id }, place) => {
      this.groups.set(id, { place, chances: [], expected: 0, hands: 0 });
    });
    this.met = question.groups.map(() => null);
    this.options = question.candidates.map(({ device, options }) =>
      options.filter(({ group }) => this.groups.has(group) && (pinned.has(device) || !never.has(`${device}|${group}`))),
    );
    this.chosen = new Int32Array(question.candidates.length).fill(-1);
    const place = new Map(question.candidates.map(({ device }, k) => [device, k]));
    for (const { device, option } of placed) {
      const k = place.get(device) as number;
      // Devices of one class share their options in what the solver found: the same choice, but not the same object.
      this.choose(
        k,
        this.options[k].findIndex((each) => sameOption(each, option)),
      );
    }
  }

  optionsOf(device: number): readonly Option[] {
    return this.options[device];
  }

  choose(device: number, next: number): void {
    const before = this.chosen[device];
    if (before === next) return;
    if (before >= 0) this.count(this.options[device][before], -1);
    if (next >= 0) this.count(this.options[device][next], 1);
    this.chosen[device] = next;
  }

  private count(option: Option, by: 1 | -1): void {
    const group = this.groups.get(option.group);
    if (!group) return;
    if (by === 1) group.chances.push(option.chance);
    else group.chances.splice(group.chances.indexOf(option.chance), 1);
    group.expected += by * option.chance;
    group.hands += by * option.hands;
    this.met[group.place] = null;
    this.builds.set(option.build, (this.builds.get(option.build) ?? 0) + by);
    if (this.question.groups[group.place].alike) {
      const kind = `${option.group}|${option.model}`;
      this.kinds.set(kind, (this.kinds.get(kind) ?? 0) + by);
    }
    this.years += by * option.years * option.chance;
    this.hands += by * option.hands;
  }

  /** Nobody has more than they take, and the bench has the minutes. */
  fits(): boolean {
    const { groups, bench } = this.question;
    if (groups.some(({ id, wanted, spares }) => (this.groups.get(id)?.chances.length ?? 0) > wanted + spares))
      return false;
    return bench.every(({ day, minutes }) => {
      let used = 0;
      for (const { id, by } of groups) if (by <= day) used += this.groups.get(id)?.hands ?? 0;
      return used <= minutes + TINY;
    });
  }

  scores(): Scores {
    const { groups, confidence } = this.question;
    let least = 0;
    let largest = 0;
    let sum = 0;
    for (const { id, wanted, least: needed, weight } of groups) {
      const group = this.groups.get(id);
      if (!group) continue;
      this.met[group.place] ??= atLeast(group.chances, needed) >= confidence - TINY;
      if (this.met[group.place]) least += weight;
      const short = Math.max(0, 1 - group.expected / wanted);
      largest = Math.max(largest, short * weight);
      sum += short;
    }
    let kinds = 0;
    for (const count of this.builds.values()) if (count > 0) kinds++;
    for (const count of this.kinds.values()) if (count > 0) kinds++;
    return { least, fair: -largest - FAIR_SUM * sum, years: this.years, builds: -kinds, hands: -this.hands };
  }

  /**
   * What leads small changes to a better aim: the aim itself, but for fair shares. The largest shortfall alone says of hardly
   * any change whether it helps; a steep mean of all of them does.
   */
  guide(aim: Aim, scores: Scores): number {
    if (aim !== "fair") return scores[aim];
    let sum = 0;
    let steep = 0;
    for (const { id, wanted, weight } of this.question.groups) {
      const short = Math.max(0, 1 - (this.groups.get(id)?.expected ?? 0) / wanted);
      steep += (short * weight) ** STEEP;
      sum += short;
    }
    return -(steep ** (1 / STEEP)) - FAIR_SUM * sum;
  }

  placed(): Placed[] {
    return this.question.candidates.flatMap(({ device }, k) =>
      this.chosen[k] < 0 ? [] : [{ device, option: this.options[k][this.chosen[k]] }],
    );
  }
}
