import { Image } from "~/core/catalogue/image";
import { readPackageNames } from "~/core/catalogue/packageName";
import { DEFAULT_POLICY, type Policy } from "~/core/policy/policy";
import { writeRunbook } from "~/core/runbook/runbook";
import { writeScript } from "~/core/runbook/writeScript";
import { commandText } from "~/core/runbook/writeSheet";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { planDevice } from "~/core/upgrade/plan";
import { after as changed, initialState, type PlanState, planDeviceOf } from "~/core/upgrade/state";
import { makeCatalogue, makeFacts, makeImage, makeModel, makeNeed } from "~/testing/catalogueEntries";
import { operationOf } from "../registry";

const packages = {
  remove: [
    { name: "com.maker.shop", is: "shop", role: null, tried: null },
    { name: "com.maker.keys", is: "keyboard", role: "keyboard" as const, tried: null },
  ],
  keep: [{ name: "com.maker.home", is: "home screen" }],
  home: { file: "home.apk", component: "example.home/.Main" },
  keyboard: { file: "keys.apk", component: "example.keys/.Keys" },
};
const listOf = (over: Partial<typeof packages> = {}) =>
  makeImage(
    {
      id: "list",
      kind: "package-list",
      models: ["m"],
      build: "B11",
      files: [
        { name: "home.apk", partition: null, bytes: 9, expanded: null, sha256: null },
        { name: "keys.apk", partition: null, bytes: 9, expanded: null, sha256: null },
      ],
      packages: { ...packages, ...over },
    },
    30,
  );
const model = makeModel({
  id: "m",
  unlock: { possible: false, says: "", waitingDays: 0, command: "flashing unlock", consequences: [] },
});
const open = makeModel({ id: "m" });
const facts = makeFacts({
  "model.number": "N-m",
  "android.release": "11",
  "build.number": "B11",
  "firmware.version": "F1",
  "system.kind": "stock",
  "bootloader.locked": true,
});

interface Case {
  readonly device?: typeof model;
  readonly list?: Image;
  readonly policy?: Partial<Policy>;
  readonly others?: readonly Image[];
}

function bindIn({ device = model, list = listOf(), policy = {}, others = [] }: Case) {
  const index = indexCatalogue(makeCatalogue({ models: [device], images: [list, ...others] }));
  const planned = planDeviceOf(device, facts);
  const bound = operationOf("clean-stock").bind(index.images.get("list") ?? null, {
    device: planned,
    index,
    policy: { ...DEFAULT_POLICY, ...policy },
  });
  if (!bound) throw new Error("not bound");
  return { bound, start: changed(initialState(planned, index), { storage: "clean" }), index };
}

function stopOf(about: Case, change: Partial<PlanState> = {}): string | null {
  const { bound, start } = bindIn(about);
  return bound.failure("all", changed(start, change))?.code ?? null;
}

const says = (image: unknown) => Image.safeParse(image).error?.issues.map((i) => i.message) ?? [];

describe("a list of packages", () => {
  test.each([
    ["a name twice", { remove: [packages.remove[0], packages.remove[0]] }, "stands in this list twice"],
    ["what goes and stays", { keep: [{ name: "com.maker.shop", is: "shop" }] }, "can't both go and stay"],
    [
      "a shell's characters",
      { remove: [{ ...packages.remove[0], name: "com.maker.shop; reboot" }] },
      "not a package name",
    ],
    ["a pattern", { remove: [{ ...packages.remove[0], name: "com.maker.*" }] }, "not a package name"],
    ["one word", { remove: [{ ...packages.remove[0], name: "shop" }] }, "not a package name"],
    ["nothing", { remove: [] }, "at least one package"],
    ["no keyboard in its place", { keyboard: null as never }, "com.maker.keys is the keyboard"],
    [
      "a file that is not there",
      { home: { file: "other.apk", component: "example.home/.Main" } },
      "is not among its files",
    ],
    [
      "a component with a blank",
      { home: { file: "home.apk", component: "example.home/.Main -e" } },
      "a slash and the part",
    ],
  ])("%s is refused in words", (_, over, words) => {
    expect(says({ ...listOf(), packages: { ...packages, ...over } }).join("; ")).toContain(words);
  });

  test("it belongs to one build, and only a list has packages", () => {
    expect(says(listOf())).toEqual([]);
    expect(says({ ...listOf(), build: null })).toEqual(["A list of packages belongs to one full build number"]);
    expect(says({ ...listOf(), kind: "firmware-pack" })).toContain("Only a list of packages names packages");
    expect(says({ ...listOf(), packages: null })).toContain("A list of packages names what goes");
  });
});

