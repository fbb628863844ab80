import type { FactKey } from "~/core/device/fact";
import type { ReasonCode } from "~/core/ways/reasons";

/** What a rule could not answer: the fact it misses, and why it matters. */
export interface OpenFact {
  readonly fact: FactKey;
  readonly code: ReasonCode;
}

const MOST = 31;

/** The open questions of one search, each a bit of a number, so that paths are compared quickly. */
export class Questions {
  private readonly bits = new Map<string, number>();
  private readonly asked: OpenFact[] = [];

  /**
   * The bit of a question.
   *
   * @throws RangeError at the 32nd: a number has no more bits that can be compared
   */
  bit(fact: FactKey, code: ReasonCode): number {
    const key = `${code}\n${fact}`;
    let bit = this.bits.get(key);
    if (bit === undefined) {
      if (this.asked.length >= MOST)
        throw new RangeError(`More than ${MOST} questions are open in one plan: Questions needs a second number`);
      bit = 1 << this.asked.length;
      this.bits.set(key, bit);
      this.asked.push({ fact, code });
    }
    return bit;
  }

  /** The questions of a mask. */
  of(mask: number): OpenFact[] {
    return mask === 0 ? [] : this.asked.filter((_q, i) => mask & (1 << i));
  }
}
