import fc from "fast-check";
import { Builder } from "./build";
import { CHECKOUT_MINUTES, eveningProblem, type Job, type Work } from "./eveningWork";
import type { Evening } from "./hours";
import { chargePiece, type Piece } from "./pieces";
import { plannedOf } from "./planned";
import { solve, solving } from "./solve";
import type { Volunteer } from "./volunteer";

const piece = (kind: Piece["kind"], minutes: number, parts: Partial<Piece> = {}): Piece => ({
  kind,
  minutes,
  from: 0,
  to: 1,
  title: kind,
  lead: false,
  ...parts,
});
const job = (device: string, parts: Partial<Job> = {}): Job => ({
  device,
  pieces: [piece("hands", 10)],
  ways: ["official-update"],
  needsComputer: false,
  build: device,
  due: null,
  weight: 1,
  ...parts,
});
const volunteer = (name: string, parts: Partial<Volunteer> = {}): Volunteer => ({
  name,
  ways: [],
  minds: 3,
  days: [],
  away: [],
  ...parts,
});
const evening = (day: string): Evening => ({ day, from: "18:00", to: "20:00" });
const bench = {
  name: "Window",
  host: "computer" as const,
  places: 6,
  leads: 4,
  chargers: 4,
  cards: null,
  sticks: null,
};
const work = (parts: Partial<Work>): Work => ({
  jobs: [],
  volunteers: [volunteer("Odile")],
  benches: [bench],
  evenings: [evening("2026-12-01"), evening("2026-12-03")],
  from: "2026-12-01",
  now: 0,
  ...parts,
});
const planned = (parts: Partial<Work>) => {
  const asked = work(parts);
  const problem = eveningProblem(asked);
  let ticks = 0;
  return plannedOf(asked, problem, solve(problem.problem, { now: () => ticks++, milliseconds: 300, both: true }));
};
const AT_18 = 18 * 60;

test("one pair of hands minds several devices at once", () => {
  const update = [piece("hands", 5), piece("alone", 40), piece("hands", 5)];
  const { pieces, end } = planned({ jobs: ["a", "b", "c"].map((device) => job(device, { pieces: update })) });
  // Three one after the other would take 3 × 58 min; begun one behind the other they take little more than one.
  expect(end - AT_18).toBeLessThan(90);
  const hands = pieces.filter(({ kind }) => kind === "hands").sort((a, b) => a.from - b.from);
  for (let k = 1; k < hands.length; k++) expect(hands[k].from).toBeGreaterThanOrEqual(hands[k - 1].to);
});

test("never more at once than somebody minds", () => {
  const update = [piece("hands", 5), piece("alone", 40), piece("hands", 5)];
  const { pieces } = planned({
    volunteers: [volunteer("Odile", { minds: 1 })],
    jobs: ["a", "b"].map((device) => job(device, { pieces: update })),
  });
  const alone = pieces.filter(({ kind }) => kind === "alone");
  expect(alone[1].from).toBeGreaterThanOrEqual(alone[0].to);
});

test("the others of a build wait until their pilot is checked out", () => {
  const { pieces } = planned({
    volunteers: [volunteer("Odile"), volunteer("Bram")],
    jobs: [job("a", { build: "x" }), job("b", { build: "x" }), job("c", { build: "y" })],
  });
  const end = Math.max(...pieces.filter(({ device }) => device === "a").map(({ to }) => to));
  expect(end - AT_18).toBe(10 + CHECKOUT_MINUTES);
  expect(Math.min(...pieces.filter(({ device }) => device === "b").map(({ from }) => from))).toBe(end);
  expect(pieces.find(({ device }) => device === "c")?.from).toBe(AT_18);
});

