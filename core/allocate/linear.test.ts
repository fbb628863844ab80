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
