import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import type { ClearanceEventKind } from "~/core/clearance/events";
import { lockPossible } from "~/core/clearance/proof";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import { emptyCopy } from "~/demo/demoCopy";
import { makeCatalogue, makeImage, makeModel, makeNeed } from "~/testing/catalogueEntries";
import { bringBack, setAside } from "./aside";
import { catalogueHistory, readCatalogueRows, readRevisions } from "./catalogue";
import { appendChecks, checksOf, endCheckout } from "./checkouts";
import { appendClearance, clearanceEvents } from "./clearance";
import { type Hand, migrate, openStore, StaleEdit, type Store } from "./database";
import { decide, decisionsOf } from "./decisions";
import { addBatch, addDevices, findStanding, saveDevice, searchDevices, standingsIn, tagsInUse } from "./devices";
import { appendFacts, factsByDevice, factsOf } from "./facts";
import { addPack, findPack, loadPack, takePack } from "./packs";
import { readPolicy, savePolicy } from "./policy";
import { appendStep, beginRun, findRun, positionOf, RunMoved, runStandings, stepsOf } from "./runs";

const hand: Hand = { by: "Ines", at: "2026-11-16T09:00:00.000Z" };
const lock = lockPossible(29, null);
const catalogue = makeCatalogue({
  models: [makeModel({ id: "m" })],
  images: [makeImage({ id: "s", kind: "stock", models: ["m"], firmware: "F1" }, 30)],
});

function fresh(): Store {
  const store = emptyCopy();
  loadPack(store, catalogue, hand);
  addBatch(store, { id: "b", title: "Box", received: "2026-11-16", note: "" });
  addDevices(
    store,
    "b",
    [
      {
        tag: "T-1",
        serial: "SER123",
        imei: null,
        donor: "Desk",
        need: "need",
        facts: [{ key: "android.release", value: "10", source: "typed", ...hand }],
      },
    ],
    hand,
  );
  return store;
}

const device = (store: Store) => findStanding(store, "T-1") as NonNullable<ReturnType<typeof findStanding>>;

