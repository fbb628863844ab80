import type { PlannedOperation, Taught } from "~/core/upgrade/search";
import type { OperationCost } from "~/core/ways/operation";
import { type Chance, type Count, pooledChance } from "./chance";
import { type Pace, pooledPace } from "./durations";
import type { Observation } from "./observe";

/** What a figure about an operation rests on. */
export interface Learned extends Chance {
  readonly kind: string;
  readonly image: string | null;
  /** Own runs of this operation: with this image on this model, with this image, of this kind. */
  readonly here: Count;
  readonly imageRuns: Count;
  readonly all: Count;
  readonly pace: Pace;
}

const countOf = (list: readonly Observation[]): Count => ({ ok: list.filter((o) => o.ok).length, of: list.length });
const pacesOf = (list: readonly Observation[]) => list.flatMap((o) => o.pace ?? []);

/** What own runs taught, ready to be asked while planning. */
export class Experience {
  private readonly byKind = new Map<string, Observation[]>();
  private readonly kept = new Map<string, Learned>();

  /** @param weight own runs that the handbook's figures weigh as much as */
  constructor(
    observations: Iterable<Observation>,
    private readonly weight: number,
  ) {
    for (const o of observations) {
      const list = this.byKind.get(o.kind);
      if (list) list.push(o);
      else this.byKind.set(o.kind, [o]);
    }
  }

  /** True where own runs say anything about an operation of this kind. */
  knows(kind: string): boolean {
    return this.byKind.has(kind);
  }

  /** The chance and pace of an operation, with what they rest on; null where there was no own run of its kind. */
  learned({ kind, image }: PlannedOperation, model: string, believed: number): Learned | null {
    const all = this.byKind.get(kind);
    if (!all) return null;
    const key = `${kind}|${image}|${model}|${believed}`;
    const kept = this.kept.get(key);
    if (kept) return kept;
    const same = all.filter((o) => o.image === image);
    const here = same.filter((o) => o.model === model);
    const otherModels = same.filter((o) => o.model !== model);
    const otherImages = all.filter((o) => o.image !== image);
    const levels = { otherImages: countOf(otherImages), otherModels: countOf(otherModels), here: countOf(here) };
    const learned: Learned = {
      kind,
      image,
      ...pooledChance(levels, believed, this.weight),
      here: levels.here,
      imageRuns: countOf(same),
      all: countOf(all),
      pace: pooledPace(
        { otherImages: pacesOf(otherImages), otherModels: pacesOf(otherModels), here: pacesOf(here) },
        this.weight,
      ),
    };
    this.kept.set(key, learned);
    return learned;
  }

  /** What the planner asks while it plans for a model; nothing where there was no run yet. */
  on(model: string): Taught | undefined {
    if (this.byKind.size === 0) return undefined;
    const learned = (operation: PlannedOperation, usual: OperationCost) =>
      this.learned(operation, model, 1 - usual.failure);
    return {
      learned,
      cost: (operation, usual) => {
        const found = learned(operation, usual);
        if (!found) return usual;
        return {
          ...usual,
          failure: 1 - found.mean,
          handsOn: usual.handsOn * found.pace.median,
          unattended: usual.unattended * found.pace.median,
        };
      },
    };
  }
}
