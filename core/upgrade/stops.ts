import type { ImageKind } from "~/core/catalogue/image";
import type { Bound } from "~/core/ways/operation";
import { INSTALLERS, type OperationKind, operationOf, PROVIDERS, takersOf } from "~/core/ways/registry";
import type { IndexedImage } from "./catalogueIndex";
import type { Fails, ReasonCode } from "./outcome";
import type { Path, SearchWorld } from "./search";
import { areAlike, type PlanState } from "./state";

/** Why an image is not reached: the first reason, in words a volunteer understands. */
export interface Stop {
  readonly image: string;
  readonly code: ReasonCode;
  readonly says: string;
}

/**
 * True for kinds of image that a device can end on.
 *
 * @example isSystemKind("recovery") // false
 */
export const isSystemKind = (kind: ImageKind) => INSTALLERS.has(kind);
export const isSystem = (entry: IndexedImage) => isSystemKind(entry.image.kind);
/** True for what somebody would look for at the end of a way: a system, or a stock system cleaned by a list. */
export const isAim = (entry: IndexedImage) => isSystem(entry) || entry.image.kind === "package-list";

type Blame = Pick<Fails, "code" | "says">;

const NOT_FINISHED: Blame = {
  code: "order.wrong-moment",
  says: "It can be written, but the device would not be finished afterwards",
};

/** States looked at for a reason; the cheapest come first. */
const STATES = 40;
/** How far behind a reason the reason for it is looked for. */
const DEEP = 3;

/**
 * Finds the first reason that stops an image, from the states the search did reach: the state that came nearest (fewest
 * failing preconditions) is taken, and behind a lock, a recovery or a base that is missing the reason why it can't be had.
 *
 * One for each plan: what stands behind a reason is worked out once, however many images share it.
 */
export class Stops {
  private readonly states: readonly PlanState[];
  /** What was found, by depth, image and operation. */
  private readonly kept: (Map<IndexedImage | null, Map<OperationKind, Blame | null>> | undefined)[] = [];
  private readonly shared = new Map<OperationKind, readonly (readonly [state: number, fail: number])[]>();

  /** @param paths what the search returned */
  constructor(
    paths: readonly Path[],
    private readonly world: SearchWorld,
  ) {
    this.states = paths.slice(0, STATES).map((p) => p.state);
  }

  of(entry: IndexedImage): Stop {
    const kinds = INSTALLERS.get(entry.image.kind) ?? takersOf(entry.image.kind).map(({ kind }) => kind);
    const blames = kinds.map((kind) => this.blame(kind, entry, 0));
    // Where one operation could write it, what stops the others says nothing; else what stops the one that is meant for it.
    const blame = blames.includes(null) ? null : (blames.find((b) => b && !ELSEWHERE.has(b.code)) ?? blames[0]);
    const { code, says } = blame ?? NOT_FINISHED;
    return { image: entry.image.id, code, says };
  }

  private blame(kind: OperationKind, entry: IndexedImage | null, depth: number): Blame | null {
    let byImage = this.kept[depth];
    if (!byImage) {
      byImage = new Map();
      this.kept[depth] = byImage;
    }
    let kept = byImage.get(entry);
    if (!kept) {
      kept = new Map();
      byImage.set(entry, kept);
    }
    let blame = kept.get(kind);
    if (blame === undefined) {
      blame = this.find(kind, entry, depth);
      kept.set(kind, blame);
    }
    return blame;
  }

  private find(kind: OperationKind, entry: IndexedImage | null, depth: number): Blame | null {
    const best = this.nearest(kind, entry);
    if (!best || depth >= DEEP) return best;
    const providers = PROVIDERS.get(best.code);
    if (!providers) return best;
    const deeper: Blame[] = [];
    for (const provider of providers) {
      const { image } = operationOf(provider);
      const { index, device } = this.world;
      const entries = image === null ? [null] : index.imagesOf(device.model, image);
      for (const candidate of entries) {
        const behind = this.blame(provider, candidate, depth + 1);
        if (behind === null) return best;
        if (!FRUITLESS.has(behind.code)) deeper.push(behind);
      }
    }
    const root = deeper[0];
    return root ? { code: root.code, says: best.says === root.says ? best.says : `${best.says}. ${root.says}` } : best;
  }

  /** The first failing precondition in the state that breaks the fewest; null where a state breaks none. */
  private nearest(kind: OperationKind, entry: IndexedImage | null): Blame | null {
    const bound = operationOf(kind).bind(entry, this.world);
    const [start] = this.states;
    if (!bound || !start) return null;
    let lasting = 0;
    let final = false;
    bound.ask("lasting-own", start, (outcome) => {
      if (outcome.is === "fails") {
        lasting++;
        final = FINAL.has(outcome.code);
      }
      return !final;
    });
    if (final) return bound.failure("all", start);
    let nearest = this.states.length;
    let fewest = Number.POSITIVE_INFINITY;
    for (const [k, besides] of this.sharedOf(kind, bound)) {
      const before = lasting + besides;
      if (before > fewest) break;
      if (before === fewest && k > nearest) continue;
      const count = before + bound.failures("passing-own", this.states[k]);
      if (count > fewest || (count === fewest && k > nearest)) continue;
      fewest = count;
      nearest = k;
    }
    return fewest === 0 ? null : bound.failure("all", this.states[nearest]);
  }

  /**
   * How many preconditions that do not look at the image fail, by state, the fewest first: one answer for all images of an
   * operation. Of states that no precondition about the image tells from each other only the best is there.
   */
  private sharedOf(kind: OperationKind, bound: Bound): readonly (readonly [state: number, fail: number])[] {
    let counts = this.shared.get(kind);
    if (!counts) {
      counts = this.countShared(bound);
      this.shared.set(kind, counts);
    }
    return counts;
  }

  private countShared(bound: Bound): readonly (readonly [state: number, fail: number])[] {
    const { states } = this;
    const { readsOwn } = bound.operation;
    const lasting = bound.failures("lasting-shared", states[0]);
    const failing = states.map((state) => lasting + bound.failures("passing-shared", state));
    const best: number[] = [];
    for (let k = 0; k < states.length; k++) {
      const at = best.findIndex((b) => areAlike(states[b], states[k], readsOwn));
      if (at < 0) best.push(k);
      else if (failing[k] < failing[best[at]]) best[at] = k;
    }
    return best.map((k) => [k, failing[k]] as const).sort((a, b) => a[1] - b[1] || a[0] - b[0]);
  }
}

/** Nothing done to a device makes it another model, or a withdrawn build good. All of them are told by looking at the image. */
const FINAL: ReadonlySet<ReasonCode> = new Set(["image.other-model", "image.cpu", "image.withdrawn", "image.rooted"]);

/** Reasons by which an operation says only that the image or the device is another operation's. */
export const ELSEWHERE: ReadonlySet<ReasonCode> = new Set([
  "flash.other-interface",
  "stock.other-form",
  "port.other-way",
]);

/** Reasons that say nothing about why a companion can't be had. */
const FRUITLESS: ReadonlySet<ReasonCode> = new Set([
  "order.wrong-moment",
  "image.other-model",
  "image.cpu",
  "image.not-needed",
  "bootloader.unlocked",
  ...ELSEWHERE,
]);
