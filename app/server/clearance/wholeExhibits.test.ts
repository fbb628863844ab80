import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { emptyCopy } from "~/demo/demoCopy";
import { addBatch, addDevices } from "~/store/devices";
import { allExhibits } from "~/store/exhibits";
import { keepExhibit, readExhibit, sweepOrphans } from "./exhibits";

const hand = { by: "Oda", at: "2026-11-27T18:00:00Z" };
const PNG = Buffer.from(
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==",
  "base64",
);

async function kept() {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-exhibits-"));
  const store = emptyCopy();
  addBatch(store, { id: "b", title: "B", received: "2026-11-01", note: "" });
  addDevices(store, "b", [{ tag: "T-1", serial: null, imei: null, donor: "", need: null, facts: [] }], hand);
  const keep = () => keepExhibit(store, folder, 1, { name: "a.png", bytes: PNG }, hand);
  expect(await keep()).toBeNull();
  const [row] = allExhibits(store);
  return { folder, store, keep, row, place: path.join(folder, row.digest.slice(0, 2), row.digest) };
}

test("a half file under the right digest is neither served nor trusted: the next one is written whole", async () => {
  const { folder, keep, row, place } = await kept();
  fs.truncateSync(place, 10);
  expect(readExhibit(folder, row)).toBeNull();
  expect(await keep()).toBeNull();
  expect(Buffer.from(readExhibit(folder, row) ?? [])).toEqual(PNG);
});

test("a write that writes less than all goes on; a full disk is said, and leaves nothing", async () => {
  const { folder, store, place, keep, row } = await kept();
  fs.rmSync(place);
  const real = fs.writeSync as (handle: number, bytes: Uint8Array, at: number, length: number) => number;
  const short = jest
    .spyOn(fs, "writeSync")
    .mockImplementation(((handle: number, bytes: Uint8Array, at: number) =>
      real(handle, bytes, at, Math.min(7, bytes.length - at))) as typeof fs.writeSync);
  expect(await keep()).toBeNull();
  expect(short.mock.calls.length).toBeGreaterThan(5);
  expect(Buffer.from(readExhibit(folder, row) ?? [])).toEqual(PNG);
  fs.rmSync(place);
  short.mockImplementation(() => {
    throw Object.assign(new Error("no space left"), { code: "ENOSPC" });
  });
  const entries = allExhibits(store).length;
  expect(await keep()).toContain("the disk is full");
  short.mockRestore();
  expect(allExhibits(store)).toHaveLength(entries);
  expect(fs.readdirSync(path.dirname(place))).toEqual([]);
});

test("what belongs to no entry is swept, what is young or known is left", async () => {
  const { folder, store, place } = await kept();
  const old = (name: string) => {
    fs.writeFileSync(path.join(folder, name), "x");
    fs.utimesSync(path.join(folder, name), 1, 1);
  };
  old("half.part");
  old("ab".repeat(32));
  fs.writeFileSync(path.join(folder, "young"), "x");
  fs.utimesSync(place, 1, 1);
  expect(sweepOrphans(store, folder, new Date())).toBe(2);
  expect(fs.existsSync(place)).toBe(true);
  expect(fs.existsSync(path.join(folder, "young"))).toBe(true);
});
