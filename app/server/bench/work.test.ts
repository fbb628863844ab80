import { z } from "zod";
import { actAtCheckout } from "~/app/routes/checkout/device/act";
import { factLines } from "~/app/routes/device/all/queries";
import { groupDevices } from "~/app/routes/match/chart/groups";
import { recordRows } from "~/app/routes/records/list/rows";
import { acceptWay, takeBack } from "~/app/server/planning/decide";
import { placedDevices } from "~/app/server/planning/lane";
import { planJson } from "~/app/server/planning/planJson";
import { catalogueOf, indexOf, plannedDevice, plannedDevices } from "~/app/server/planning/planning";
import { STATIONS } from "~/core/lane/stations";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import { checkItems } from "~/core/runbook/checkout";
import { makesAt } from "~/core/runbook/progress";
import { writeRunbook } from "~/core/runbook/runbook";
import { demoCopy } from "~/demo/demoCopy";
import { setAside } from "~/store/aside";
import { checkoutEnd } from "~/store/checkouts";
import { clearanceEvents } from "~/store/clearance";
import type { Store } from "~/store/database";
import { decisionsOf } from "~/store/decisions";
import { findStanding } from "~/store/devices";
import { factsOf } from "~/store/facts";
import { findRun, positionOf, stepsOf } from "~/store/runs";
import { actAtBench } from "./actAtBench";
import { runbookOf } from "./runbooks";

const hand = { by: "Aleena", at: "2026-11-20T10:00:00.000Z" };

const demo = demoCopy;

const standing = (store: Store, tag: string) => {
  const found = findStanding(store, tag);
  if (!found) throw new Error(tag);
  return found;
};
const planned = (store: Store, tag: string) => plannedDevice(store, standing(store, tag));
const best = (store: Store, tag: string) => planned(store, tag).plan.best?.id ?? "";

describe("decisions", () => {
  test("the proposed way needs no reason, another one does", () => {
    const store = demo();
    expect(acceptWay(store, ["TH-021"], best(store, "TH-021"), "", hand)).toBeNull();
    const other = planned(store, "TH-006").plan.ways[1].id;
    expect(acceptWay(store, ["TH-006"], other, "  ", hand)).toContain("write down why");
    expect(acceptWay(store, ["TH-006"], other, "they know this one", hand)).toBeNull();
    expect(decisionsOf(store, standing(store, "TH-006").id).at(-1)).toMatchObject({
      reason: "they know this one",
      proposed: best(store, "TH-006"),
    });
  });

  test("for several devices it is all or none", () => {
    const store = demo();
    expect(acceptWay(store, ["TH-021", "TH-023"], best(store, "TH-021"), "", hand)).toContain(
      "TH-023: this way is no longer open",
    );
    expect(standing(store, "TH-021").way).toBeNull();
    expect(acceptWay(store, ["NOPE"], "x", "", hand)).toContain("no device NOPE");
  });

  test("what is set aside is given no way", () => {
    const store = demo();
    const way = best(store, "TH-021");
    expect(setAside(store, "TH-021", "swollen", "the back stands off", hand)).toBeNull();
    expect(acceptWay(store, ["TH-021"], way, "", hand)).toContain("is set aside");
    expect(standing(store, "TH-021").way).toBeNull();
  });

  test("a way that rests on an open question can't be accepted", () => {
    const store = demo();
    const way = planned(store, "TH-022").plan.ways.find((w) => w.questions.length > 0);
    expect(acceptWay(store, ["TH-022"], way?.id ?? "", "a good reason", hand)).toContain("rests on an open question");
  });

  test("a decision is taken back by another entry, not by deleting it", () => {
    const store = demo();
    expect(takeBack(store, "TH-021", hand)).toContain("no accepted way");
    acceptWay(store, ["TH-021"], best(store, "TH-021"), "", hand);
    expect(takeBack(store, "TH-021", hand)).toBeNull();
    expect(standing(store, "TH-021").way).toBeNull();
    expect(decisionsOf(store, standing(store, "TH-021").id)).toHaveLength(2);
    expect(takeBack(store, "TH-019", hand)).toContain("middle of a run");
  });
});

