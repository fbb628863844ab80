import loadHighs from "highs";
import { Linear } from "./linear";

/** x and y share ten; y has reached six. */
async function twoNumbers() {
  const linear = new Linear(await loadHighs());
  const [x, y] = [linear.number(0, 10), linear.number(0, 10)];
  linear.atMost(
    [
      [x, 1],
      [y, 1],
    ],
    10,
  );
  linear.floor([[y, 1]], 6);
  const largest = (more: Parameters<Linear["largest"]>[2]) => {
    const found = linear.largest([[x, 1]], 5, more);
    return found && [...Array.from(found.values).slice(0, 2).map(Math.round), found.value, found.bound];
  };
  return { linear, x, largest };
}

test("a floor is kept, unless its price is below what falling brings; a margin asks for more", async () => {
  const { largest } = await twoNumbers();
  expect(largest({})).toEqual([4, 6, 4, 4]);
  expect(largest({ prices: [2] })?.slice(0, 3)).toEqual([4, 6, 4]);
  expect(largest({ prices: [0.5] })?.slice(0, 3)).toEqual([10, 0, 10]);
  expect(largest({ prices: [2], margins: [1.5] })?.slice(0, 3)).toEqual([2, 8, 2]);
  expect(largest({ margins: [1.5] })?.slice(0, 3)).toEqual([2, 8, 2]);
});

test("without whole numbers it tells what a floor costs, and what a choice that is not taken would", async () => {
  const { linear, x } = await twoNumbers();
  const z = linear.number(0, 1);
  linear.atMost(
    [
      [x, 1],
      [z, 3],
    ],
    3,
  );
  const found = linear.largest(
    [
      [x, 1],
      [z, 1],
    ],
    5,
    { relaxed: true },
  );
  expect(found?.value).toBeCloseTo(3);
  expect(Math.abs(found?.columnCosts?.[z] ?? 0)).toBeCloseTo(2);
  // The floor is not what holds it back: one more of it costs nothing.
  expect(found?.floorCosts).toEqual([0]);
});

test("what a sum of whole numbers can't exceed is a whole number itself", async () => {
  const linear = new Linear(await loadHighs());
  const x = linear.number(0, 10);
  linear.atMost([[x, 2]], 5);
  const boundOf = (factor: number) => linear.largest([[x, factor]], 5, { relaxed: true })?.bound;
  expect(boundOf(1)).toBe(2);
  expect(boundOf(0.5)).toBeCloseTo(1.25);
});

test("of all numbers only some may have to be whole: the bound is closer than without any, and no answer is half a yes", async () => {
  const linear = new Linear(await loadHighs());
  const [yes, devices] = [linear.number(0, 1), linear.number(0, 9)];
  linear.atMost([[devices, 2]], 5);
  linear.atLeast(
    [
      [devices, 1],
      [yes, -3],
    ],
    0,
  );
  const goal = [
    [yes, 1],
    [devices, 0.1],
  ] as const;
  expect(linear.largest(goal, 5, { relaxed: true })?.bound).toBeCloseTo(2.5 / 3 + 0.25);
  expect(linear.largest(goal, 5, { whole: new Set([yes]) })?.bound).toBeCloseTo(0.25);
  expect(linear.largest(goal, 5)?.bound).toBeCloseTo(0.2);
});

test("a floor under a sum of whole numbers is the next whole number, but for what a computer can't tell apart", async () => {
  const linear = new Linear(await loadHighs());
  const [x, y] = [linear.number(0, 9), linear.number(0, 9)];
  linear.floor([[x, 1]], 3.2);
  linear.floor([[y, 1]], 4 + 1e-9);
  const free = [
    [x, -1],
    [y, -0.5],
  ] as const;
  const found = linear.largest(free, 5, { relaxed: true });
  expect([found?.values[x], found?.values[y]].map((value) => Math.round(1000 * (value ?? 0)) / 1000)).toEqual([4, 4]);
  // Half of it need not be whole: that floor stays what it is.
  linear.floor([[x, 0.5]], 3.2);
  expect(linear.largest([[x, -1]], 5, { relaxed: true })?.values[x]).toBeCloseTo(6.4);
});

test("nothing is looked for behind what is enough: what is proven by then is told", async () => {
  // Sixty knapsacks over the same numbers: what does without whole ones is a good deal more than what does with them.
  const linear = new Linear(await loadHighs());
  const columns = Array.from({ length: 45 }, () => linear.number(0, 1));
  const goal = columns.map((column, k) => [column, 7 + ((k * 37) % 11)] as const);
  for (let k = 0; k < 60; k++) {
    const row = columns.map((column, n) => [column, 3 + ((n * (k + 5) * 29) % 17)] as const);
    linear.atMost(row, 60 + (k % 7));
  }
  const look = (enough?: () => number) => {
    const told: number[] = [];
    linear.largest(goal, 20, { onBound: (bound) => told.push(bound), enough });
    return told;
  };
  const [first, ...closer] = look();
  expect(closer.length).toBeGreaterThan(0);
  expect(look(() => first)).toEqual([first]);
});
