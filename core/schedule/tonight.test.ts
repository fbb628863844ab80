import type { PlannedPiece } from "./planned";
import { type Progress, tonightOf } from "./tonight";

const piece = (device: string, from: number, to: number, parts: Partial<PlannedPiece> = {}): PlannedPiece => ({
  device,
  from,
  to,
  kind: "hands",
  title: `${device} ${from}`,
  volunteer: "Odile",
  bench: "Window",
  steps: [from, to],
  ...parts,
});
const NOTHING: Progress = { done: 0, at: null, over: false, finished: false, charging: null, wrong: false };
const tonight = (pieces: readonly PlannedPiece[], progress: Record<string, Partial<Progress>>, now: number) =>
  tonightOf(pieces, (device) => ({ ...NOTHING, ...progress[device] }), "Odile", now);

const PIECES = [
  piece("a", 0, 5),
  piece("b", 5, 10),
  piece("a", 5, 25, { kind: "alone" }),
  piece("a", 25, 30),
  piece("c", 30, 35, { volunteer: "Bram" }),
  piece("a", 30, 38, { steps: null, title: "check it out" }),
];

test("at the beginning: the first thing for these hands; others' work is not shown", () => {
  const { next, later, running } = tonight(PIECES, {}, 0);
  expect([next?.title, later.map(({ title }) => title), running]).toEqual(["a 0", ["b 5"], []]);
});

test("one runs by itself: the hands go on with the other, and it is said until when the first can be left", () => {
  const { next, running } = tonight(PIECES, { a: { done: 5, at: 7 } }, 8);
  expect(next?.title).toBe("b 5");
  // It really began two minutes late: it is over two minutes later than planned.
  expect(running.map(({ piece: { device }, until }) => [device, until])).toEqual([["a", 27]]);
});

test("what went wrong runs no more: it comes before all else, and is not counted on to go on by itself", () => {
  const wrong = { done: 5, at: 7, wrong: true };
  expect(tonight(PIECES, { a: wrong }, 8)).toMatchObject({ next: { title: "a 5" }, running: [], late: 0 });
  const two = tonight(
    [...PIECES, piece("e", 40, 50, { kind: "alone" })],
    { a: wrong, e: { done: 40, wrong: true } },
    8,
  );
  expect([two.next, ...two.later].map((each) => each?.title)).toEqual(["a 5", "e 40", "b 5"]);
  // A device that is somebody else's turn, or over, is not theirs to look at.
  expect(tonight(PIECES, { c: { wrong: true } }, 8).next?.title).toBe("a 0");
  expect(tonight(PIECES, { a: { ...wrong, over: true } }, 8).next?.title).toBe("b 5");
});

test("when it is over, it comes before what is not begun", () => {
  expect(tonight(PIECES, { a: { done: 5, at: 5 } }, 26).next?.title).toBe("a 25");
});

test("it stays due however often the timetable is worked out anew behind it", () => {
  // Begun at 5 for 20 minutes, nobody looked: at 40 it is planned until 41.
  const late = [piece("a", 5, 41, { kind: "alone", usual: 20 }), piece("a", 41, 46), piece("b", 41, 46)];
  const { next, running } = tonight(late, { a: { done: 5, at: 5 } }, 40);
  expect([next?.title, running.map(({ until }) => until)]).toEqual(["a 41", [25]]);
});

test("what is due is looked at first also where other hands go on with it; the one that is due longest first", () => {
  const others = [piece("a", 5, 25, { kind: "alone" }), piece("a", 25, 30, { volunteer: "Bram" }), piece("b", 5, 10)];
  expect(tonight(others, { a: { done: 5, at: 5 } }, 24).next?.title).toBe("b 5");
  expect(tonight(others, { a: { done: 5, at: 5 } }, 25).next?.title).toBe("a 5");
  const two = [piece("g", 4, 20, { kind: "alone" }), piece("g", 20, 22), ...others];
  expect(tonight(two, { a: { done: 5, at: 5 }, g: { done: 4, at: 2 } }, 26).next?.title).toBe("g 20");
});

test("what the bench did counts, whatever was planned", () => {
  expect(tonight(PIECES, { a: { done: 25, at: 6 }, b: { over: true } }, 7).next?.title).toBe("a 25");
  expect(tonight(PIECES, { a: { finished: true, at: 20 }, b: { done: 10, at: 9 } }, 20).next?.title).toBe(
    "check it out",
  );
});

test("late is said in minutes; with all done there is nothing next", () => {
  expect(tonight(PIECES, {}, 17)).toMatchObject({ late: 12 });
  expect(tonight(PIECES, { a: { over: true }, b: { over: true } }, 40)).toMatchObject({ next: null, late: 0 });
});

test("a device whose earlier piece somebody else has not done yet waits", () => {
  const handed = [piece("d", 0, 5, { volunteer: "Bram" }), piece("d", 5, 9)];
  expect(tonight(handed, {}, 6)).toMatchObject({ next: null, waits: [{ title: "d 5" }] });
});

const LOW = [
  piece("e", 0, 36, { kind: "charge", volunteer: null, steps: [0, 0] }),
  piece("f", 10, 15),
  piece("e", 36, 40, { steps: [0, 4] }),
];

test("a flat battery: whoever takes the device up is told to put it on a charger, and then until when it hangs", () => {
  expect(tonight(LOW, {}, 0)).toMatchObject({ next: { kind: "charge" }, later: [{ title: "f 10" }], running: [] });
  const hangs = tonight(LOW, { e: { charging: 3 } }, 4);
  expect(hangs).toMatchObject({ next: { title: "f 10" }, later: [], running: [{ until: 39 }] });
  // It is not taken up before, even when the hands have nothing else to do.
  expect(tonight(LOW, { e: { charging: 3 }, f: { over: true } }, 38).next).toBeNull();
  expect(tonight(LOW, { e: { charging: 3 }, f: { over: true } }, 39)).toMatchObject({
    next: { title: "e 36" },
    running: [],
  });
});

test("something went wrong at its first step: it waits for hands, not for a charger", () => {
  expect(tonight(LOW, { e: { wrong: true } }, 0)).toMatchObject({
    next: { title: "e 36" },
    later: [{ title: "f 10" }],
  });
});

test("whoever began a device saw its battery; others' chargers are not shown", () => {
  expect(tonight(LOW, { e: { done: 1, at: 2 } }, 4).next?.title).toBe("f 10");
  const bram = LOW.map((each) =>
    each.volunteer === "Odile" && each.device === "e" ? { ...each, volunteer: "Bram" } : each,
  );
  expect(tonight(bram, {}, 0)).toMatchObject({ next: { title: "f 10" }, later: [] });
});