test("whoever is due sooner is done first, and what is late is said", () => {
  const long = [piece("hands", 100)];
  const { late, pieces } = planned({
    jobs: [job("whenever", { pieces: long }), job("due", { pieces: long, due: "2026-12-01" })],
  });
  expect(late).toEqual([]);
  expect(pieces.find(({ device }) => device === "due")?.from).toBe(AT_18);
  const hopeless = planned({ jobs: ["a", "b"].map((device) => job(device, { pieces: long, due: "2026-12-01" })) });
  expect(hopeless.late).toHaveLength(1);
  expect(hopeless.tardinessBound).toBeLessThanOrEqual(hopeless.tardiness);
});

test("what begun hands go on with, they end: a device is not handed round", () => {
  const { pieces } = planned({
    volunteers: [volunteer("Odile"), volunteer("Bram")],
    jobs: ["a", "b", "c", "d"].map((device) =>
      job(device, { pieces: [piece("hands", 5), piece("alone", 10), piece("hands", 5)] }),
    ),
  });
  for (const device of ["a", "b", "c", "d"])
    expect(new Set(pieces.filter((each) => each.device === device).map((each) => each.volunteer)).size).toBe(1);
});

test.each([
  ["no evening", { evenings: [] }, {}, /no evening is held any more/],
  [
    "a way nobody may do",
    { volunteers: [volunteer("Odile", { ways: ["port"] })] },
    {},
    /nobody may do all of official-update/,
  ],
  ["no computer", { benches: [{ ...bench, host: "none" as const }] }, { needsComputer: true }, /needs a computer/],
  ["no lead", { benches: [{ ...bench, leads: 0 }] }, { pieces: [piece("hands", 5, { lead: true })] }, /needs a lead/],
  ["a piece longer than any evening", {}, { pieces: [piece("alone", 500)] }, /takes 500 min on end/],
])("%s: left out, with what it would take", (_, world, one, says) => {
  const { left, pieces } = planned({ ...world, jobs: [job("a", one)] });
  expect(left).toEqual([{ device: "a", says: expect.stringMatching(says) }]);
  expect(pieces).toEqual([]);
});

test("more than the evenings hold is told as finding no room", () => {
  const { noRoom } = planned({ jobs: ["a", "b", "c"].map((device) => job(device, { pieces: [piece("hands", 100)] })) });
  expect(noRoom).toHaveLength(1);
});

test("a maker's days of waiting pass on the shelf, between two evenings", () => {
  const { pieces } = planned({
    evenings: [evening("2026-12-01"), evening("2026-12-08"), evening("2026-12-10")],
    jobs: [job("a", { pieces: [piece("hands", 5), piece("wait", 7 * 1440), piece("hands", 5)] })],
  });
  expect(pieces.filter(({ kind }) => kind === "hands")[1].from).toBeGreaterThanOrEqual(7 * 1440 + AT_18 + 5);
});

