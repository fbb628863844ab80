import { xoroshiro128plus } from "pure-rand/generator/xoroshiro128plus";

/** A repeatable stand-in for chance: the same seed gives the same row of numbers. */
export class Chance {
  private readonly from;

  constructor(seed: number) {
    this.from = xoroshiro128plus(seed);
  }

  /** A number from 0 up to, not including, 1. */
  next(): number {
    return (this.from.next() >>> 0) / 4_294_967_296;
  }

  /** A whole number from 0 up to, not including, `count`. */
  below(count: number): number {
    return Math.floor(this.next() * count);
  }
}
