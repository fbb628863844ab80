import type { PlannedPiece } from "~/core/schedule/planned";
import { shownEvenings } from "./shown";

const DAY = 1440;
const piece = (device: string, from: number, to: number, parts: Partial<PlannedPiece> = {}): PlannedPiece => ({
  device,
  kind: "hands",
  title: "Work",
  from,
  to,
  volunteer: "Odile Farrow",
  bench: "Window bench",
  steps: [from, to],
  ...parts,
});
const shown = (pieces: readonly PlannedPiece[]) =>
  shownEvenings(
    {
      groupOf: {},
      planned: {
        day: "2026-11-26",
        pieces,
        fetches: [],
        left: [],
        late: [],
        noRoom: [],
        end: 0,
        soonest: 0,
        tardiness: 0,
        tardinessBound: 0,
        pinsLate: 0,
      },
    },
    new Set(),
  );
const runs = (device: string, from: number, to: number) => piece(device, from, to, { kind: "alone", volunteer: null });

test("what ran by itself lies until hands come for it, on that evening; where they come at once it does not", () => {
  const [evening, next] = shown([
    runs("SF-1", 1080, 1090),
    piece("SF-1", 1100, 1110),
    runs("SF-2", 1080, 1090),
    piece("SF-2", 1090, 1100),
    runs("SF-3", 1095, 1100),
    piece("SF-3", 1080 + DAY, 1090 + DAY),
  ]);
  const lies = evening.rows
    .find(({ kind }) => kind === "alone")
    ?.pieces.map(({ device, lies }) => [device, lies?.ends]);
  expect(lies).toEqual([
    ["SF-1", "18:20"],
    ["SF-2", undefined],
    ["SF-3", undefined],
  ]);
  expect(next.rows.map(({ name }) => name)).toEqual(["Odile Farrow"]);
});

test("days that a maker lets pass lie on the shelf on every evening within them, as far as it is drawn", () => {
  const evenings = shown([
    piece("SF-1", 1080, 1085),
    piece("SF-1", 1085, 1085 + 7 * DAY, { kind: "wait", volunteer: null, bench: null, title: "Wait" }),
    piece("SF-2", 1100 + 2 * DAY, 1120 + 2 * DAY),
    piece("SF-1", 1090 + 7 * DAY, 1110 + 7 * DAY),
    piece("SF-2", 1080 + 9 * DAY, 1090 + 9 * DAY),
  ]);
  const shelf = evenings.map(({ day, rows }) => [
    day,
    rows
      .filter(({ kind }) => kind === "shelf")
      .flatMap(({ pieces }) => pieces.map(({ from, to, begins, ends }) => [from % DAY, to % DAY, begins, ends])),
  ]);
  expect(shelf).toEqual([
    ["2026-11-26", [[1085, 1110, "18:05", "3 Dec 2026, 18:05"]]],
    ["2026-11-28", [[1080, 1140, "26 Nov 2026, 18:05", "3 Dec 2026, 18:05"]]],
    ["2026-12-03", [[1080, 1085, "26 Nov 2026, 18:05", "18:05"]]],
    ["2026-12-05", []],
  ]);
});
