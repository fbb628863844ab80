import { acceptWay } from "~/app/server/planning/decide";
import { plannedDevice } from "~/app/server/planning/planning";
import { initialState, planDeviceOf } from "~/core/upgrade/state";
import { demoCopy } from "~/demo/demoCopy";
import { factsOf } from "~/store/facts";
import { indexOf } from "../planning/planning";
import { acceptedOf } from "./accepted";
import { actAtBench } from "./actAtBench";
import { accept, end, fact, hand, plan, say, sheet, standing, work } from "./loop.testing";
import { runbookOf } from "./runbooks";

// The loop: what device and bench say comes back into the plan.
describe("steps make facts", () => {
  test("an operation's facts come with its last step, and go with it when it is taken back", () => {
    const store = demoCopy();
    accept(store, "TH-001", "wicklight-14-vesper");
    const place = work(store, "TH-001", (c) => c.startsWith("bootloader.confirm-unlock"));
    expect(fact(store, "TH-001", "bootloader.locked")).toBe(true);
    for (const at of [place, place + 1])
      expect(actAtBench(store, "TH-001", { act: "done", place: at, note: "", yes: true }, hand())).toBeNull();
    expect(fact(store, "TH-001", "bootloader.locked")).toBe(false);
    expect(fact(store, "TH-001", "accounts.on")).toBe(false);
    expect(actAtBench(store, "TH-001", { act: "undone", place: place + 1, note: "", yes: false }, hand())).toBeNull();
    expect(fact(store, "TH-001", "bootloader.locked")).toBe(true);
    const written = factsOf(store, standing(store, "TH-001").id).filter((f) => f.key === "bootloader.locked");
    expect(written).toHaveLength(1);
  });

  test("at the end the facts tell exactly the state that was planned, and the device is not planned anew", () => {
    for (const [tag, image] of [
      ["TH-001", "wicklight-14-vesper"],
      ["TH-006", "tallgrass-12-lumen-r2"],
      ["TH-021", "plainsong-14-arm64"],
      ["TH-003", "vista20-stock-12"],
      ["TH-018", "wicklight-15-m7"],
    ] as const) {
      const store = demoCopy();
      const way = accept(store, tag, image);
      work(store, tag, () => false);
      const { facts, model } = plannedDevice(store, standing(store, tag));
      if (!model) throw new Error(tag);
      const state = initialState(planDeviceOf(model, facts), indexOf(store));
      expect([tag, state]).toMatchObject([
        tag,
        { image, api: way.api, patch: way.patch, basePatch: way.basePatch, storage: "clean", started: "running" },
      ]);
      const kept = plan(store, tag).ways.find((w) => w.keeps);
      expect([tag, kept?.fit.works, kept?.questions]).toEqual([tag, way.fit.works, []]);
    }
  });
});

test("what the lock told unread is told by the run that opens it: nothing of it is asked behind", () => {
  const store = demoCopy();
  accept(store, "TH-024", "plainsong-12-arm64");
  expect(fact(store, "TH-024", "recovery.image")).toBeUndefined();
  work(store, "TH-024", () => false);
  expect(fact(store, "TH-024", "recovery.image")).toBe("stock");
  const newer = plan(store, "TH-024").ways.filter((w) => w.image === "plainsong-14-arm64");
  expect(newer.map((w) => w.operations.map((o) => o.kind).join(" > "))).toContain("install-gsi > format-data");
  for (const way of newer) expect(way.questions).toEqual([]);
});

