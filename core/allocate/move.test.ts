import { type Division, stillProven } from "./divide";
import { difference, moved, undone } from "./move";
import { AIMS, type Option, type Question } from "./question";
import { secondTry } from "./secondTry";
import { usefulYears } from "./usefulYears";
import { scoresOf, sharesOf } from "./verdict";
import { whatIfs } from "./whatIf";

const option = (group: string, parts: Partial<Option> = {}): Option => ({
  group,
  way: "w",
  build: "b",
  model: "m",
  chance: 1,
  years: 2,
  hands: 10,
  ...parts,
});
const group = (id: string, wanted: number, least: number) => ({
  id,
  wanted,
  least,
  by: "2026-12-14",
  weight: 1,
  spares: 0,
  alike: false,
});
const question: Question = {
  candidates: [
    { device: "x", options: [option("a"), option("b", { chance: 0.5, build: "c", hands: 25 })] },
    { device: "y", options: [option("a")] },
    { device: "z", options: [option("a", { chance: 0.4 })] },
  ],
  groups: [group("a", 2, 2), group("b", 1, 1)],
  pins: [],
  aims: AIMS,
  confidence: 0.9,
  leeway: 0,
  bench: [{ day: "2026-12-14", of: "hands", minutes: 60 }],
};
const division = (placed: Division["placed"]): Division => ({
  placed,
  shares: sharesOf(question, placed),
  scores: scoresOf(question, placed),
  proven: [],
  finished: true,
  problems: [],
});
const now = division([
  { device: "x", option: question.candidates[0].options[0] },
  { device: "y", option: question.candidates[1].options[0] },
]);

test("a move that lets an aim fall below what counted as held leaves those behind it unproven, until it is undone", () => {
  const proof = (aim: Division["proven"][number]["aim"], slack: number) => {
    const value = now.scores[aim];
    return { aim, value, bound: value, tight: value, floor: value - slack };
  };
  const proven = [proof("least", 0.1), proof("years", 1.5), proof("builds", 0.1), proof("hands", 0.1)];
  const holds = (to: string | null) =>
    stillProven((moved(question, { ...now, proven }, { device: "x", to }) as Division).proven);
  expect(stillProven(proven)).toEqual([true, true, true, true]);
  // A's least number is lost: that in itself is still held against the best.
  expect(holds(null)).toEqual([true, false, false, false]);
  const enough = { ...question, groups: question.groups.map((each) => ({ ...each, least: 1 })) };
  const fewer = moved(enough, { ...now, proven }, { device: "x", to: null }) as Division;
  expect(stillProven(fewer.proven)).toEqual([true, true, false, false]);
  const undoneAgain = undone(enough, fewer, { device: "x", option: question.candidates[0].options[0], finished: true });
  expect(stillProven(undoneAgain.proven)).toEqual([true, true, true, true]);
});

test("a move says what it costs: who loses, who gains, builds and minutes", () => {
  const next = moved(question, now, { device: "x", to: "b" }) as Division;
  expect(next.placed.find(({ device }) => device === "x")?.option.group).toBe("b");
  expect(difference(now, next, (id) => id.toUpperCase())).toEqual([
    "A: 2.0 → 1.0 ready on their day",
    "A no longer has its least number",
    "B: 0.0 → 0.5 ready on their day",
    "1 build more",
    "15 min by hand more",
    "1.0 useful years fewer",
  ]);
  expect(difference(now, now, String)).toEqual([]);
});

test("a change that can't be seen in the figures is none", () => {
  const expecting = (expected: number) => ({ ...now, shares: now.shares.map((share) => ({ ...share, expected })) });
  const told = (from: number, to: number) => difference(expecting(from), expecting(to), String).slice(0, 1);
  expect(told(14.76, 14.84)).toEqual([]);
  expect(told(14.74, 14.76)).toEqual([]);
  expect(told(14.7, 14.84)).toEqual(["a: 14.7 → 14.8 ready on their day"]);
});

test("into the reserve, and what can't be", () => {
  expect((moved(question, now, { device: "x", to: null }) as Division).placed.map(({ device }) => device)).toEqual([
    "y",
  ]);
  expect(moved(question, now, { device: "y", to: "b" })).toMatch(/No way of y serves them/);
  expect(moved(question, now, { device: "z", to: "a" })).toMatch(/take one away first/);
});

test("what it would take: only the shortage that binds changes anything", () => {
  const solved: Question[] = [];
  const list = whatIfs(question, now, (asked) => {
    solved.push(asked);
    return division(now.placed);
  });
  expect(list.map(({ code }) => code)).toEqual(["all-clear", "more-hands", "more-devices"]);
  // z waits for nobody any more; nothing else changed.
  expect(solved[0].candidates[2].options[0].chance).toBe(1);
  expect(solved[1].bench).toEqual([]);
  expect(solved[2].candidates).toHaveLength(8);
});

test("hands and places at the benches are lifted one by one", () => {
  const [hands, places] = [
    { day: "2026-12-14", minutes: 60 },
    { day: "2026-12-14", of: "places" as const, minutes: 90 },
  ];
  const solved: Question["bench"][] = [];
  const list = whatIfs({ ...question, bench: [hands, places] }, now, (asked) => {
    solved.push(asked.bench);
    return division(now.placed);
  });
  expect(list.map(({ code }) => code)).toEqual(["all-clear", "more-hands", "more-places", "more-devices"]);
  expect(solved.slice(1, 3)).toEqual([[places], [hands]]);
});

test("what waits for those who may do it is lifted by itself, and with all hands", () => {
  const hands = { day: "2026-12-14", minutes: 60 };
  const known = { ...hands, skills: ["card"], minutes: 20 };
  const solved = new Map<string, Question["bench"]>();
  const benches: Question["bench"][] = [];
  const list = whatIfs({ ...question, bench: [hands, known] }, now, (asked) => {
    benches.push(asked.bench);
    return division(now.placed);
  });
  for (const [k, { code }] of list.entries()) solved.set(code, benches[k]);
  expect(solved.get("all-shown")).toEqual([hands]);
  expect(solved.get("more-hands")).toEqual([]);
});

test("a second try only where one can come back", () => {
  const back = { image: "i", title: "t", bytes: 1, minutes: 1, whole: true };
  expect(secondTry({ success: 0.8, back, writes: true })).toBeCloseTo(0.96, 10);
  expect(secondTry({ success: 0.8, back: null, writes: true })).toBe(0.8);
  expect(secondTry({ success: 0.8, back: null, writes: false })).toBeCloseTo(0.96, 10);
});

test("useful years: by the floor's history, else by the levels above it", () => {
  const apps = [{ name: "Bank", minApi: 29 }];
  const plain = { apps, history: [] } as unknown as Parameters<typeof usefulYears>[0];
  expect(usefulYears(plain, { api: 31 }, "2026-11-25")).toBe(3);
  expect(usefulYears(plain, { api: 28 }, "2026-11-25")).toBe(0);
  // One level a year, 29 at the beginning of 2026: it stands at 33 at the beginning of 2030.
  const history = [2023, 2024, 2025, 2026].map((year) => ({ on: `${year}-01-01`, api: year - 1997 }));
  const steady = { apps, history } as unknown as Parameters<typeof usefulYears>[0];
  expect(usefulYears(steady, { api: 32 }, "2027-01-01")).toBeCloseTo(3, 0);
});
