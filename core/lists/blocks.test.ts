import { carryDown } from "./blocks";
import { readList } from "./table";

const HEADER = ["Donor", "Model", "Serial"];
const lines = (...rows: string[][]) => rows.map((cells, i) => ({ line: i + 2, cells }));
const BLOCKS = lines(
  ["Town hall", "Arlo 5", "K1"],
  ["", "Arlo 5", "K2"],
  ["", "Arlo 6", ""],
  ["School", "Arlo 6", "K4"],
  ["", "Arlo 6"],
);
const cellsOf = (found: ReturnType<typeof carryDown>) => found.lines.map((l) => l.cells.join("/"));

test("a column that is filled at the beginning of blocks is offered, and nothing is filled before somebody says so", () => {
  const found = carryDown(HEADER, BLOCKS, []);
  expect(found.blocks).toEqual([{ name: "Donor", empty: 3, carried: false }]);
  expect(found.remarks.join()).toMatch(/“Donor” is empty below a value in lines of this list: 3/);
  expect(cellsOf(found)).toEqual(BLOCKS.map((l) => l.cells.join("/")));
});

test("carried down: to the next value and no further, and no number of its own", () => {
  const found = carryDown(HEADER, BLOCKS, ["Donor", "Serial"]);
  expect(cellsOf(found).map((c) => c.split("/")[0])).toEqual([
    "Town hall",
    "Town hall",
    "Town hall",
    "School",
    "School",
  ]);
  expect(cellsOf(found).map((c) => c.split("/")[2])).toEqual(["K1", "K2", "", "K4", ""]);
  expect(found.remarks.join()).toMatch(/carried down into the empty cells below its values: 3/);
});

test.each([
  [
    "filled more often than not",
    [
      ["A", "m", ""],
      ["A", "m", ""],
      ["", "m", ""],
      ["B", "m", ""],
    ],
  ],
  [
    "empty where the list begins",
    [
      ["", "m", ""],
      ["A", "m", ""],
      ["", "m", ""],
      ["", "m", ""],
    ],
  ],
  ["of one line", [["A", "m", ""]]],
])("a column that is %s is no block", (_what, rows) => {
  expect(carryDown(HEADER, lines(...rows), []).blocks).toEqual([]);
});

test("a model that misses in a few lines only is offered too, where the line says nothing else of the model", () => {
  const header = ["Model", "Model no.", "Serial"];
  const body = lines(
    ["", "", "K0"],
    ["Arlo 5", "", "K1"],
    ["", "", "K2"],
    ["Arlo 6", "", "K3"],
    ["Arlo 7", "", "K4"],
    ["", "A-8", "K5"],
  );
  expect(carryDown(header, body, []).blocks).toEqual([{ name: "Model", empty: 1, carried: false }]);
  expect(cellsOf(carryDown(header, body, ["Model"]))[2]).toBe("Arlo 5//K2");
});

test.each(["〃", "”", "dto.", "ditto", "IDEM", "''", "s.o."])("%s is what stands above, and that is said", (mark) => {
  const found = carryDown(HEADER, lines(["School", "Arlo 5", "K1"], [mark, mark, "K2"], [mark, "Arlo 6", mark]), []);
  expect(cellsOf(found)).toEqual(["School/Arlo 5/K1", "School/Arlo 5/K2", "School/Arlo 6/"]);
  expect(found.remarks.join()).toMatch(
    /^4 cells say “the same as above”: what stands there was taken, and nothing where/,
  );
});

test("a mark in the first line stands for nothing: it stays", () => {
  expect(cellsOf(carryDown(HEADER, lines(["ditto", "Arlo 5", "K1"], ["A", "m", "K2"]), []))[0]).toBe("ditto/Arlo 5/K1");
});

test("read from a file, as a person said", () => {
  const text = "Spender;Modell;Serial\nRathaus;Arlo 5;K1\n;Arlo 5;K2\nSumme;2;\n";
  const plain = readList(text);
  expect(plain.ok && plain.found).toMatchObject({ separator: ";", blocks: [{ name: "Spender", carried: false }] });
  const carried = readList(text, { carry: ["Spender"] });
  expect(carried.ok && carried.rows.map((r) => r.cells[0])).toEqual(["Rathaus", "Rathaus"]);
});
