import { endDevice } from "~/app/server/bench/endDevice";
import { acceptWay } from "~/app/server/planning/decide";
import { planJson } from "~/app/server/planning/planJson";
import { plannedDevice } from "~/app/server/planning/planning";
import type { FactKey, FactValue } from "~/core/device/fact";
import { currentFacts, currentValue } from "~/core/device/lookUp";
import type { IdentityCopy } from "~/core/runbook/identityCopy";
import type { Step } from "~/core/runbook/step";
import { initialState, planDeviceOf } from "~/core/upgrade/state";
import { demoCopy } from "~/demo/demoCopy";
import type { Store } from "~/store/database";
import { findStanding, type Standing } from "~/store/devices";
import { appendFacts, factsOf } from "~/store/facts";
import { identityCopies } from "~/store/identityCopies";
import { packagesSeen } from "~/store/packagesSeen";
import { reportsOf } from "~/store/reports";
import { findRun } from "~/store/runs";
import { catalogueOf, indexOf } from "../planning/planning";
import { acceptedOf } from "./accepted";
import { actAtBench } from "./actAtBench";
import { experienceOf } from "./experience";
import { packagesOf, takePackages } from "./packages";
import { runbookOf } from "./runbooks";
import { takeReport } from "./takeReport";

// The loop: what device and bench say comes back into the plan.
let clock = Date.parse("2026-12-01T09:00:00Z");
const hand = () => {
  clock += 60_000;
  return { by: "Aleena", at: new Date(clock).toISOString() };
};

const demo = demoCopy;

const standing = (store: Store, tag: string): Standing => {
  const found = findStanding(store, tag);
  if (!found) throw new Error(tag);
  return found;
};
const plan = (store: Store, tag: string) => plannedDevice(store, standing(store, tag)).plan;
const fact = (store: Store, tag: string, key: FactKey) =>
  currentValue(currentFacts(factsOf(store, standing(store, tag).id)), key);
const say = (store: Store, tag: string, key: FactKey, value: FactValue, source: "typed" | "read" = "read") =>
  appendFacts(store, standing(store, tag).id, [{ key, value, source, ...hand() }]);

function accept(store: Store, tag: string, image: string) {
  const way = plan(store, tag).ways.find((w) => w.image === image);
  if (!way) throw new Error(`${tag} has no way to ${image}`);
  expect(acceptWay(store, [tag], way.id, "as the test wants it", hand())).toBeNull();
  return way;
}

function sheet(store: Store, tag: string) {
  const found = runbookOf(store, tag);
  if (!found.ok) throw new Error(found.says);
  return found.runbook;
}

/** Does the steps of a run up to the first one that is told by its code. */
function work(store: Store, tag: string, until: (code: string) => boolean): number {
  if (!acceptedOf(store, standing(store, tag)).run)
    expect(actAtBench(store, tag, { act: "begin", place: 0, note: "", yes: false }, hand())).toBeNull();
  const { steps } = sheet(store, tag);
  const from = doneOf(store, tag);
  for (const [place, step] of steps.entries()) {
    if (until(step.code)) return place;
    if (place < from) continue;
    expect(
      actAtBench(store, tag, { act: "done", place, note: "", yes: true, copies: copiesOf(step) }, hand()),
    ).toBeNull();
  }
  return steps.length;
}

const doneOf = (store: Store, tag: string) => acceptedOf(store, standing(store, tag)).run?.done ?? 0;

/** What a volunteer writes down where the sheet asks for the device's own partitions. */
const copiesOf = ({ deed }: Step): IdentityCopy[] =>
  deed.kind === "gate" && deed.gate.kind === "keep"
    ? deed.gate.partitions.map((partition) => ({
        partition,
        file: `${partition}.img`,
        bytes: 4096,
        sha256: "a".repeat(64),
      }))
    : [];

const end = (store: Store, tag: string, how: string, note = "the animation runs for ever") =>
  actAtBench(store, tag, { act: "end", place: 0, note, yes: false, end: how }, hand());