describe("the bench", () => {
  const act = (store: Store, tag: string, kind: string, place = 0, more: { note?: string; yes?: boolean } = {}) =>
    actAtBench(store, tag, { act: kind, place, note: more.note ?? "", yes: more.yes ?? false }, hand);

  test("a whole run, with a caution that takes a deliberate yes; the result becomes facts", () => {
    const store = demo();
    expect(act(store, "TH-021", "begin")).toContain("no accepted way");
    acceptWay(store, ["TH-021"], best(store, "TH-021"), "", hand);
    expect(act(store, "TH-021", "done")).toContain("Begin it first");
    expect(act(store, "TH-021", "begin")).toBeNull();
    expect(act(store, "TH-021", "begin")).toContain("begun already");
    const run = findRun(store, standing(store, "TH-021").id);
    if (!run) throw new Error("no run");
    const steps = JSON.parse(run.runbook).steps as { caution: string | null }[];
    let cautions = 0;
    steps.forEach((step, place) => {
      if (step.caution) {
        cautions++;
        expect(act(store, "TH-021", "done", place)).toContain("can't be undone");
      }
      expect(act(store, "TH-021", "done", place, { yes: true })).toBeNull();
    });
    expect(cautions).toBe(1);
    expect(positionOf(stepsOf(store, run.id), run.steps).finished).toBe(true);
    const facts = Object.fromEntries(
      factLines(factsOf(store, standing(store, "TH-021").id)).map((l) => [l.key, l.value]),
    );
    expect(facts).toMatchObject({
      "android.release": "14",
      "system.kind": "generic",
      "bootloader.locked": "no",
      "storage.state": "clean",
    });
    expect(placedDevices(store, null).find((d) => d.standing.tag === "TH-021")?.station).toBe("checkout");
  });

  test("an unknown act, a step that is not there, something wrong without a word", () => {
    const store = demo();
    expect(act(store, "TH-019", "jump", 3)).toContain("Choose");
    expect(act(store, "TH-019", "done", 99)).toContain("not on the sheet");
    expect(act(store, "TH-019", "wrong", 3)).toContain("Write down");
    expect(act(store, "TH-019", "done", 5)).toContain("step 4");
    expect(act(store, "NOPE", "done")).toContain("no device");
  });

  test("a lock that came back stops the run in the middle", () => {
    const store = demo();
    expect(act(store, "TH-019", "locked", 3)).toBeNull();
    expect(clearanceEvents(store, findStanding(store, "TH-019")?.id as number).at(-1)).toMatchObject({
      event: "lock-came-back",
      evidence: expect.stringContaining("step 4"),
    });
    expect(findStanding(store, "TH-019")?.way).toBeNull();
    expect(placedDevices(store, null).find((d) => d.standing.tag === "TH-019")?.station).toBe("clearance");
    expect(act(store, "TH-019", "done", 3)).toContain("account lock");
    expect(runbookOf(store, "TH-019")).toMatchObject({ ok: false, status: 409 });
  });
});

describe("checkout", () => {
  const form = (items: readonly { item: string; expect: string | null }[], over: Record<string, string> = {}) => ({
    act: "done",
    ...Object.fromEntries(
      items.flatMap((i) => [
        [`result.${i.item}`, "ok"],
        [`measured.${i.item}`, i.expect ?? ""],
      ]),
    ),
    ...over,
  });
  const open = (store: Store) => {
    const { way } = standing(store, "TH-015");
    const { model, need } = planned(store, "TH-015");
    const run = findRun(store, standing(store, "TH-015").id);
    if (!way || !model || !run) throw new Error("TH-015 is not at checkout");
    return {
      device: standing(store, "TH-015").id,
      run: run.id,
      items: checkItems(JSON.parse(way), model, need),
      facts: planned(store, "TH-015").facts,
    };
  };

  test("a measured release that differs from the promise is not all right, whatever was ticked", () => {
    const store = demo();
    const desk = open(store);
    expect(actAtCheckout(store, { ...desk, form: form(desk.items, { "measured.release": "11" }) }, hand)).toContain(
      "Android version must be all right",
    );
    expect(checkoutEnd(store, desk.run)).toBeUndefined();
    expect(actAtCheckout(store, { ...desk, form: form(desk.items) }, hand)).toBeNull();
    expect(checkoutEnd(store, desk.run)?.result).toBe("done");
    expect(actAtCheckout(store, { ...desk, form: form(desk.items) }, hand)).toContain("closed already");
    expect(recordRows(store, null).find((r) => r.tag === "TH-015")).toMatchObject({
      ended: "handed over",
      promised: "12",
      measured: "12",
      notRight: "",
    });
  });

  test("back to the bench takes a note, and the run can begin anew", () => {
    const store = demo();
    const desk = open(store);
    expect(actAtCheckout(store, { ...desk, form: { act: "back" } }, hand)).toContain("Write down why");
    expect(actAtCheckout(store, { ...desk, form: { act: "back", note: "no sound in calls" } }, hand)).toBeNull();
    expect(placedDevices(store, null).find((d) => d.standing.tag === "TH-015")?.station).toBe("bench");
  });
});

