import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { PNG } from "pngjs";
import { demoCopy } from "~/demo/demoCopy";
import { appendClearance } from "~/store/clearance";
import { findStanding } from "~/store/devices";
import { exhibitsOf } from "~/store/exhibits";
import { keepExhibit, MAX_EXHIBIT_BYTES, readExhibit, sweepExhibits, takeExhibitAway } from "./exhibits";

const hand = { by: "Ines Varro", at: "2026-11-25T10:00:00.000Z" };
const picture = (shade: number) => {
  const png = new PNG({ width: 8, height: 8 });
  png.data.fill(shade);
  return new Uint8Array(PNG.sync.write(png));
};
// A PDF as small as one can be.
const pdf = new TextEncoder().encode("%PDF-1.4\n1 0 obj<</Type/Catalog>>endobj\ntrailer<</Root 1 0 R>>\n%%EOF\n");

function fresh() {
  const store = demoCopy();
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-exhibits-"));
  const device = (tag: string) => findStanding(store, tag)?.id as number;
  const files = () =>
    fs.readdirSync(folder, { recursive: true }).filter((f) => fs.statSync(path.join(folder, String(f))).isFile());
  return { store, folder, device, files };
}

test("pictures and PDFs are told by what is in them, kept under their digest, and read back byte for byte", async () => {
  const { store, folder, device, files } = fresh();
  const id = device("TH-005");
  expect(await keepExhibit(store, folder, id, { name: "C:\\fakepath\\letter\r\n.pdf", bytes: pdf }, hand)).toBeNull();
  expect(await keepExhibit(store, folder, id, { name: "screen.txt", bytes: picture(9) }, hand)).toBeNull();
  expect(exhibitsOf(store, id)).toMatchObject([
    { name: "letter .pdf", type: "application/pdf", bytes: pdf.length },
    { name: "screen.txt", type: "image/png" },
  ]);
  expect(readExhibit(folder, exhibitsOf(store, id)[0])).toEqual(Buffer.from(pdf));
  expect(files()).toHaveLength(2);
});

test("what is no picture is refused, whatever its name says; nothing is written", async () => {
  const { store, folder, device, files } = fresh();
  const id = device("TH-005");
  const refused = [
    ["photo.jpg", new TextEncoder().encode("<script>alert(1)</script>")],
    ["photo.png", new TextEncoder().encode("<svg xmlns='http://www.w3.org/2000/svg' onload='x()'/>")],
    ["photo.jpg", new Uint8Array([0x4d, 0x5a, 0x90, 0, 3, 0, 0, 0])],
    ["empty.png", new Uint8Array(0)],
    ["big.png", new Uint8Array(MAX_EXHIBIT_BYTES + 1)],
  ] as const;
  for (const [name, bytes] of refused)
    expect(await keepExhibit(store, folder, id, { name, bytes }, hand)).toEqual(expect.any(String));
  expect(exhibitsOf(store, id)).toEqual([]);
  expect(files()).toEqual([]);
});

test("the same file of two devices lies there once, and goes when the last entry goes", async () => {
  const { store, folder, device, files } = fresh();
  for (const tag of ["TH-005", "TH-025"])
    await keepExhibit(store, folder, device(tag), { name: "a.png", bytes: picture(1) }, hand);
  expect(files()).toHaveLength(1);
  takeExhibitAway(store, folder, exhibitsOf(store, device("TH-005"))[0], hand.at);
  expect(files()).toHaveLength(1);
  takeExhibitAway(store, folder, exhibitsOf(store, device("TH-025"))[0], hand.at);
  expect(files()).toHaveLength(0);
  expect(exhibitsOf(store, device("TH-025"))).toMatchObject([
    { removed: hand.at, digest: expect.stringMatching(/^[0-9a-f]{64}$/) },
  ]);
});

test("files go with the case, after the policy's days; those of open cases stay", async () => {
  const { store, folder, device, files } = fresh();
  await keepExhibit(store, folder, device("TH-005"), { name: "a.png", bytes: picture(1) }, hand);
  await keepExhibit(store, folder, device("SF-01"), { name: "b.png", bytes: picture(2) }, hand);
  expect(sweepExhibits(store, folder, new Date("2027-10-20T00:00:00Z"))).toBe(0);
  expect(sweepExhibits(store, folder, new Date("2027-10-25T00:00:00Z"))).toBe(1);
  expect(files()).toHaveLength(1);
  const lock = { possible: true as const, says: "" };
  appendClearance(store, "TH-005", { event: "owner-declined", evidence: "", seen: 0, lock }, hand);
  expect(sweepExhibits(store, folder, new Date("2040-01-01T00:00:00Z"))).toBe(0);
});
