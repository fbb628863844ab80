import { stopRows } from "~/app/routes/bench/taught/queries";
import { endDevice } from "~/app/server/bench/endDevice";
import { acceptWay } from "~/app/server/planning/decide";
import { planJson } from "~/app/server/planning/planJson";
import { demoCopy } from "~/demo/demoCopy";
import { writeFacts } from "~/store/facts";
import { actAtBench } from "./actAtBench";
import { experienceOf } from "./experience";
import { accept, end, fact, hand, plan, standing, work } from "./loop.testing";
import { runbookOf } from "./runbooks";

describe("every run can end", () => {
  test("a run that stops at “install the ROM” leaves a device that is planned to a rescue, and its chance sinks", () => {
    const store = demoCopy();
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

  test("what helped next counts once it has ended, and not while it is under way", () => {
    const store = demoCopy();
    const next = () => stopRows(store).flatMap((row) => row.next);
    const untilInstalled = () => {
      accept(store, "TH-006", "tallgrass-12-lumen-r2");
      work(store, "TH-006", (c) => c.startsWith("recovery.install.tallgrass"));
    };
    untilInstalled();
    expect(end(store, "TH-006", "does-not-start")).toBeNull();
    expect(next()).toEqual([]);
    untilInstalled();
    expect(next()).toEqual([]);
    expect(end(store, "TH-006", "does-not-start")).toBeNull();
    expect(next()).toEqual([expect.stringMatching(/^Install the ROM.*: helped 0 of 1$/)]);
  });

  test("stopped before anything was written, it starts as before and nothing else has changed", () => {
    const store = demoCopy();
    accept(store, "TH-001", "wicklight-14-vesper");
    const was = plan(store, "TH-001");
    work(store, "TH-001", (c) => c.startsWith("adb.reboot-bootloader"));
    expect(end(store, "TH-001", "starts")).toBeNull();
    // The switch in the developer options was on already: that much is done.
    expect(`allow-unlock+${plan(store, "TH-001").best?.id}`).toBe(was.best?.id);
    expect(fact(store, "TH-001", "build.number")).toBe("VK10-QZ9A.200705.002");
  });

  test("stopped when a ROM was on it and starts: what runs is asked, and the ROM is not taken for what was there before", () => {
    const store = demoCopy();
    accept(store, "TH-006", "tallgrass-12-lumen-r2");
    work(store, "TH-006", (c) => c.startsWith("recovery.install.tallgrass"));
    expect(end(store, "TH-006", "starts-otherwise")).toBeNull();
    for (const key of ["system.kind", "android.release", "build.number"] as const)
      expect(fact(store, "TH-006", key)).toBeUndefined();
    expect(fact(store, "TH-006", "system.starts")).toBe("yes");
    expect(plan(store, "TH-006").questions.map((q) => q.fact)).toEqual(["android.release"]);
    const read = { key: "android.release", value: "12", source: "read", ...hand() } as const;
    writeFacts(store, standing(store, "TH-006").id, [read]);
    const { verdict, questions } = plan(store, "TH-006");
    expect(verdict).toBe("check-first");
    expect(questions.map((q) => q.fact)).toContain("system.kind");
    expect(store.prepare("SELECT result, seen FROM run_end").get()).toMatchObject({
      result: "starts",
      seen: expect.stringMatching(/^Another system than before: /),
    });
  });

  test("stopped while the bootloader was being unlocked, the lock is open until it is read", () => {
    const store = demoCopy();
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
    const store = demoCopy();
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
    const store = demoCopy();
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