describe("steps make facts", () => {
  test("an operation's facts come with its last step, and go with it when it is taken back", () => {
    const store = demo();
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
      const store = demo();
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

describe("what was saved of the device itself", () => {
  const atKeep = (store: Store) => {
    accept(store, "TH-006", "tallgrass-12-lumen-r2");
    return work(store, "TH-006", (c) => c.startsWith("gate.keep-identity"));
  };
  const done = (store: Store, place: number, copies: IdentityCopy[]) =>
    actAtBench(store, "TH-006", { act: "done", place, note: "", yes: false, copies }, hand());

  test("the run goes no further before each partition's file, bytes and digest are on record", () => {
    const store = demo();
    const place = atKeep(store);
    const copies = copiesOf(sheet(store, "TH-006").steps[place]);
    expect(copies.map((c) => c.partition)).toEqual(["persist", "nvdata"]);
    // At another step, or of another partition, nothing is taken down.
    const stray = [{ partition: "boot", file: "boot.img", bytes: 1, sha256: "c".repeat(64) }];
    expect(done(store, place, stray)).toContain("of persist, nvdata");
    expect(done(store, place, [])).toContain("of persist, nvdata");
    expect(done(store, place, copies.slice(0, 1))).toContain("of nvdata");
    const id = standing(store, "TH-006").id;
    expect(identityCopies(store, id)).toEqual([]);
    expect(done(store, place, [...copies, ...stray])).toBeNull();
    expect(done(store, place + 1, copies)).toBeNull();
    expect(identityCopies(store, id).map((c) => [c.partition, c.file, c.bytes])).toEqual([
      ["persist", "persist.img", 4096],
      ["nvdata", "nvdata.img", 4096],
    ]);
    // The newest of each counts; none is ever changed.
    expect(() => store.prepare("UPDATE identity_copy SET bytes = 1").run()).toThrow("never changed");
    expect(() => store.prepare("DELETE FROM identity_copy").run()).toThrow("never deleted");
  });

  test("a dump that is shorter than its partitions is none, and nothing of it is taken down", () => {
    const store = demo();
    accept(store, "SF-43", "hearth3-stock-11");
    const place = work(store, "SF-43", (c) => c.startsWith("gate.keep-board"));
    const { deed } = sheet(store, "SF-43").steps[place];
    if (deed.kind !== "gate" || deed.gate.kind !== "keep") throw new Error("no dump");
    const { partitions, sizes } = deed.gate;
    const whole = partitions.map((partition) => ({
      partition,
      file: `${partition}.img`,
      bytes: sizes[partition] ?? 508,
      sha256: "d".repeat(64),
    }));
    const half = whole.map((c) => (c.partition === "system" ? { ...c, bytes: c.bytes / 2 } : c));
    const dumped = (copies: IdentityCopy[]) =>
      actAtBench(store, "SF-43", { act: "done", place, note: "", yes: false, copies }, hand());
    expect(dumped(half)).toContain("system.img has 1073741824 bytes of 2147483648");
    expect(identityCopies(store, standing(store, "SF-43").id)).toEqual([]);
    expect(dumped(whole)).toBeNull();
    expect(identityCopies(store, standing(store, "SF-43").id)).toHaveLength(14);
  });

  test("a script's report brings them", () => {
    const store = demo();
    const place = atKeep(store);
    const { code } = sheet(store, "TH-006").steps[place];
    const values = {
      "identity.persist": `p.img 10 ${"b".repeat(64)}`,
      "identity.nvdata": `n.img 11 ${"c".repeat(64)}`,
    };
    const line = { session: "s1", at: new Date(clock).toISOString(), step: place + 1, code, exit: 0, tail: "" };
    const lines = [
      { ...line, seq: 1, event: "begun", values: {} },
      { ...line, seq: 2, event: "done", values },
    ];
    const text = lines.map((l) => `${JSON.stringify(l)}\n`).join("");
    expect(takeReport(store, "TH-006", text, 0)).toMatchObject({ ok: true, refused: [], done: place + 1 });
    expect(identityCopies(store, standing(store, "TH-006").id)).toMatchObject([
      { partition: "persist", file: "p.img", bytes: 10 },
      { partition: "nvdata", file: "n.img", bytes: 11 },
    ]);
  });
});

describe("a stock system that was cleaned", () => {
  const LIST = "tab8-clean-11";
  const begin = (store: Store) => {
    const way = plan(store, "TH-020").ways.find((w) => w.cleaned === LIST);
    if (!way) throw new Error("no cleaning");
    expect(acceptWay(store, ["TH-020"], way.id, "the group wants it light", hand())).toBeNull();
    return work(store, "TH-020", (c) => c.startsWith("gate.uninstall"));
  };
  const names = () =>
    catalogueOf(demo())
      .images.find((i) => i.id === LIST)
      ?.packages?.remove.map((p) => p.name) ?? [];
  const done = (store: Store, place: number, packages: string) =>
    actAtBench(store, "TH-020", { act: "done", place, note: "", yes: false, packages }, hand());
  const take = (store: Store, text: string) => takePackages(store, standing(store, "TH-020"), text, hand());

  test("the step is done once the client's own list tells what became of each; put back, the device is no cleaned one", () => {
    const store = demo();
    const place = begin(store);
    const [first, second, ...rest] = names();
    expect(rest.length).toBeGreaterThan(5);
    expect(done(store, place, "")).toContain("no package in what was pasted");
    expect(done(store, place, `package:android\npackage:${first}\n`)).toBeNull();
    const { id } = standing(store, "TH-020");
    const [{ lines }] = packagesOf(store, id);
    expect(lines.find((l) => l.name === first)?.outcome).toBe("stays");
    expect(lines.filter((l) => l.outcome === "gone")).toHaveLength(rest.length + 1);
    work(store, "TH-020", () => false);
    expect(fact(store, "TH-020", "system.cleaned")).toBe(LIST);
    expect(plan(store, "TH-020").ways.some((w) => w.operations.some((o) => o.kind === "clean-stock"))).toBe(false);

    // Some of them back, then all.
    expect(take(store, `package:android\npackage:${second}`)).toBeNull();
    expect(fact(store, "TH-020", "system.cleaned")).toBe(LIST);
    expect(take(store, "adb: no devices/emulators found")).toContain("no package in what was pasted");
    expect(take(store, ["android", first, second, ...rest].map((n) => `package:${n}`).join("\n"))).toBeNull();
    expect(fact(store, "TH-020", "system.cleaned")).toBe("none");
    expect(packagesOf(store, id)[0].lines.map((l) => l.outcome)).not.toContain("gone");
    expect(plan(store, "TH-020").ways.some((w) => w.cleaned === LIST)).toBe(true);
    expect(() => store.prepare("DELETE FROM package_seen").run()).toThrow("never deleted");
  });

  test("a script tells each package by name; one that it does not tell of stops the step", () => {
    const store = demo();
    const place = begin(store);
    const { code } = sheet(store, "TH-020").steps[place];
    const report = (session: string, packages: readonly string[]) => {
      const values = Object.fromEntries(packages.map((n) => [`package.${n}`, "gone"]));
      const line = { session, at: new Date(clock).toISOString(), step: place + 1, code, exit: 0, tail: "" };
      const lines = [
        { ...line, seq: 1, event: "begun", values: {} },
        { ...line, seq: 2, event: "done", values },
      ];
      return takeReport(store, "TH-020", lines.map((l) => `${JSON.stringify(l)}\n`).join(""), 0);
    };
    expect(report("s1", names().slice(1))).toMatchObject({
      refused: [expect.stringContaining(names()[0])],
      done: place,
    });
    expect(report("s2", names())).toMatchObject({ refused: [], done: place + 1 });
    expect(packagesSeen(store, standing(store, "TH-020").id)).toHaveLength(names().length);
  });

  test("nothing to compare with, nothing taken in", () => {
    expect(take(demo(), "package:android")).toContain("Nothing was taken from TH-020");
  });
});

describe("every run can end", () => {
  test("a run that stops at “install the ROM” leaves a device that is planned to a rescue, and its chance sinks", () => {
    const store = demo();
    const before = accept(store, "TH-006", "tallgrass-12-lumen-r2");
    const place = work(store, "TH-006", (c) => c.startsWith("recovery.install.tallgrass"));
    expect(actAtBench(store, "TH-006", { act: "wrong", place, note: "error 7", yes: false }, hand())).toBeNull();
    expect(end(store, "TH-006", "does-not-start", "")).toContain("Write down what you see");
    expect(end(store, "TH-006", "flew away")).toContain("Choose how it ends");
    expect(end(store, "TH-006", "does-not-start")).toBeNull();
    expect(fact(store, "TH-006", "system.kind")).toBe("none");
    expect(fact(store, "TH-006", "system.starts")).toBe("no");
    expect(fact(store, "TH-006", "recovery.image")).toContain("lanternkeep-3");
    expect(fact(store, "TH-006", "android.release")).toBeUndefined();
    expect(standing(store, "TH-006").way).toBeNull();
    const rescue = plan(store, "TH-006");
    expect(rescue.ways.length).toBeGreaterThan(1);
    // The recovery is on it already: the ROM again, without unlocking or flashing the recovery; or the stock package.
    expect(rescue.ways.map((w) => w.operations[0].kind)).toEqual(
      expect.arrayContaining(["install-rom", "flash-stock"]),
    );
    const next = plan(store, "TH-008").ways.find((w) => w.id.includes("install-rom:tallgrass-12-lumen-r2"));
    if (next) expect(next.success).toBeLessThan(before.success);
    expect(
      experienceOf(store).learned({ kind: "install-rom", image: "tallgrass-12-lumen-r2" }, "velkora-lume", 0.9),
    ).toMatchObject({
      here: { ok: 0, of: 1 },
    });
  });

  test("stopped before anything was written, it starts as before and nothing else has changed", () => {
    const store = demo();
    accept(store, "TH-001", "wicklight-14-vesper");
    const was = plan(store, "TH-001");
    work(store, "TH-001", (c) => c.startsWith("adb.reboot-bootloader"));
    expect(end(store, "TH-001", "starts")).toBeNull();
    // The switch in the developer options was on already: that much is done.
    expect(`allow-unlock+${plan(store, "TH-001").best?.id}`).toBe(was.best?.id);
    expect(fact(store, "TH-001", "build.number")).toBe("VK10-QZ9A.200705.002");
  });

  test("stopped while the bootloader was being unlocked, the lock is open until it is read", () => {
    const store = demo();
    accept(store, "TH-001", "wicklight-14-vesper");
    const place = work(store, "TH-001", (c) => c.startsWith("bootloader.confirm-unlock"));
    expect(
      actAtBench(store, "TH-001", { act: "wrong", place, note: "it shows nothing", yes: false }, hand()),
    ).toBeNull();
    expect(end(store, "TH-001", "starts")).toBeNull();
    expect(fact(store, "TH-001", "bootloader.locked")).toBeUndefined();
    expect(plan(store, "TH-001").questions.map((q) => q.fact)).toContain("bootloader.locked");
  });

  test("dead: to parts, with the reason, off Match; and back again when somebody was mistaken", () => {
    const store = demo();
    accept(store, "TH-001", "wicklight-14-vesper");
    work(store, "TH-001", (c) => c.startsWith("fastboot.flashing-unlock"));
    expect(end(store, "TH-001", "dead", "no key works, nothing on the computer")).toBeNull();
    const told = () => planJson(store, standing(store, "TH-001").batch).devices.find((d) => d.tag === "TH-001");
    expect(told()).toMatchObject({ station: "records", outcome: "parts", verdict: "not-this-way" });
    expect(runbookOf(store, "TH-001")).toMatchObject({ ok: false, code: "finished" });
    expect(endDevice(store, standing(store, "TH-001"), { result: "open", reason: "" }, hand())).toBeNull();
    expect(told()).toMatchObject({ station: "match", outcome: "open" });
  });

  test("not this way: parts, recycling, back to the donor, with a reason", () => {
    const store = demo();
    expect(endDevice(store, standing(store, "TH-001"), { result: "recycling", reason: "" }, hand())).toContain("why");
    expect(endDevice(store, standing(store, "TH-001"), { result: "moon", reason: "why not" }, hand())).toContain(
      "Choose",
    );
    expect(
      endDevice(store, standing(store, "TH-001"), { result: "donor", reason: "wants it back" }, hand()),
    ).toBeNull();
    expect(standing(store, "TH-001")).toMatchObject({ ended: "donor", way: null });
    const way = plan(store, "TH-001").best?.id ?? "";
    expect(acceptWay(store, ["TH-001"], way, "", hand())).toContain("goes no further");
  });
});

describe("an accepted way goes stale", () => {
  test("a read-out that contradicts it stops sheet and bench, says what changed, and is accepted anew in one go", () => {
    const store = demo();
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
    const store = demo();
    accept(store, "TH-001", "wicklight-14-vesper");
    const place = work(store, "TH-001", (c) => c.startsWith("fastboot.reboot-recovery"));
    expect(acceptedOf(store, standing(store, "TH-001")).stale).toBeNull();
    say(store, "TH-001", "firmware.version", "V20-99.9");
    const wrong = actAtBench(store, "TH-001", { act: "done", place, note: "", yes: true }, hand());
    expect(wrong).toContain("V20-99.9");
    expect(end(store, "TH-001", "does-not-start")).toBeNull();
  });

  test("a gate that reads what its own operation is making stops nothing; the same reading later or earlier does", () => {
    const store = demo();
    accept(store, "TH-001", "wicklight-14-vesper");
    const place = work(store, "TH-001", (c) => c === "gate.unlocked#2");
    say(store, "TH-001", "bootloader.locked", false);
    expect(acceptedOf(store, standing(store, "TH-001")).stale).toBeNull();
    expect(actAtBench(store, "TH-001", { act: "done", place, note: "", yes: true }, hand())).toBeNull();
    const other = demo();
    accept(other, "TH-001", "wicklight-14-vesper");
    say(other, "TH-001", "bootloader.locked", false);
    expect(acceptedOf(other, standing(other, "TH-001")).stale).not.toBeNull();
  });

  test("an update that changes the slot is meant to: the slot read behind it stops nothing", () => {
    const store = demo();
    const way = plan(store, "TH-002").ways.find((w) => w.operations[0]?.kind === "take-update");
    expect(acceptWay(store, ["TH-002"], way?.id ?? "", "the maker's own", hand())).toBeNull();
    const update = sheet(store, "TH-002").steps.findIndex((s) => s.code.startsWith("android.take-update"));
    work(store, "TH-002", (c) => c === sheet(store, "TH-002").steps[update + 1].code);
    expect(fact(store, "TH-002", "slot.current")).toBeUndefined();
    say(store, "TH-002", "slot.current", "a");
    expect(acceptedOf(store, standing(store, "TH-002")).stale).toBeNull();
  });

  test("a word against a reading is a contradiction that stops it until it is read again", () => {
    const store = demo();
    accept(store, "TH-001", "wicklight-14-vesper");
    say(store, "TH-001", "bootloader.locked", false, "typed");
    expect(runbookOf(store, "TH-001")).toMatchObject({ ok: false, code: "stale" });
    expect(plan(store, "TH-001").questions[0]).toMatchObject({
      code: "fact.contradicted",
      says: expect.stringContaining("Read again"),
    });
    say(store, "TH-001", "bootloader.locked", true);
    expect(runbookOf(store, "TH-001")).toMatchObject({ ok: true });
  });
});

test("without a need the account lock speaks first", () => {
  const store = demo();
  store.prepare("UPDATE device SET need = NULL WHERE tag = 'TH-005'").run();
  expect(plan(store, "TH-005").says).toContain("account");
});

describe("a script's report", () => {
  const line = (store: Store, tag: string, seq: number, step: number, event: string, values = {}, tail = "") =>
    `${JSON.stringify({
      session: "s1",
      seq,
      at: new Date(clock + seq * 1000).toISOString(),
      step,
      code: sheet(store, tag).steps[step - 1].code,
      event,
      exit: event === "begun" ? null : event === "done" ? 0 : 1,
      values,
      tail,
    })}\n`;

  test("begins the run, moves it on, keeps output and readings; sent again it changes nothing", () => {
    const store = demo();
    accept(store, "TH-021", "plainsong-14-arm64");
    const text =
      line(store, "TH-021", 1, 1, "begun") +
      line(store, "TH-021", 2, 1, "done", {}, "all digests agree") +
      line(store, "TH-021", 3, 2, "begun") +
      line(store, "TH-021", 4, 2, "done");
    expect(takeReport(store, "TH-021", text, 0)).toMatchObject({ ok: true, taken: 4, done: 2, refused: [] });
    expect(takeReport(store, "TH-021", text, 0)).toMatchObject({ ok: true, taken: 0, done: 2 });
    const half = `${text}${line(store, "TH-021", 5, 3, "begun").slice(0, 40)}`;
    expect(takeReport(store, "TH-021", half, 0)).toMatchObject({ ok: true, taken: 0, done: 2 });
    const run = findRun(store, standing(store, "TH-021").id);
    expect(reportsOf(store, run?.id ?? 0)).toHaveLength(4);
    // Script and hand take turns.
    expect(actAtBench(store, "TH-021", { act: "done", place: 2, note: "", yes: true }, hand())).toBeNull();
    const on =
      text +
      line(store, "TH-021", 5, 3, "begun") +
      line(store, "TH-021", 6, 3, "done") +
      line(store, "TH-021", 7, 4, "begun");
    expect(takeReport(store, "TH-021", on, 0)).toMatchObject({ ok: true, taken: 3, done: 3, refused: [] });
  });

  test("what a gate read is a measurement: another build stops the run and the way with it", () => {
    const store = demo();
    accept(store, "TH-021", "plainsong-14-arm64");
    const gate = sheet(store, "TH-021").steps.findIndex((s) => s.code === "gate.ro.build.display.id");
    let text = "";
    for (let step = 1; step <= gate; step++) text += line(store, "TH-021", step, step, "done");
    text += line(
      store,
      "TH-021",
      gate + 1,
      gate + 1,
      "failed",
      { "ro.build.display.id": "BT11-RZ9A.211105.003" },
      "The build number is …",
    );
    expect(takeReport(store, "TH-021", text, 0)).toMatchObject({ ok: true, done: gate });
    expect(fact(store, "TH-021", "build.number")).toBe("BT11-RZ9A.211105.003");
    expect(runbookOf(store, "TH-021")).toMatchObject({ ok: false, code: "stale" });
  });

  test.each([
    ["", "empty"],
    ["not json\n", "Line 1 is not JSON"],
    ['{"session":"s"}\n', "Line 1"],
    [`${JSON.stringify({ session: "../x", seq: 1 })}\n`, "session"],
  ])("%j is refused with what and where", (text, says) => {
    const store = demo();
    accept(store, "TH-021", "plainsong-14-arm64");
    expect(takeReport(store, "TH-021", text, 0)).toMatchObject({
      ok: false,
      status: 400,
      says: expect.stringContaining(says),
    });
    expect(takeReport(store, "NOPE", '{"session":"s"}\n', 0)).toMatchObject({ ok: false });
  });
});