describe("what other programs read", () => {
  // The shape that is promised in the README; strict, so that a field that vanishes or is renamed shows.
  const WayShape = z.strictObject({
    operations: z.array(z.strictObject({ kind: z.string(), image: z.string().nullable() })),
    release: z.string(),
    api: z.number().int(),
    handsOnMinutes: z.number(),
    unattendedMinutes: z.number(),
    waitingDays: z.number(),
    bytes: z.number(),
    success: z.number().min(0).max(1),
    wipes: z.number().int(),
    irreversible: z.array(z.string()),
    cautions: z.array(z.string()),
    back: z.string().nullable(),
    cleaned: z.string().nullable(),
  });
  const PlanShape = z.strictObject({
    batch: z.string(),
    devices: z.array(
      z.strictObject({
        tag: z.string(),
        model: z.string().nullable(),
        need: z.string().nullable(),
        clearance: z.string(),
        station: z.enum([...STATIONS, "aside"]),
        outcome: z.enum(["open", "handed-over", "set-aside", "ended", "parts", "recycling", "donor"]),
        verdict: z.enum(["can-go", "check-first", "waiting", "not-this-way", "good-enough"]),
        says: z.string().min(5),
        best: WayShape.nullable(),
        chosen: WayShape.nullable(),
        alternatives: z.array(WayShape),
        stops: z.array(z.strictObject({ image: z.string(), code: z.string(), says: z.string() })),
        questions: z.array(z.strictObject({ fact: z.string(), code: z.string(), says: z.string() })),
      }),
    ),
  });

  test("plan.json has its shape, and every system image is reached or has a reason", () => {
    const store = demo();
    const json = PlanShape.parse(JSON.parse(JSON.stringify(planJson(store, "2026-11-autumn"))));
    expect(json.devices).toHaveLength(26);
    const systems = catalogueOf(store).images.filter((i) =>
      ["official-update", "stock", "rom", "gsi"].includes(i.kind),
    );
    for (const d of json.devices) {
      if (!d.model || d.clearance !== "confirmed-clear") continue;
      const stopped = new Set(d.stops.map((s) => s.image));
      expect(stopped.size).toBe(d.stops.length);
      // Reached ways that another dominates are not shown: their image is reached all the same, and so has no reason.
      const reached = new Set([d.best, ...d.alternatives].flatMap((w) => (w ? w.operations.map((o) => o.image) : [])));
      const silent = systems.filter((i) => !stopped.has(i.id) && !reached.has(i.id));
      expect(silent.filter((i) => !i.models.includes(d.model as string) && i.models.length > 0)).toEqual([]);
      expect(silent.filter((i) => i.withdrawn)).toEqual([]);
    }
  });

  test("what is finished can't go any more, and has no sheet", () => {
    const store = demo();
    const done = planJson(store, "2026-11-autumn").devices.filter((d) => d.outcome === "handed-over");
    expect(done.length).toBeGreaterThan(0);
    for (const d of done) {
      expect(d).toMatchObject({ station: "records", verdict: "good-enough" });
      expect(runbookOf(store, d.tag)).toMatchObject({ ok: false, status: 409, code: "finished" });
    }
  });

  test("a runbook for a device without a way says why", () => {
    const store = demo();
    expect(runbookOf(store, "NOPE")).toMatchObject({ ok: false, status: 404 });
    expect(runbookOf(store, "TH-005")).toMatchObject({
      ok: false,
      status: 409,
      says: expect.stringContaining("account"),
    });
    expect(runbookOf(store, "TH-023")).toMatchObject({ ok: false, says: expect.stringContaining("Town bus") });
    expect(runbookOf(store, "TH-010")).toMatchObject({ ok: true, accepted: true });
    expect(runbookOf(store, "TH-001")).toMatchObject({ ok: true, accepted: false });
  });
});

test("what a run makes of a device: firmware, lock and build follow the operations", () => {
  const store = demo();
  const facts = (tag: string, image: string) => {
    const { plan, model, facts } = planned(store, tag);
    const way = plan.ways.find((w) => w.image === image);
    if (!way || !model) throw new Error(image);
    const sheet = writeRunbook({
      tag,
      serial: null,
      model,
      facts,
      way,
      index: indexOf(store),
      policy: DEFAULT_POLICY,
    });
    return Object.assign({}, ...sheet.steps.map((_s, place) => makesAt(sheet, place)));
  };
  expect(facts("TH-003", "vista20-stock-12")).toMatchObject({
    "android.release": "12",
    "bootloader.locked": true,
    "system.kind": "stock",
    "build.number": "VK12-SZ9A.220705.003",
  });
  expect(facts("TH-006", "tallgrass-12-lumen-r2")).toMatchObject({
    "bootloader.locked": false,
    "system.kind": "custom",
    "firmware.version": "L8-2.1",
  });
});

test("Match groups by model and need, with every device in one group", () => {
  const store = demo();
  const groups = groupDevices(plannedDevices(store, "2026-11-autumn"));
  expect(groups.reduce((n, g) => n + g.devices, 0)).toBe(26);
  expect(new Set(groups.map((g) => g.key)).size).toBe(groups.length);
  expect(groups.find((g) => g.model === "velkora-lume" && g.need === "messaging-phone")).toMatchObject({
    devices: 3,
    now: [27, 28],
    best: 31,
    floor: 29,
  });
});
