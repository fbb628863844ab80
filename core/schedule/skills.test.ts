import fc from "fast-check";
import { skillSets } from "./skills";
import { mayDo } from "./volunteer";

const ada = { name: "Ada", ways: ["card"] };
const bo = { name: "Bo", ways: ["cable"] };
const cy = { name: "Cy", ways: [] };
const namesOf = (wanted: Record<string, string[]>, people: readonly { name: string; ways: string[] }[]) =>
  skillSets(new Map(Object.entries(wanted)), people).map(({ skills, who }) => [
    skills.join(", "),
    who.map(({ name }) => name).join(", "),
  ]);

test("what only some may do holds them up, alone and together; what everybody may is nothing of its own", () => {
  expect(namesOf({ card: ["card"], cable: ["cable"] }, [ada, bo, cy])).toEqual([
    ["card", "Ada, Cy"],
    ["cable", "Bo, Cy"],
  ]);
  expect(namesOf({ card: ["card"], cable: ["cable"] }, [ada, bo, { ...cy, ways: ["port"] }])).toEqual([
    ["card", "Ada"],
    ["cable", "Bo"],
    ["card, cable", "Ada, Bo"],
  ]);
  expect(namesOf({ card: ["card"] }, [ada, cy])).toEqual([]);
});

test("all of several ways has to be known; what nobody may do has nobody", () => {
  expect(namesOf({ both: ["card", "cable"], card: ["card"] }, [ada, bo])).toEqual([
    ["both", ""],
    ["both, card", "Ada"],
  ]);
});

/** Whether work can be shared out, one minute after the other: augmenting paths (Ford and Fulkerson, 1956). */
function canBeShared(demands: readonly number[], able: readonly (readonly number[])[], minutes: readonly number[]) {
  const done: number[][] = minutes.map(() => []);
  const place = (skill: number, seen: Set<number>): boolean =>
    able[skill].some((person) => {
      if (seen.has(person)) return false;
      seen.add(person);
      if (done[person].length < minutes[person]) {
        done[person].push(skill);
        return true;
      }
      return done[person].some((other, k) => {
        if (!place(other, seen)) return false;
        done[person][k] = skill;
        return true;
      });
    });
  return demands.every((demand, skill) => Array.from({ length: demand }).every(() => place(skill, new Set())));
}

test("work fits into everybody's minutes exactly when it does for each set, and for all together", () => {
  const people = fc.array(fc.subarray(["a", "b", "c"], { minLength: 1 }), { minLength: 1, maxLength: 4 });
  const wanted = fc.array(fc.subarray(["a", "b", "c"], { minLength: 1 }), { minLength: 1, maxLength: 4 });
  const numbers = fc.array(fc.integer({ min: 0, max: 5 }), { minLength: 4, maxLength: 4 });
  const seen = new Set<boolean>();
  fc.assert(
    fc.property(people, wanted, numbers, numbers, (ways, skills, minutes, demands) => {
      const volunteers = ways.map((own, k) => ({ ways: own, minutes: minutes[k] }));
      const named = new Map(skills.map((own, k) => [String(k), own]));
      const sum = (all: readonly number[]) => all.reduce((one, other) => one + other, 0);
      const fits = (some: readonly string[], who: readonly { minutes: number }[]) =>
        sum(some.map((skill) => demands[Number(skill)])) <= sum(who.map((each) => each.minutes));
      const told = [...skillSets(named, volunteers), { skills: [...named.keys()], who: volunteers }];
      const able = skills.map((own) => volunteers.flatMap((each, k) => (mayDo(each, own) ? [k] : [])));
      const shared = canBeShared(demands.slice(0, skills.length), able, minutes);
      seen.add(shared);
      expect(told.every((set) => fits(set.skills, set.who))).toBe(shared);
    }),
    { numRuns: 1000 },
  );
  expect(seen.size).toBe(2);
});