describe("what has to be there first", () => {
  test("a device is not begun before its files are fetched, each file once, one after the other", () => {
    const fetches = [
      { file: "x", minutes: 10 },
      { file: "y", minutes: 30 },
    ];
    const jobs = [job("a", { files: ["x"] }), job("b", { files: ["x", "y"] }), job("c")];
    const { pieces, fetches: fetched } = planned({ now: AT_18, jobs, fetches });
    const begins = (device: string) =>
      Math.min(...pieces.filter((each) => each.device === device).map(({ from }) => from));
    expect(fetched.map(({ file }) => file).sort()).toEqual(["x", "y"]);
    expect(begins("c")).toBe(AT_18);
    expect(begins("a")).toBeGreaterThanOrEqual(AT_18 + 10);
    expect(begins("b")).toBeGreaterThanOrEqual(AT_18 + 40);
    // Over night they come in before anybody is in the house.
    expect(planned({ jobs, fetches }).pieces[0].from).toBe(AT_18);
    // Built again as people have it, what waits for a file keeps its place: the file comes before it, not behind everything.
    const had = planned({ jobs, fetches }).pieces;
    const again = eveningProblem(work({ jobs, fetches, had }));
    const { starts } = new Builder(again.problem).build(again.order as Float64Array);
    expect(again.tasks.flatMap(({ file }, task) => (file ? [] : [starts[task]])).sort()).toEqual(
      had.map(({ from }) => from).sort(),
    );
  });

  test("a card is with one device at a time, from where it is made to where it is read", () => {
    const jobs = ["a", "b"].map((device) =>
      job(device, {
        pieces: [
          piece("hands", 5, { to: 1, carrier: "card" }),
          piece("alone", 20, { from: 1, to: 2, carrier: "card" }),
          piece("hands", 5, { from: 2, to: 3 }),
        ],
      }),
    );
    const atOnce = (cards: number | null) => {
      const { pieces } = planned({ jobs, benches: [{ ...bench, cards }] });
      const [one, other] = pieces.filter(({ kind }) => kind === "alone").sort((x, y) => x.from - y.from);
      return other.from < one.to;
    };
    expect([atOnce(1), atOnce(2), atOnce(null)]).toEqual([false, true, true]);
    const { left } = eveningProblem(work({ jobs, benches: [{ ...bench, cards: 0 }] }));
    expect(left.map(({ says }) => says)).toEqual(Array(2).fill("it needs a card, and no bench that suits has one"));
    const { left: none } = eveningProblem(work({ jobs, benches: [{ ...bench, sticks: 0 }] }));
    expect(none).toEqual([]);
  });

  test("a battery is charged first, on a charger, and nobody has to stand by", () => {
    const charge = chargePiece(50, 60) as Piece;
    expect(charge.minutes).toBe(12);
    expect([chargePiece(60, 60), chargePiece(null, 60)]).toEqual([null, null]);
    const jobs = ["a", "b"].map((device) => job(device, { pieces: [charge, piece("hands", 10)] }));
    const { pieces } = planned({ jobs, benches: [{ ...bench, chargers: 1 }] });
    const charging = pieces.filter(({ kind }) => kind === "charge");
    expect(charging.map(({ volunteer, from }) => [volunteer, from])).toEqual([
      [null, AT_18],
      [null, AT_18 + 12],
    ]);
    expect(Math.min(...pieces.filter(({ kind }) => kind === "hands").map(({ from }) => from))).toBe(AT_18 + 12);
    // One that hangs already goes on from when it was put there, where it was put.
    const hangs = { start: AT_18 - 5, volunteer: "", bench: "Back room" };
    const benches = [
      { ...bench, chargers: 1 },
      { ...bench, name: "Back room", chargers: 1 },
    ];
    const goesOn = planned({ jobs: [{ ...jobs[0], begun: hangs }], benches, now: AT_18 }).pieces[0];
    expect(goesOn).toMatchObject({ kind: "charge", from: AT_18 - 5, to: AT_18 + 7, bench: "Back room" });
    // Meanwhile its file comes in, and the first of its build goes ahead: a charger waits for neither.
    const fetches = [{ file: "x", minutes: 60 }];
    const waiting = jobs.map((each) => ({ ...each, files: ["x"], build: "same" }));
    const beside = planned({ now: AT_18, jobs: waiting, fetches, benches: [{ ...bench, chargers: 2 }] }).pieces;
    expect(beside.map(({ kind, from }) => [kind, from]).sort()).toEqual([
      ["charge", AT_18],
      ["charge", AT_18],
      ["hands", AT_18 + 60],
      ["hands", AT_18 + 70],
      ["hands", AT_18 + 78],
      ["hands", AT_18 + 88],
    ]);
    // Where no charger is written down nothing is waited for: the sheet asks for the battery all the same.
    expect(planned({ jobs, benches: [{ ...bench, chargers: 0 }] }).pieces[0].kind).toBe("hands");
  });
});