describe("the database", () => {
  test("is made as designed: strict, WAL, full sync, foreign keys on, migrations counted", () => {
    const file = path.join(fs.mkdtempSync(path.join(os.tmpdir(), "upshift-store-")), "x.db");
    const store = openStore(file);
    expect(store.pragma("journal_mode", { simple: true })).toBe("wal");
    expect(store.pragma("synchronous", { simple: true })).toBe(2);
    expect(store.pragma("foreign_keys", { simple: true })).toBe(1);
    expect(store.pragma("user_version", { simple: true })).toBe(fs.readdirSync("store/migrations").length);
    // The search index is kept by SQLite's full-text module in tables of its own.
    const loose = store
      .prepare(
        "SELECT name FROM pragma_table_list WHERE schema = 'main' AND type = 'table' AND strict = 0 AND name NOT LIKE 'sqlite_%' AND name NOT LIKE 'device_search%' AND name NOT LIKE 'known_device%'",
      )
      .all();
    expect(loose).toEqual([]);
    store.close();
    expect(() => openStore(file).close()).not.toThrow();
  });

  // A database of every earlier version opens and comes up to date, with what was in it.
  test.each(
    fs
      .readdirSync("store/migrations")
      .slice(0, -1)
      .map((_, i) => i + 1),
  )("a database of version %d comes up to date", (version) => {
    const folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-versions-"));
    const all = fs.readdirSync("store/migrations").sort();
    for (const name of all.slice(0, version))
      fs.copyFileSync(path.join("store/migrations", name), path.join(folder, name));
    const file = path.join(folder, "old.db");
    const old = openStore(file, folder);
    // From version 7 on numbers are written without dashes and blanks.
    const serial = version < 7 ? "AB-12 3" : "AB123";
    old.exec(`
      INSERT INTO batch (id, title, received) VALUES ('b', 'B', '2026-11-01');
      INSERT INTO device (id, batch, tag, serial, at) VALUES (1, 'b', 'T-1', '${serial}', '2026-11-01T10:00:00Z');
      INSERT INTO fact (device, key, value, source, at, by) VALUES (1, 'android.release', '"9"', 'typed', '2026-11-01T10:00:00Z', 'Oda');
    `);
    expect(old.pragma("user_version", { simple: true })).toBe(version);
    old.close();
    const now = openStore(file);
    expect(now.pragma("user_version", { simple: true })).toBe(all.length);
    expect(now.pragma("integrity_check", { simple: true })).toBe("ok");
    expect(findStanding(now, "T-1")).toMatchObject({ tag: "T-1", serial: "AB123" });
    now.close();
    // A second time changes nothing.
    openStore(file).close();
  });

  test("a migration that fails leaves nothing behind", () => {
    const folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-migrations-"));
    fs.cpSync("store/migrations", folder, { recursive: true });
    const done = fs.readdirSync(folder).length;
    fs.writeFileSync(
      path.join(folder, "999_bad.sql"),
      "CREATE TABLE extra (a TEXT) STRICT; SELECT nothing_like_this();",
    );
    const store = emptyCopy();
    expect(() => migrate(store, folder)).toThrow();
    expect(store.pragma("user_version", { simple: true })).toBe(done);
    expect(store.prepare("SELECT count(*) AS n FROM sqlite_master WHERE name = 'extra'").get()).toEqual({ n: 0 });
  });

  test("a newer database is refused with what to do", () => {
    const store = emptyCopy();
    store.pragma("user_version = 99");
    expect(() => migrate(store, "store/migrations")).toThrow("newer version");
  });

  test.each([
    "fact",
    "clearance_event",
    "decision",
    "run",
    "run_step",
    "checkout_entry",
    "checkout_end",
    "catalogue_change",
    "set_aside",
  ])("%s is append-only", (table) => {
    const store = fresh();
    appendClearance(store, "T-1", { event: "found-account", evidence: "", seen: 0, lock }, hand);
    setAside(store, "T-1", "hot", "", hand);
    const decision = decide(store, device(store).id, { way: null, proposed: null, reason: "" }, hand);
    beginRun(store, device(store).id, decision, { steps: [{ code: "a" }] } as never, hand);
    const run = findRun(store, device(store).id) as NonNullable<ReturnType<typeof findRun>>;
    appendStep(store, run, { place: 0, code: "a", outcome: "done", note: "" }, hand);
    appendChecks(store, device(store).id, run.id, [{ item: "x", measured: "", result: "ok" }], hand);
    endCheckout(store, device(store).id, run.id, { result: "done", note: "" }, hand);
    expect(() => store.prepare(`UPDATE ${table} SET by = 'x'`).run()).toThrow(/appended/);
    expect(() => store.prepare(`DELETE FROM ${table}`).run()).toThrow(/appended/);
  });
});