describe("an accepted way goes stale", () => {
  test("a read-out that contradicts it stops sheet and bench, says what changed, and is accepted anew in one go", () => {
    const store = demoCopy();
    accept(store, "TH-021", "plainsong-14-arm64");
    expect(runbookOf(store, "TH-021").ok).toBe(true);
    say(store, "TH-021", "build.number", "BT11-RZ9A.211105.003");
    say(store, "TH-021", "android.release", "11");
    const refused = runbookOf(store, "TH-021");
    expect(refused).toMatchObject({ ok: false, status: 409, code: "stale" });
    expect(refused.ok ? "" : refused.says).toContain("BT11-RZ9A.211105.003");
    expect(actAtBench(store, "TH-021", { act: "begin", place: 0, note: "", yes: false }, hand())).toContain(
      "has changed",
    );
    const { stale } = acceptedOf(store, standing(store, "TH-021"));
    expect(stale?.changed.map((c) => c.fact)).toEqual(expect.arrayContaining(["build.number", "android.release"]));
    expect(acceptWay(store, ["TH-021"], stale?.proposes?.id ?? "", "", hand())).toBeNull();
    expect(runbookOf(store, "TH-021")).toMatchObject({ ok: true });
  });

  test("in the middle of a run too; what the run itself has made is meant to be so", () => {
    const store = demoCopy();
    accept(store, "TH-001", "wicklight-14-vesper");
    const place = work(store, "TH-001", (c) => c.startsWith("fastboot.reboot-recovery"));
    expect(acceptedOf(store, standing(store, "TH-001")).stale).toBeNull();
    say(store, "TH-001", "firmware.version", "V20-99.9");
    const wrong = actAtBench(store, "TH-001", { act: "done", place, note: "", yes: true }, hand());
    expect(wrong).toContain("V20-99.9");
    expect(end(store, "TH-001", "does-not-start")).toBeNull();
  });

  test("a gate that reads what its own operation is making stops nothing; the same reading later or earlier does", () => {
    const store = demoCopy();
    accept(store, "TH-001", "wicklight-14-vesper");
    const place = work(store, "TH-001", (c) => c === "gate.unlocked#2");
    say(store, "TH-001", "bootloader.locked", false);
    expect(acceptedOf(store, standing(store, "TH-001")).stale).toBeNull();
    expect(actAtBench(store, "TH-001", { act: "done", place, note: "", yes: true }, hand())).toBeNull();
    const other = demoCopy();
    accept(other, "TH-001", "wicklight-14-vesper");
    say(other, "TH-001", "bootloader.locked", false);
    expect(acceptedOf(other, standing(other, "TH-001")).stale).not.toBeNull();
  });

  test("an update that changes the slot is meant to: the slot read behind it stops nothing", () => {
    const store = demoCopy();
    const way = plan(store, "TH-002").ways.find((w) => w.operations[0]?.kind === "take-update");
    expect(acceptWay(store, ["TH-002"], way?.id ?? "", "the maker's own", hand())).toBeNull();
    const update = sheet(store, "TH-002").steps.findIndex((s) => s.code.startsWith("android.take-update"));
    work(store, "TH-002", (c) => c === sheet(store, "TH-002").steps[update + 1].code);
    expect(fact(store, "TH-002", "slot.current")).toBeUndefined();
    say(store, "TH-002", "slot.current", "a");
    expect(acceptedOf(store, standing(store, "TH-002")).stale).toBeNull();
  });

  test("a word against a reading is a contradiction that stops it until it is read again", () => {
    const store = demoCopy();
    accept(store, "TH-001", "wicklight-14-vesper");
    say(store, "TH-001", "bootloader.locked", false, "typed");
    expect(runbookOf(store, "TH-001")).toMatchObject({ ok: false, code: "stale" });
    expect(plan(store, "TH-001").questions[0]).toMatchObject({
      code: "fact.contradicted",
      says: "Read again: Bootloader locked was read as yes, later said to be no",
    });
    say(store, "TH-001", "bootloader.locked", true);
    expect(runbookOf(store, "TH-001")).toMatchObject({ ok: true });
  });
});

test("without a need the account lock speaks first", () => {
  const store = demoCopy();
  store.prepare("UPDATE device SET need = NULL WHERE tag = 'TH-005'").run();
  expect(plan(store, "TH-005").says).toContain("account");
});
