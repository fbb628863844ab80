import { Builder } from "./build";
import { makeProblem } from "./problem";

/** One and the other of two pairs of hands; whose they are, by the task's mode. */
const HANDS = [0, 1].map((r) => ({ resources: [r], amounts: [1] }));
const [ANN, BEN] = [0, 1];

/** Ann begins a device that lies by itself for five minutes, and has something else of so many minutes meanwhile. */
const goesOnAt = (busy: number, patience: number) => {
  const problem = makeProblem({
    resources: [0, 1].map(() => ({ capacity: 1, open: null })),
    aim: "tardiness",
    patience,
    tasks: [
      { minutes: 2, modes: [HANDS[ANN]], before: [] },
      { minutes: 5, modes: [{ resources: [], amounts: [] }], before: [0] },
      { minutes: busy, modes: [HANDS[ANN]], before: [0] },
      { minutes: 1, modes: HANDS, before: [1], like: 0 },
    ],
  });
  const { starts, modes } = new Builder(problem).build(Float64Array.from([0, 1, 2, 3]));
  return { start: starts[3], by: modes[3] };
};

test("a device waits for the hands that began it, and no longer than that is worth", () => {
  expect(goesOnAt(5, 10)).toEqual({ start: 7, by: ANN });
  expect(goesOnAt(15, 10)).toEqual({ start: 17, by: ANN });
  expect(goesOnAt(16, 10)).toEqual({ start: 7, by: BEN });
});

test("what nobody has begun stays with whom people were told, and no longer than that is worth", () => {
  const startAt = (busy: number) => {
    const problem = makeProblem({
      resources: [0, 1].map(() => ({ capacity: 1, open: null })),
      aim: "tardiness",
      patience: 10,
      tasks: [
        { minutes: busy, modes: [HANDS[ANN]], before: [] },
        { minutes: 1, modes: HANDS, before: [] },
      ],
      told: { hands: Uint8Array.of(1, 1), patience: 90, modes: Int32Array.of(ANN, ANN), starts: Float64Array.of(0, 0) },
    });
    const { starts, modes } = new Builder(problem).build(Float64Array.from([0, 1]));
    return { start: starts[1], by: modes[1] };
  };
  expect(startAt(90)).toEqual({ start: 90, by: ANN });
  expect(startAt(91)).toEqual({ start: 0, by: BEN });
});

test("who was told to go on with what others began does so, as long as those began it and it costs no more than that is worth", () => {
  /** Ann begins, Ben was told to go on; Ann could from minute 3, Ben when he is free. */
  const goesOn = (busy: number, { begins = ANN, toldThen = BEN, toldAt = 60 } = {}) => {
    const problem = makeProblem({
      resources: [0, 1].map(() => ({ capacity: 1, open: null })),
      aim: "tardiness",
      patience: 10,
      tasks: [
        { minutes: 3, modes: HANDS, before: [], fixed: begins },
        { minutes: busy, modes: [HANDS[BEN]], before: [] },
        { minutes: 1, modes: HANDS, before: [0], like: 0 },
      ],
      told: {
        hands: Uint8Array.of(1, 1),
        patience: 90,
        modes: Int32Array.of(ANN, 0, toldThen),
        starts: Float64Array.of(0, 0, toldAt),
      },
    });
    const { starts, modes } = new Builder(problem).build(Float64Array.from([0, 1, 2]));
    return { start: starts[2], by: modes[2] };
  };
  expect(goesOn(13)).toEqual({ start: 13, by: BEN });
  // Until then he waits in any case.
  expect(goesOn(60)).toEqual({ start: 60, by: BEN });
  expect(goesOn(61)).toEqual({ start: 3, by: ANN });
  // … but for no longer than an hour and a half.
  expect(goesOn(93, { toldAt: 200 })).toEqual({ start: 93, by: BEN });
  expect(goesOn(94, { toldAt: 200 })).toEqual({ start: 3, by: ANN });
  // Begun by Ben, though people were told that it is Ann's: it stays with him.
  expect(goesOn(2, { begins: BEN, toldThen: ANN })).toEqual({ start: 5, by: BEN });
});
