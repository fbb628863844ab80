import { acceptWay } from "~/app/server/planning/decide";
import type { IdentityCopy } from "~/core/runbook/identityCopy";
import { demoCopy } from "~/demo/demoCopy";
import type { Store } from "~/store/database";
import { identityCopies } from "~/store/identityCopies";
import { packagesSeen } from "~/store/packagesSeen";
import { catalogueOf } from "../planning/planning";
import { actAtBench } from "./actAtBench";
import { accept, clock, copiesOf, fact, hand, plan, sheet, standing, work } from "./loop.testing";
import { packagesOf, takePackages } from "./packages";
import { takeReport } from "./takeReport";

describe("what was saved of the device itself", () => {
  const atKeep = (store: Store) => {
    accept(store, "TH-006", "tallgrass-12-lumen-r2");
    return work(store, "TH-006", (c) => c.startsWith("gate.keep-identity"));
  };
  const done = (store: Store, place: number, copies: IdentityCopy[]) =>
    actAtBench(store, "TH-006", { act: "done", place, note: "", yes: false, copies }, hand());

  test("the run goes no further before each partition's file, bytes and digest are on record", () => {
    const store = demoCopy();
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
    const store = demoCopy();
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
    const store = demoCopy();
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
    catalogueOf(demoCopy())
      .images.find((i) => i.id === LIST)
      ?.packages?.remove.map((p) => p.name) ?? [];
  const done = (store: Store, place: number, packages: string) =>
    actAtBench(store, "TH-020", { act: "done", place, note: "", yes: false, packages }, hand());
  const take = (store: Store, text: string) => takePackages(store, standing(store, "TH-020"), text, hand());

  test("the step is done once the client's own list tells what became of each; put back, the device is no cleaned one", () => {
    const store = demoCopy();
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
    const store = demoCopy();
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
    expect(take(demoCopy(), "package:android")).toContain("Nothing was taken from TH-020");
  });
});
