import fc from "fast-check";
import { Capacity } from "./capacity";

/** Minute by minute, as anybody would count it. */
function counted(resources: Resources, from: number, energy: number): number {
  let left = energy;
  for (let minute = from; minute < 200; minute++) {
    const height = resources.reduce(
      (sum, { capacity, open }) => sum + (!open || open.some(([a, b]) => a <= minute && minute < b) ? capacity : 0),
      0,
    );
    if (height === 0) continue;
    if (left <= height) return minute + Math.ceil(left / height);
    left -= height;
  }
  return 0;
}
type Resources = readonly { readonly capacity: number; readonly open: readonly (readonly [number, number])[] | null }[];

const hours = fc
  .uniqueArray(fc.integer({ min: 0, max: 60 }), { minLength: 0, maxLength: 8 })
  .map((times) => times.sort((a, b) => a - b))
  .map((t) => Array.from({ length: Math.floor(t.length / 2) }, (_, k) => [t[2 * k], t[2 * k + 1]] as const));
const resource = fc.record({ capacity: fc.integer({ min: 1, max: 3 }), open: hours });

test("what is borne within hours ends when counting minutes says", () => {
  fc.assert(
    fc.property(
      fc.array(resource, { minLength: 1, maxLength: 4 }),
      fc.nat(70),
      fc.nat(90),
      (resources, from, energy) => {
        expect(new Capacity(resources).whenBorne(from, energy)).toBe(counted(resources, from, energy));
      },
    ),
    { numRuns: 3000, seed: 7 },
  );
});

test("one of them open at all times, and all of them", () => {
  const evening = { capacity: 2, open: [[10, 20]] as const };
  const always = { capacity: 1, open: null };
  for (const [from, energy] of [
    [0, 0],
    [5, 3],
    [5, 9],
    [15, 40],
  ] as const) {
    expect(new Capacity([evening, always]).whenBorne(from, energy)).toBe(counted([evening, always], from, energy));
    expect(new Capacity([always, always]).whenBorne(from, energy)).toBe(counted([always, always], from, energy));
  }
  expect(new Capacity([]).whenBorne(3, 4)).toBe(0);
});