describe("devices and facts", () => {
  test("taking in is all or none", () => {
    const store = fresh();
    const row = (tag: string) => ({ tag, serial: null, imei: null, donor: "", need: null, facts: [] });
    expect(() => addDevices(store, "b", [row("T-2"), row("t-1")], hand)).toThrow();
    expect(standingsIn(store, "b").map((s) => s.tag)).toEqual(["T-1"]);
    expect(() => addDevices(store, "no-such-batch", [row("T-3")], hand)).toThrow(/FOREIGN KEY/);
    expect([...tagsInUse(store)]).toEqual(["t-1"]);
  });

  test("a fact that is no fact takes the whole set back", () => {
    const store = fresh();
    const before = factsOf(store, device(store).id);
    expect(() =>
      appendFacts(store, device(store).id, [
        { key: "build.number", value: "B", source: "typed", ...hand },
        { key: "build.number", value: "B", source: "guess" as never, ...hand },
      ]),
    ).toThrow();
    expect(factsOf(store, device(store).id)).toEqual(before);
    expect(factsByDevice(store, "b").get(device(store).id)).toEqual(before);
  });

  test("a stale edit is told apart, and the earlier state is kept", () => {
    const store = fresh();
    const was = device(store);
    saveDevice(store, was, { serial: "SER123", imei: null, donor: "First", need: "need", version: was.version }, hand);
    expect(() =>
      saveDevice(
        store,
        was,
        { serial: "SER123", imei: null, donor: "Second", need: "need", version: was.version },
        hand,
      ),
    ).toThrow(StaleEdit);
    expect(device(store)).toMatchObject({ donor: "First", version: was.version + 1 });
    expect(store.prepare("SELECT count(*) AS n FROM device_change").get()).toEqual({ n: 1 });
  });

  test("search by any part of tag, numbers, donor and model; what looks like an operator is text", () => {
    const store = fresh();
    const add = (tag: string, more: object) =>
      addDevices(store, "b", [{ tag, serial: null, imei: null, donor: "", need: null, facts: [], ...more }], hand);
    add("T-12", { donor: "Žofie Ångström", imei: "490154203237518" });
    add("T-2", { facts: [{ key: "model.number", value: "VK-L8S", source: "typed", at: hand.at, by: hand.by }] });
    const tags = (text: string) => searchDevices(store, text).map((d) => d.tag);
    expect(tags("T-1")).toEqual(["T-1", "T-12"]);
    expect(tags("R123")).toEqual(["T-1"]);
    expect(tags("7518")).toEqual(["T-12"]);
    for (const written of ["S/N R 123", "r-123", "R.1.2.3"]) expect(tags(written)).toEqual(["T-1"]);
    expect(tags("75 18")).toEqual(["T-12"]);
    expect(tags("ångs")).toEqual(["T-12"]);
    expect(tags("k-l8")).toEqual(["T-2"]);
    expect(tags("T")).toHaveLength(3);
    for (const odd of ["%", "__", "%%%", '"', 'x" OR tag:T', "NEAR(T", "*"]) expect(tags(odd)).toEqual([]);
  });
});

describe("clearance", () => {
  test("a case moved on by somebody else is not moved twice", () => {
    const store = fresh();
    const move = { event: "found-account" as const, evidence: "", seen: 0, lock };
    expect(appendClearance(store, "T-1", move, hand)).toBeNull();
    expect(
      appendClearance(store, "T-1", { ...move, event: "confirmed-clear", evidence: "seen clear" }, hand),
    ).toContain("Somebody else");
    expect(clearanceEvents(store, device(store).id).map((e) => e.state)).toEqual(["present"]);
  });

  test("a note collides with nothing, and makes no other entry collide", () => {
    const store = fresh();
    const note = { event: "note" as const, evidence: "rang twice", seen: 0, lock };
    expect(appendClearance(store, "T-1", { ...note, event: "found-account" }, hand)).toBeNull();
    expect(appendClearance(store, "T-1", note, hand)).toBeNull();
    const seen = clearanceEvents(store, device(store).id)[0].id;
    expect(appendClearance(store, "T-1", { ...note, event: "asked-owner", seen }, hand)).toBeNull();
    expect(device(store).clearance).toBe("asked");
  });

  test("a lock that turns up takes the accepted way back; reported lost is set aside, and back with the entry", () => {
    const store = fresh();
    const seen = () => clearanceEvents(store, device(store).id).at(-1)?.id ?? 0;
    const move = (event: ClearanceEventKind, more: object = {}) =>
      appendClearance(store, "T-1", { event, evidence: "seen at the desk", seen: seen(), lock, ...more }, hand);
    expect(move("confirmed-clear", { detail: { proofs: ["signed-out", "set-up-clean"] } })).toBeNull();
    decide(store, device(store).id, { way: { id: "w" } as never, proposed: null, reason: "" }, hand);
    expect(device(store).way).not.toBeNull();
    expect(move("lock-came-back")).toBeNull();
    expect(device(store)).toMatchObject({ way: null, clearance: "present" });
    expect(decisionsOf(store, device(store).id).at(-1)?.reason).toContain("a lock turned up");
    expect(move("reported-lost")).toBeNull();
    expect(device(store).aside).toBe("lost");
    expect(bringBack(store, "T-1", "no longer of interest", hand)).toContain("Clearance first");
    expect(move("taken-back")).toBeNull();
    expect(device(store)).toMatchObject({ aside: null, clearance: "present" });
  });
});

