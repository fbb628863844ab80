import fc from "fast-check";
import type { Window } from "./problem";
import { Profile } from "./profile";

const HORIZON = 120;

/** The same told minute by minute: slow, and so plain that it can't be wrong. */
class Minutes {
  readonly free: number[];
  constructor(capacity: number, open: readonly Window[] | null) {
    this.free = Array.from({ length: HORIZON }, (_, at) =>
      !open || open.some(([from, to]) => at >= from && at < to) ? capacity : 0,
    );
  }
  fit(from: number, minutes: number, amount: number): number {
    const after = (start: number) => this.free.slice(start, start + minutes).every((free) => free >= amount);
    for (let start = from; start + minutes <= HORIZON; start++) if (after(start)) return start;
    return Number.POSITIVE_INFINITY;
  }
  take(start: number, minutes: number, amount: number): void {
    for (let at = start; at < start + minutes; at++) this.free[at] -= amount;
  }
}

const hours = fc
  .array(fc.tuple(fc.integer({ min: 0, max: 9 }), fc.integer({ min: 1, max: 12 })), { minLength: 1, maxLength: 6 })
  .map((pairs) => {
    let at = 0;
    return pairs.map(([pause, long]): Window => {
      const from = at + pause;
      at = from + long;
      return [from, at];
    });
  });
const asks = fc.array(
  fc.record({
    from: fc.integer({ min: 0, max: 60 }),
    minutes: fc.integer({ min: 1, max: 9 }),
    amount: fc.integer({ min: 1, max: 3 }),
  }),
  { maxLength: 30 },
);

test("finds the same earliest room as counting minute by minute, evening after evening", () => {
  fc.assert(
    fc.property(hours, asks, (open, list) => {
      const profile = new Profile({ capacity: 3, open });
      const minutes = new Minutes(3, open);
      for (const { from, minutes: long, amount } of list) {
        const start = profile.fit(from, long, amount);
        expect(start).toBe(minutes.fit(from, long, amount));
        if (start === Number.POSITIVE_INFINITY) continue;
        profile.take(start, long, amount);
        minutes.take(start, long, amount);
      }
    }),
  );
});

test("is as new after clearing", () => {
  const profile = new Profile({ capacity: 1, open: [[10, 20]] });
  profile.take(10, 5, 1);
  expect(profile.fit(0, 6, 1)).toBe(Number.POSITIVE_INFINITY);
  profile.clear();
  expect(profile.fit(0, 6, 1)).toBe(10);
});

test("evenings that touch are one", () => {
  const touching = new Profile({
    capacity: 1,
    open: [
      [0, 10],
      [10, 20],
    ],
  });
  expect(touching.fit(5, 12, 1)).toBe(5);
});