describe("what stands already", () => {
  const two = [volunteer("Odile"), volunteer("Bram")];

  test("what is under way is left alone, and what should be over is over soon", () => {
    const { pieces } = planned({
      now: AT_18 + 30,
      volunteers: two,
      jobs: [
        job("other", { due: "2026-12-01" }),
        job("a", {
          pieces: [piece("alone", 20), piece("hands", 5, { from: 1, to: 2 })],
          begun: { start: AT_18, volunteer: "Bram", bench: "Window" },
        }),
      ],
    });
    const own = pieces.filter(({ device }) => device === "a");
    expect(own[0]).toMatchObject({ from: AT_18, to: AT_18 + 31, usual: 20, volunteer: "Bram" });
    expect(own[1]).toMatchObject({ from: AT_18 + 31, volunteer: "Bram" });
    expect(own[1]).not.toHaveProperty("usual");
  });

  test("what is under way waits neither for its file nor for its pilot", () => {
    const begun = { start: AT_18, volunteer: "Bram", bench: "Window" };
    const { problem } = eveningProblem(
      work({
        now: AT_18 + 5,
        volunteers: two,
        fetches: [{ file: "x", minutes: 60 }],
        jobs: [job("pilot", { build: "same", due: "2026-12-01" }), job("a", { build: "same", files: ["x"], begun })],
      }),
    );
    const stands = problem.begun.findIndex((each) => each !== null);
    expect([problem.begun[stands]?.start, [...problem.before[stands]]]).toEqual([AT_18, []]);
    const { timetable, soonest } = solve(problem, { milliseconds: 200, now: Date.now });
    expect(Math.max(...timetable.starts.map((start, task) => start + problem.minutes[task]))).toBeGreaterThanOrEqual(
      soonest,
    );
  });

  test("days that a maker lets pass do not begin anew each time it is worked out", () => {
    const pieces = [piece("wait", 1440), piece("hands", 5, { from: 1, to: 2 })];
    const evenings = [evening("2026-12-01"), evening("2026-12-02"), evening("2026-12-03")];
    const begun = { start: -1000, volunteer: "somebody who left", bench: null };
    const since = planned({ now: 600, evenings, jobs: [job("a", { pieces, begun })] });
    expect(since.pieces[1].from).toBe(AT_18);
    const anew = planned({ now: 600, evenings, jobs: [job("a", { pieces })] });
    expect(anew.pieces[1].from).toBe(AT_18 + 1440);
  });

  test("people keep the hands and the evening that they were told, unless it costs more than it is worth", () => {
    const jobs = ["a", "b", "c", "d"].map((device) => job(device));
    const had = planned({ volunteers: two, jobs }).pieces;
    const other = had.map((each) => ({ ...each, volunteer: each.volunteer === "Odile" ? "Bram" : "Odile" }));
    const of = (list: typeof had) => list.map(({ device, volunteer, from }) => `${device} ${volunteer} ${from}`).sort();
    expect(of(planned({ volunteers: two, jobs, had: other }).pieces)).toEqual(of(other));
    // All on one pair of hands is not kept for its own sake: the other pair would end half an hour sooner.
    const long = ["a", "b", "c", "d"].map((device) => job(device, { pieces: [piece("hands", 60)] }));
    const loaded = planned({ volunteers: [two[0]], jobs: long }).pieces;
    const spread = planned({ volunteers: two, jobs: long, had: loaded }).pieces;
    expect(new Set(spread.map((each) => each.volunteer)).size).toBe(2);
  });

  test("a pinned piece is done by whom and when somebody said, and everything else gives way", () => {
    const jobs = ["a", "b", "c"].map((device) => job(device, { pieces: [piece("hands", 30)] }));
    const pins = [{ device: "c", ends: 1, volunteer: "Odile", bench: "Window", from: AT_18 + 10 }];
    const { pieces, pinsLate } = planned({ jobs, pins });
    expect(pieces.find(({ device }) => device === "c")).toMatchObject({ from: AT_18 + 10, volunteer: "Odile" });
    expect(pinsLate).toBe(0);
    const twice = [...pins, { ...pins[0], device: "b" }];
    expect(planned({ jobs, pins: twice }).pinsLate).toBe(1);
  });

  test("a pin holds to the minute, also where everything before it has to be pulled forward", () => {
    const own = [piece("hands", 10), piece("alone", 20, { from: 1, to: 2 }), piece("hands", 5, { from: 2, to: 3 })];
    const jobs = ["a", "b", "c", "d"].map((device) => job(device, { pieces: own, build: "x", due: "2026-12-01" }));
    const had = planned({ jobs }).pieces;
    const last = [...had].sort((one, other) => other.from - one.from)[0].device;
    const pins = [{ device: last, ends: 1, volunteer: "Odile", bench: "Window", from: AT_18 + 58 }];
    const asked = work({ jobs, had, pins });
    const { problem, order, ...rest } = eveningProblem(asked);
    // At once, before anything is searched: people wait for it.
    const steps = solving(problem, { now: () => 0, order: order ?? undefined });
    const { pieces } = plannedOf(asked, { problem, order, ...rest }, steps.next().value);
    expect(pieces.find(({ device, steps: of }) => device === last && of?.[1] === 1)?.from).toBe(AT_18 + 58);
  });

  test("a pinned checkout is held like any other piece; its group's day is judged by the day", () => {
    const jobs = ["a", "b", "c"].map((device) => job(device, { due: "2026-11-30", pieces: [piece("hands", 30)] }));
    const pins = [{ device: "c", ends: null, volunteer: "Odile", bench: "Window", from: AT_18 + 45 }];
    const { pieces, pinsLate, late } = planned({ volunteers: two, jobs, pins });
    const checkout = pieces.find(({ device, steps }) => device === "c" && steps === null);
    expect(checkout).toMatchObject({ from: AT_18 + 45, volunteer: "Odile" });
    expect(pinsLate).toBe(0);
    expect(late.map(({ device }) => device).sort()).toEqual(["a", "b", "c"]);
    // Where two want the same hands at the same time, one is behind its pin, and that is told.
    expect(planned({ volunteers: two, jobs, pins: [...pins, { ...pins[0], device: "b" }] }).pinsLate).toBe(1);
  });

  test("hands are loaded evenly where nothing else decides", () => {
    const jobs = Array.from({ length: 6 }, (_, k) => job(`d${k}`));
    const { pieces } = planned({ volunteers: two, jobs });
    const of = (name: string) =>
      pieces.reduce((sum, { volunteer: who, from, to }) => sum + (who === name ? to - from : 0), 0);
    expect(of("Odile")).toBe(of("Bram"));
  });
});