describe("runs", () => {
  test("the position follows from what was appended; a second tab can't do a step twice", () => {
    const store = fresh();
    const decision = decide(store, device(store).id, { way: null, proposed: null, reason: "" }, hand);
    beginRun(store, device(store).id, decision, { steps: [{ code: "a" }, { code: "b" }] } as never, hand);
    const run = findRun(store, device(store).id) as NonNullable<ReturnType<typeof findRun>>;
    const at = (place: number, outcome: "begun" | "done" | "wrong" | "again" | "undone", note = "") =>
      appendStep(store, run, { place, code: "x", outcome, note }, hand);
    const now = () => positionOf(stepsOf(store, run.id), run.steps);
    expect(at(0, "begun")).toBe(1);
    expect(now()).toMatchObject({ place: 0, begunAt: hand.at });
    expect(at(0, "done")).toBe(2);
    expect(() => at(0, "done")).toThrow(RunMoved);
    expect(at(1, "wrong", "smoke")).toBe(3);
    expect(now()).toMatchObject({ place: 1, wrong: "smoke" });
    expect(at(1, "again")).toBe(4);
    expect(at(0, "undone")).toBe(5);
    expect(now()).toMatchObject({ place: 0, finished: false });
    at(0, "done");
    at(1, "done");
    expect(now().finished).toBe(true);
    expect(runStandings(store).get(device(store).id)).toMatchObject({
      steps: 2,
      done: 2,
      checkout: null,
      stopped: null,
    });
    appendChecks(store, device(store).id, run.id, [{ item: "release", measured: "9", result: "not-ok" }], hand);
    appendChecks(store, device(store).id, run.id, [{ item: "release", measured: "10", result: "ok" }], hand);
    expect(checksOf(store, run.id).get("release")).toMatchObject({ measured: "10", result: "ok" });
    expect(decisionsOf(store, device(store).id)).toHaveLength(1);
  });
});

describe("the catalogue", () => {
  test("goes in and comes out the same; only what changed is written to the history", () => {
    const store = fresh();
    expect(readCatalogueRows(store)).toEqual(catalogue);
    const next = {
      ...catalogue,
      images: [{ ...catalogue.images[0], title: "New title" }],
      models: [...catalogue.models, makeModel({ id: "n" })],
    };
    expect(loadPack(store, next, hand)).toBe(2);
    expect(catalogueHistory(store, "image", "s")).toHaveLength(2);
    expect(catalogueHistory(store, "model", "m")).toHaveLength(1);
  });

  test("a need that devices wait for can't vanish, and nothing else of that pack is written", () => {
    const store = fresh();
    const before = readRevisions(store);
    const pack = { ...catalogue, title: "Later", needs: [makeNeed({ id: "other" })] };
    const id = addPack(store, { title: pack.title, name: "later.json", text: "{}" }, hand);
    const choices = { take: new Set(["need other"]), packsWay: new Set<string>(), out: new Set(["need need"]) };
    expect(() => takePack(store, id, pack, choices, hand)).toThrow("Devices are planned for it");
    expect(readCatalogueRows(store)).toEqual(catalogue);
    expect(readRevisions(store)).toEqual(before);
    expect(findPack(store, id)?.taken).toBeNull();
  });
});

test("the policy has defaults, keeps versions, refuses a stale edit", () => {
  const store = fresh();
  expect(readPolicy(store)).toEqual({ policy: DEFAULT_POLICY, version: 0 });
  savePolicy(store, { ...DEFAULT_POLICY, batteryFloor: 70 }, 0, hand);
  expect(readPolicy(store)).toMatchObject({ policy: { batteryFloor: 70 }, version: 1 });
  expect(() => savePolicy(store, DEFAULT_POLICY, 0, hand)).toThrow(StaleEdit);
});
