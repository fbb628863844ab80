import loadHighs, { type Highs } from "highs";
import { greedy } from "./greedy";
import { Linear } from "./linear";
import { programOf } from "./program";
import { AIMS, type Question } from "./question";
import { reachAim } from "./reach";
import { scoresOf } from "./verdict";

let highs: Highs;
beforeAll(async () => {
  highs = await loadHighs();
});

/** A busy machine: the time of whole numbers is over before anything is proven of them. */
class Busy extends Linear {
  override largest(...[terms, seconds, asked = {}]: Parameters<Linear["largest"]>) {
    const found = super.largest(terms, seconds, asked);
    return found && !asked.relaxed ? { ...found, bound: Number.POSITIVE_INFINITY } : found;
  }
}

const GROUP = { id: "a", wanted: 3, least: 1, by: "2026-12-14", weight: 1, spares: 0, alike: false };
/** Three devices are wanted, and each would be a build of its own but two. */
function question(devices: number): Question {
  const candidates = Array.from({ length: devices }, (_, k) => ({
    device: `d${k}`,
    options: [
      {
        group: "a",
        way: "w",
        build: k < 2 ? "b" : `b${k}`,
        model: "m",
        chance: k % 2 ? 0.9 : 0.8,
        years: 1 + k / 10,
        hands: 10 + k,
      },
    ],
  }));
  return { candidates, groups: [GROUP], pins: [], aims: AIMS, confidence: 0.8, leeway: 0, bench: [] };
}

test.each([
  ["a small question", 4],
  ["one of which only parts are looked at", 400],
])("on a machine that proves nothing in time, what holds in parts is known: %s", (_, devices) => {
  const asked = question(devices);
  const start = greedy(asked);
  const program = programOf(asked, [], new Busy(highs));
  const reached = reachAim({
    question: asked,
    program,
    aim: "years",
    start,
    held: [],
    seconds: () => 0,
    take: (placed) => placed,
    lacks: () => [],
    margins: [],
    mend: (placed) => placed,
  });
  const { value, bound } = program.linear.largest(program.goals.years, 5, { relaxed: true }) ?? { value: 0, bound: 0 };
  expect(reached.bound).toBeCloseTo(bound, 6);
  expect(value).toBeGreaterThanOrEqual(scoresOf(asked, start).years);
});
