import { Chance } from "~/core/schedule/chance";
import { Heap } from "./heap";

const drain = (heap: Heap<string>) => {
  const out: string[] = [];
  for (let next = heap.pop(); next !== null; next = heap.pop()) out.push(next);
  return out;
};

test("nothing comes out of an empty heap, again and again", () => {
  const heap = new Heap<string>();
  expect([heap.pop(), heap.pop()]).toEqual([null, null]);
  heap.push("a", 1);
  expect([heap.pop(), heap.pop()]).toEqual(["a", null]);
});

test("the smallest comes first, and of equals the one that came first: as a stable sort has it", () => {
  const chance = new Chance(7);
  for (let round = 0; round < 60; round++) {
    const heap = new Heap<string>();
    // Few different costs, so that there are many equals.
    const entries = Array.from({ length: 1 + chance.below(60) }, (_, turn) => ({
      cost: chance.below(1 + (round % 12)),
      turn,
    }));
    for (const { cost, turn } of entries) heap.push(`${cost}#${turn}`, cost);
    const sorted = [...entries].sort((a, b) => a.cost - b.cost);
    expect(drain(heap)).toEqual(sorted.map(({ cost, turn }) => `${cost}#${turn}`));
  }
});

test("what is put in while others are taken out finds its place", () => {
  const chance = new Chance(11);
  const heap = new Heap<string>();
  const waiting: { cost: number; turn: number }[] = [];
  for (let turn = 0; turn < 2000; turn++) {
    if (chance.below(5) < 3) {
      const entry = { cost: chance.below(40), turn };
      heap.push(`${turn}`, entry.cost);
      waiting.push(entry);
    } else {
      waiting.sort((a, b) => a.cost - b.cost || a.turn - b.turn);
      expect(heap.pop()).toBe(waiting.length ? `${waiting.shift()?.turn}` : null);
    }
  }
  expect(waiting.length).toBeGreaterThan(100);
});
