import fc from "fast-check";
import jstat from "jstat";
import { atLeast, numberReady } from "./confidence";

// Reference library: the binomial distribution of jstat, where all chances are alike.
test.each([
  [5, 0.8],
  [40, 0.35],
  [1, 1],
])("%d alike chances of %d agree with the binomial distribution", (count, p) => {
  const chances = Array<number>(count).fill(p);
  numberReady(chances).forEach((chance, k) => {
    expect(chance).toBeCloseTo(jstat.jStat.binomial.pdf(k, count, p), 10);
  });
});

test("different chances agree with counting every outcome", () => {
  const chances = [0.1, 0.55, 0.9, 0.3, 0.75];
  const counted = Array<number>(6).fill(0);
  for (let outcome = 0; outcome < 32; outcome++) {
    let chance = 1;
    let yes = 0;
    chances.forEach((p, k) => {
      const is = Math.floor(outcome / 2 ** k) % 2 === 1;
      chance *= is ? p : 1 - p;
      yes += Number(is);
    });
    counted[yes] += chance;
  }
  numberReady(chances).forEach((chance, k) => {
    expect(chance).toBeCloseTo(counted[k], 12);
  });
  expect(atLeast(chances, 3)).toBeCloseTo(counted[3] + counted[4] + counted[5], 12);
});

test("none are always there, more than there are never", () => {
  expect(atLeast([], 0)).toBe(1);
  expect(atLeast([1, 1], 3)).toBe(0);
  expect(atLeast([1, 1], 2)).toBe(1);
});

test("at least so many agrees with the whole distribution, also with hundreds of them and chances near one", () => {
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 80 }),
      fc.nat(80),
      (chances, count) => {
        const whole = numberReady(chances).slice(count);
        expect(atLeast(chances, count)).toBeCloseTo(
          whole.reduce((sum, p) => sum + p, 0),
          9,
        );
      },
    ),
  );
  expect(atLeast(Array<number>(300).fill(0.999), 299)).toBeCloseTo(0.999 ** 300 + 300 * 0.999 ** 299 * 0.001, 12);
});
