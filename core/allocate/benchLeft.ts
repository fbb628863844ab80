import { type BenchTime, type Option, takes } from "./question";

/** What is left of the bench's times while one option after the other is given its minutes. */
export class BenchLeft {
  private readonly times: readonly (BenchTime & { left: number })[];

  constructor(bench: readonly BenchTime[]) {
    this.times = bench.map((time) => ({ ...time, left: time.minutes }));
  }

  /** Gives an option that is due by a day its minutes. @returns false, and gives none, where there is no time for it */
  book(option: Option, by: string): boolean {
    const held = this.times.filter(({ day }) => by <= day);
    if (held.some((time) => time.left < takes(option, time))) return false;
    for (const time of held) time.left -= takes(option, time);
    return true;
  }
}
