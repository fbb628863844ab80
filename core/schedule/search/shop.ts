import type { Timetable } from "../build";
import type { Chance } from "../chance";
import type { Problem } from "../problem";
import { Graph } from "./graph";
import { Tabu } from "./tabu";

/** Rounds without a shorter timetable after which a search begins somewhere else. */
const PATIENCE = 6_000;
const ELITES = 8;
/** Rounds between two looks at the clock. */
const BREATH = 150;

type Orders = number[][];
type Elite = { readonly orders: Orders; readonly length: number };

/**
 * Searches job shops: tabu search from several beginnings, then from points on the way between two good orders.
 * Yields each better timetable as it is found, and null where its caller may stop it.
 *
 * @source Peng, Lü and Cheng (2015), tabu search with path relinking for the job shop
 */
export function* searchShop(
  problem: Problem,
  machines: Int32Array,
  start: Timetable,
  chance: Chance,
): Generator<Timetable | null> {
  const graph = new Graph(problem, machines);
  const tabu = new Tabu(graph, chance);
  let best = Number.POSITIVE_INFINITY;
  let elites: Elite[] = [];
  for (let run = 0; ; run++) {
    if (run === 0) graph.orderBy(start);
    else if (elites.length < ELITES) shake(graph, chance);
    else relink(graph, elites[chance.below(elites.length)], elites[chance.below(elites.length)], chance);
    tabu.forget();
    graph.measure();
    let here: Elite = { orders: graph.lists(), length: graph.length };
    for (let idle = 0, round = 0; idle < PATIENCE; idle++, round++) {
      if (graph.length < best) {
        best = graph.length;
        yield timetableOf(graph);
      } else if (round % BREATH === 0) yield null;
      if (graph.length < here.length) {
        here = { orders: graph.lists(), length: graph.length };
        idle = 0;
      }
      const kept = here;
      if (!tabu.step(kept.length)) return;
      if (!graph.measure()) {
        // Only tasks of no length can close a ring that the test of a move does not see.
        graph.orderAs(here.orders);
        graph.measure();
      }
    }
    elites = withElite(elites, here, chance);
  }
}

const timetableOf = (graph: Graph): Timetable => ({
  starts: Float64Array.from(graph.heads),
  modes: new Int32Array(graph.count),
});

/** The best and most different orders: an order that is there already, or is longer than all, does not come in. */
function withElite(elites: Elite[], one: Elite, chance: Chance): Elite[] {
  const key = one.orders.join(";");
  if (elites.some((each) => each.length === one.length && each.orders.join(";") === key))
    // They have all become the same: half of them make room.
    return elites.length === ELITES && chance.below(3) === 0 ? elites.slice(0, ELITES / 2) : elites;
  return [...elites, one].sort((a, b) => a.length - b.length).slice(0, ELITES);
}

/** Adjacent tasks change places here and there. */
function shake(graph: Graph, chance: Chance): void {
  for (let k = 0; k < graph.count; k++) turn(graph, chance.below(graph.count));
}

/** Goes from one order towards another, to somewhere between a third and two thirds of the way. */
function relink(graph: Graph, from: Elite, to: Elite, chance: Chance): void {
  graph.orderAs(from.orders);
  if (from === to) {
    shake(graph, chance);
    return;
  }
  const place = new Int32Array(graph.count);
  for (const list of to.orders) for (const [k, task] of list.entries()) place[task] = k;
  const turned = () => {
    const pairs: number[] = [];
    for (let task = 0; task < graph.count; task++) {
      const follows = graph.next[task];
      if (follows >= 0 && place[task] > place[follows]) pairs.push(task);
    }
    return pairs;
  };
  let distance = 0;
  for (const list of from.orders)
    for (let a = 0; a < list.length; a++)
      for (let b = a + 1; b < list.length; b++) if (place[list[a]] > place[list[b]]) distance++;
  const steps = Math.ceil(distance * (1 / 3 + chance.next() / 3));
  for (let made = 0, tried = 0; made < steps && tried < 3 * steps; tried++) {
    const pairs = turned();
    if (pairs.length === 0) return;
    if (turn(graph, pairs[chance.below(pairs.length)])) made++;
  }
}

/** A task and the one behind it change places, unless that closes a ring. */
function turn(graph: Graph, task: number): boolean {
  const follows = graph.next[task];
  if (follows < 0) return false;
  graph.moveBehind(task, follows);
  if (graph.measure()) return true;
  graph.moveBefore(task, follows);
  return false;
}
