import { Chance } from "../chance";
import { problemOf } from "../problem";
import { Graph } from "./graph";
import { machinesOf } from "./machines";

/** A made-up job shop: each job visits every machine once, some tasks take no time. */
function shop(jobs: number, machines: number, seed: number) {
  const chance = new Chance(seed);
  const resources = Array.from({ length: machines }, (_, m) => ({ id: `m${m}`, capacity: 1 }));
  const tasks = Array.from({ length: jobs }, (_, j) => {
    const route = Array.from({ length: machines }, (_, m) => m);
    for (let k = machines - 1; k > 0; k--) {
      const other = chance.below(k + 1);
      [route[k], route[other]] = [route[other], route[k]];
    }
    return route.map((m, k) => ({
      id: `${j}.${k}`,
      minutes: chance.below(12),
      uses: [{ resource: `m${m}`, amount: 1 }],
      after: k ? [`${j}.${k - 1}`] : [],
    }));
  }).flat();
  const { problem } = problemOf({ resources, tasks, aim: "makespan" });
  const at = machinesOf(problem);
  if (!at) throw new Error("that is no job shop");
  const graph = new Graph(problem, at);
  // Job after job: an order that is always possible.
  graph.orderAs(resources.map((_, m) => tasks.flatMap((_, task) => (at[task] === m ? [task] : []))));
  return { graph, chance, anew: () => new Graph(problem, at) };
}

test.each([1, 2, 3, 4])("what one move can change is measured as all of it would be (%i)", (seed) => {
  const { graph, chance, anew } = shop(8, 5, seed);
  expect(graph.measure()).toBe(true);
  let made = 0;
  let rings = 0;
  for (let round = 0; round < 600; round++) {
    const kept = graph.lists();
    const machine = kept[chance.below(kept.length)];
    const from = chance.below(machine.length);
    const to = chance.below(machine.length);
    if (from === to) continue;
    if (from < to) graph.moveBehind(machine[from], machine[to]);
    else graph.moveBefore(machine[from], machine[to]);
    const whole = anew();
    whole.orderAs(graph.lists());
    const possible = whole.measure();
    expect(graph.measure()).toBe(possible);
    if (!possible) {
      rings++;
      graph.orderAs(kept);
      expect(graph.measure()).toBe(true);
      continue;
    }
    made++;
    expect(graph.length).toBe(whole.length);
    for (const what of ["heads", "tails", "chainHeads", "chainTails"] as const)
      expect([...graph[what]]).toEqual([...whole[what]]);
  }
  // Both happen often, or the test says nothing.
  expect(made).toBeGreaterThan(100);
  expect(rings).toBeGreaterThan(50);
});

test("several moves between two measures, and one that is taken back", () => {
  const { graph, anew } = shop(6, 4, 9);
  graph.measure();
  const [first, second] = graph.lists();
  graph.moveBehind(first[0], first[1]);
  graph.moveBehind(second[0], second[1]);
  graph.moveBefore(second[0], second[1]);
  const whole = anew();
  whole.orderAs(graph.lists());
  expect(graph.measure()).toBe(whole.measure());
  expect([...graph.heads]).toEqual([...whole.heads]);
});