test("where nothing has changed, nobody is told anything else", () => {
  const kinds = fc.constantFrom<Piece["kind"]>("hands", "alone", "watched");
  const sheet = fc.array(fc.tuple(kinds, fc.integer({ min: 1, max: 30 })), { minLength: 1, maxLength: 5 });
  fc.assert(
    fc.property(
      fc.array(fc.tuple(sheet, fc.integer({ min: 0, max: 5 })), { minLength: 2, maxLength: 14 }),
      (sheets) => {
        const asked = work({
          jobs: sheets.map(([pieces, build], k) =>
            job(`d${k}`, {
              build: `b${build}`,
              pieces: pieces.map(([kind, minutes], step) => piece(kind, minutes, { from: step, to: step + 1 })),
            }),
          ),
          volunteers: [volunteer("Odile"), volunteer("Bram", { minds: 2 }), volunteer("Nell", { days: ["TH"] })],
        });
        const first = eveningProblem(asked);
        let ticks = 0;
        const found = solve(first.problem, { now: () => ticks++, milliseconds: 60, both: true });
        const { pieces } = plannedOf(asked, first, found);
        const { problem, order } = eveningProblem({ ...asked, had: pieces });
        const { starts, modes } = new Builder(problem).build(order as Float64Array);
        expect([...starts]).toEqual([...found.timetable.starts]);
        expect([...modes]).toEqual([...found.timetable.modes]);
      },
    ),
    { numRuns: 25, seed: 1 },
  );
});