describe("when a stock system is cleaned", () => {
  test("right after a reset, on the maker's running system, on the very build, once", () => {
    expect(stopOf({})).toBeNull();
    expect(stopOf({}, { storage: "donor" })).toBe("order.wrong-moment");
    expect(stopOf({}, { storage: "workshop" })).toBe("order.wrong-moment");
    expect(stopOf({}, { cleaned: "list" })).toBe("order.wrong-moment");
    expect(stopOf({}, { system: "generic" })).toBe("packages.needs-stock");
    expect(stopOf({}, { started: "fresh" })).toBe("packages.needs-stock");
    expect(stopOf({}, { baseBuild: "B12" })).toBe("packages.other-build");
    expect(stopOf({ list: { ...listOf(), models: ["other"] } })).toBe("image.other-model");
  });

  test("a build or a system that is not known is a question", () => {
    const { bound, start } = bindIn({});
    const asked: string[] = [];
    const state = changed(start, { baseBuild: null, assumed: ["system.kind"] });
    bound.ask("all", state, (o) => {
      if (o.is === "unknown") asked.push(o.fact);
      return true;
    });
    expect(asked).toEqual(["system.kind", "build.number"]);
  });

  test("a list that would take away what must stay is refused, and names it", () => {
    const bad = { ...packages.remove[0], name: "com.android.phone" };
    const list = listOf({ remove: [...packages.remove, bad] });
    const { bound, start } = bindIn({ list });
    expect(bound.failure("all", start)).toMatchObject({
      code: "packages.kept",
      says: expect.stringContaining("com.android.phone (telephony)"),
    });
  });

  test("the three sides of the school", () => {
    const rom = makeImage({ id: "rom", kind: "rom", models: ["m"], installs: "packages" }, 33);
    expect(stopOf({ device: open, others: [rom] })).toBe("packages.not-wanted");
    expect(stopOf({ device: open, others: [rom], policy: { cleaning: "stock" } })).toBeNull();
    expect(stopOf({ device: open })).toBeNull();
    expect(stopOf({ others: [rom] })).toBeNull();
    expect(
      stopOf({ device: open, others: [{ ...rom, withdrawn: { on: "2026-01-01", says: "bad", successor: null } }] }),
    ).toBeNull();
    expect(stopOf({ policy: { cleaning: "never" } })).toBe("packages.not-wanted");
  });

  test("a reset, an update and another system bring all back; anything else leaves it cleaned", () => {
    const { bound, start } = bindIn({});
    const cleaned = bound.apply(start);
    expect(cleaned).toMatchObject({ cleaned: "list", storage: "clean" });
    expect(changed(cleaned, { permission: "asked" }).cleaned).toBe("list");
    expect(changed(changed(cleaned, { storage: "donor" }), { storage: "clean" }).cleaned).toBeNull();
    expect(changed(cleaned, { image: "update" }).cleaned).toBeNull();
  });

  test("it is proposed where the device is not good enough as it is, and only offered where it is", () => {
    const index = indexCatalogue(makeCatalogue({ models: [model], images: [listOf()] }));
    const plan = (floor: number) =>
      planDevice(
        { facts, clearance: "confirmed-clear", need: makeNeed({ apps: [{ name: "A", minApi: floor }] }) },
        index,
        DEFAULT_POLICY,
      );
    expect(plan(30).best).toMatchObject({ cleaned: "list", enough: false });
    const enough = plan(24);
    expect(enough.best).toMatchObject({ cleaned: null, enough: true });
    expect(enough.ways.map((w) => w.cleaned)).toContain("list");
  });
});

describe("the sheet of a cleaning", () => {
  const index = indexCatalogue(makeCatalogue({ models: [model], images: [listOf()] }));
  const need = makeNeed({ apps: [{ name: "A", minApi: 30 }] });
  const way = planDevice({ facts, clearance: "confirmed-clear", need }, index, DEFAULT_POLICY).best;
  if (!way) throw new Error("no way");
  const sheet = writeRunbook({ tag: "T", serial: "S1", model, facts, way, index, policy: DEFAULT_POLICY });
  const codes = sheet.steps.map((s) => s.code);
  const at = (code: string) => {
    const place = codes.findIndex((c) => c.startsWith(code));
    if (place < 0) throw new Error(`${code} is not on the sheet: ${codes.join(" ")}`);
    return place;
  };

  test("set-up skipped, counted, replaced, made default and tried before anything goes; tried again behind a restart", () => {
    const order = [
      "android.factory-reset",
      "android.skip-setup",
      "gate.measure-before",
      "adb.install--g-home.apk",
      "adb.shell-cmd-package-set-home-activity",
      "adb.install--g-keys.apk",
      "adb.shell-ime-enable",
      "adb.shell-ime-set",
      "check.home-works",
      "gate.uninstall",
      "adb.reboot",
      "check.home-comes",
      "check.home-works#2",
      "gate.measure-after",
      "android.debugging-off",
    ].map(at);
    expect(order).toEqual([...order].sort((a, b) => a - b));
  });

  test("each package by its own name: for all, else for the first user; nothing that is not on the list", () => {
    const step = sheet.steps[at("gate.uninstall")];
    expect(commandText(step)).toBe(
      "adb shell 'pm uninstall com.maker.shop || pm uninstall --user 0 com.maker.shop'\nadb shell 'pm uninstall com.maker.keys || pm uninstall --user 0 com.maker.keys'",
    );
    const script = writeScript(sheet);
    expect(script).toMatch(/^uninstall \d+ '.*' 'com\.maker\.shop' 'com\.maker\.keys'$/m);
    expect(script).not.toContain("com.maker.home");
  });

  test("nothing is written to a partition: the way back is a factory reset, and the sheet says so", () => {
    expect(way.writes).toBe(false);
    expect(sheet.wayBack).toContain("factory reset brings every package back");
    expect(way.cautions.join()).toContain("brings 2 removed packages back");
  });
});

test("package names out of what the client prints: with paths, with signs of equality in them, with Windows line ends", () => {
  const text = [
    "package:com.maker.shop",
    "package:/system/app/Keys/Keys.apk=com.maker.keys\r",
    "package:/data/app/~~a==/com.maker.home-b==/base.apk=com.maker.home",
    "WARNING: linker: something",
    "package:com.maker.shop",
    "",
  ].join("\n");
  expect(readPackageNames(text)).toEqual(["com.maker.shop", "com.maker.keys", "com.maker.home"]);
});
