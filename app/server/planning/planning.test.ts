import { lockPossible } from "~/core/clearance/proof";
import { demoCopy } from "~/demo/demoCopy";
import { readCatalogueRows } from "~/store/catalogue";
import { appendClearance, clearanceEvents } from "~/store/clearance";
import type { Store } from "~/store/database";
import { findStanding, saveDevice, standingsIn } from "~/store/devices";
import { appendFacts } from "~/store/facts";
import { loadPack } from "~/store/packs";
import { readPolicy, savePolicy } from "~/store/policy";
import { countStations, placedDevices } from "./lane";
import { planAhead } from "./planAhead";
import { plannedDevice, plannedDevices } from "./planning";

const hand = { by: "test", at: "2026-11-20T10:00:00.000Z" };

const demo = demoCopy;

const planOf = (store: Store, tag: string) => {
  const found = plannedDevices(store, null).find((d) => d.standing.tag === tag);
  if (!found) throw new Error(tag);
  return found;
};

describe("kept plans", () => {
  test("nothing moved: the very same objects come back", () => {
    const store = demo();
    const first = plannedDevices(store, null);
    const second = plannedDevices(store, null);
    expect(second.every((d, i) => d === first[i])).toBe(true);
  });

  test("planned ahead: others have their turn meanwhile, and what comes then is what was planned", async () => {
    const store = demo();
    let turns = 0;
    let ended = false;
    const others = () => {
      turns++;
      if (!ended) setImmediate(others);
    };
    setImmediate(others);
    await planAhead(store);
    ended = true;
    expect(turns).toBeGreaterThan(2);
    const standings = standingsIn(store, null);
    expect(standings.length).toBeGreaterThan(50);
    const plans = standings.map((standing) => plannedDevice(store, standing).plan);
    expect(plannedDevices(store, null).map(({ plan }) => plan)).toEqual(plans);
    expect(plannedDevices(store, null).every(({ plan }, k) => plan === plans[k])).toBe(true);
  });

  test("a fact: that device is planned again, no other", () => {
    const store = demo();
    const before = plannedDevices(store, null);
    expect(planOf(store, "TH-022").plan.questions.map((q) => q.fact)).toContain("build.number");
    appendFacts(store, planOf(store, "TH-022").standing.id, [
      { key: "build.number", value: "BT10-QZ9A.200905.001", source: "read", ...hand },
      { key: "system.kind", value: "stock", source: "read", ...hand },
      { key: "slot.current", value: "a", source: "read", ...hand },
    ]);
    expect(planOf(store, "TH-022").plan.verdict).toBe("can-go");
    const after = plannedDevices(store, null);
    expect(after.filter((d, i) => d !== before[i]).map((d) => d.standing.tag)).toEqual(["TH-022"]);
  });

  test("clearance: the plan opens and closes with the gate", () => {
    const store = demo();
    expect(planOf(store, "TH-005").plan.ways).toEqual([]);
    expect(
      appendClearance(
        store,
        "TH-005",
        {
          event: "confirmed-clear",
          evidence: "signed out by phone",
          detail: { proofs: ["signed-out", "set-up-clean"] },
          seen: newest(store, "TH-005"),
          lock: lockPossible(30, null),
        },
        hand,
      ),
    ).toBeNull();
    expect(planOf(store, "TH-005").plan.ways.length).toBeGreaterThan(1);
    expect(
      appendClearance(
        store,
        "TH-005",
        {
          event: "lock-came-back",
          evidence: "asks again",
          seen: newest(store, "TH-005"),
          lock: lockPossible(30, null),
        },
        hand,
      ),
    ).toBeNull();
    expect(planOf(store, "TH-005").plan.ways).toEqual([]);
  });

  test("an image, a model, a need: all plans follow", () => {
    const store = demo();
    expect(planOf(store, "TH-001").plan.best?.image).toBe("wicklight-14-vesper");
    const c = readCatalogueRows(store);
    const withdrawn = { on: "2026-11-01", says: "it loses the radio", successor: null };
    loadPack(
      store,
      { ...c, images: c.images.map((i) => (i.id === "wicklight-14-vesper" ? { ...i, withdrawn } : i)) },
      hand,
      "Demo catalogue",
    );
    expect(planOf(store, "TH-001").plan.best?.image).not.toBe("wicklight-14-vesper");
    expect(planOf(store, "TH-001").plan.stops.find((s) => s.image === "wicklight-14-vesper")?.code).toBe(
      "image.withdrawn",
    );

    const locked = { ...readCatalogueRows(store) };
    loadPack(
      store,
      {
        ...locked,
        models: locked.models.map((m) =>
          m.id === "mirevo-m7" ? { ...m, unlock: { ...m.unlock, possible: false } } : m,
        ),
      },
      hand,
      "Demo catalogue",
    );
    expect(planOf(store, "TH-017").plan.best?.waitingDays).toBe(0);

    const easier = { ...readCatalogueRows(store) };
    expect(planOf(store, "TH-023").plan.verdict).toBe("not-this-way");
    loadPack(
      store,
      {
        ...easier,
        needs: easier.needs.map((n) =>
          n.id === "messaging-phone" ? { ...n, apps: n.apps.filter((a) => a.minApi < 29) } : n,
        ),
      },
      hand,
      "Demo catalogue",
    );
    expect(planOf(store, "TH-023").plan.verdict).toBe("can-go");
  });

  test("the policy, and the need a device waits for", () => {
    const store = demo();
    const { policy, version } = readPolicy(store);
    expect(planOf(store, "TH-020").plan.verdict).toBe("good-enough");
    expect(planOf(store, "TH-004").plan.best?.keeps).toBe(true);
    savePolicy(store, { ...policy, enoughMargin: 10 }, version, hand);
    expect(planOf(store, "TH-004").plan.best?.keeps).toBe(false);
    const was = findStanding(store, "TH-002");
    if (!was) throw new Error("TH-002");
    const before = planOf(store, "TH-002").plan;
    saveDevice(store, was, { ...was, need: "messaging-phone" }, hand);
    expect(planOf(store, "TH-002").plan).not.toBe(before);
    expect(planOf(store, "TH-002").need?.id).toBe("messaging-phone");
  });
});

test("every device of the demo stands at exactly one station", () => {
  const store = demo();
  const counts = (batch: string) => countStations(placedDevices(store, batch));
  expect(counts("2026-11-autumn")).toEqual({ intake: 1, clearance: 4, match: 16, bench: 3, checkout: 1, records: 1 });
  expect(counts("2026-10-families")).toEqual({
    intake: 0,
    clearance: 22,
    match: 30,
    bench: 1,
    checkout: 1,
    records: 4,
  });
  expect(placedDevices(store, "2026-10-families").filter((d) => d.station === "aside")).toHaveLength(2);
});

function newest(store: Store, tag: string): number {
  return clearanceEvents(store, findStanding(store, tag)?.id as number).at(-1)?.id as number;
}
