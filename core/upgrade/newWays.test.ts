import type { FactKey, FactValue } from "~/core/device/fact";
import { DEFAULT_POLICY, type Policy } from "~/core/policy/policy";
import { makeCatalogue, makeFacts, makeImage, makeModel, makeNeed } from "~/testing/catalogueEntries";
import { indexCatalogue } from "./catalogueIndex";
import { planDevice } from "./plan";

const WHOLE = ["boot", "system", "vbmeta", "recovery"];
const parts = (list: readonly string[]) =>
  list.map((partition) => ({ name: `${partition}.img`, partition, bytes: 1_000_000 }));
const stock = (id: string, build: string, api: number, list = WHOLE) =>
  makeImage({ id, kind: "stock", models: ["m"], build, firmware: "F1", services: true, files: parts(list) }, api);
const update = (id: string, build: string | null, api: number, from: string[] = []) =>
  makeImage(
    {
      id,
      kind: "official-update",
      models: ["m"],
      build,
      firmware: "F1",
      services: true,
      needs: { fromReleases: from },
    },
    api,
  );
const vbmeta = (id: string, build: string) =>
  makeImage({ id, kind: "verification", models: ["m"], build, files: parts(["vbmeta"]) }, 30);
const gsi = (id: string, api: number) => makeImage({ id, kind: "gsi", cpu: "arm64" }, api);

const UNLOCKED_STOCK: Partial<Record<FactKey, FactValue>> = {
  "model.number": "N-m",
  "android.release": "11",
  "build.number": "B11",
  "firmware.version": "F1",
  "system.kind": "stock",
  "bootloader.locked": false,
  "recovery.image": "stock",
  "verification.off": false,
  "storage.state": "donor",
};

function plan(
  images: ReturnType<typeof makeImage>[],
  facts: Partial<Record<FactKey, FactValue | null>> = {},
  options: { policy?: Partial<Policy>; minApi?: number; model?: object } = {},
) {
  const model = makeModel({ id: "m", relock: true, ...options.model });
  const need = makeNeed({ apps: [{ name: "App", minApi: options.minApi ?? 28 }] });
  const index = indexCatalogue(makeCatalogue({ models: [model], images, needs: [need] }));
  const known = Object.entries({ ...UNLOCKED_STOCK, ...facts }).filter(([, v]) => v !== null);
  return planDevice({ facts: makeFacts(Object.fromEntries(known)), clearance: "confirmed-clear", need }, index, {
    ...DEFAULT_POLICY,
    ...options.policy,
  });
}

const kinds = (p: ReturnType<typeof plan>) => p.ways.map((w) => w.operations.map((o) => o.kind).join(" "));

test("stock, then the official update over it, then locked", () => {
  const p = plan(
    [stock("s", "B11", 30), update("u", "B12", 31, ["11"])],
    { "system.kind": "custom", "android.release": "10" },
    { minApi: 31 },
  );
  expect(kinds(p)).toContain("flash-stock start-and-check take-update relock");
});

test("a generic image to a newer one on the same base, without going back to stock", () => {
  const p = plan([gsi("g14", 34), gsi("g13", 33)], {
    "system.kind": "generic",
    "system.image": "g13",
    "android.release": "13",
    "build.number": null,
    "base.release": "11",
    "base.build": "B11",
    "verification.off": true,
  });
  expect(kinds(p)).toContain("install-gsi format-data");
  expect(p.ways.find((w) => w.image === "g14")?.questions).toEqual([]);
  // Nobody knows what lies under it: that is asked.
  const open = plan([gsi("g14", 34)], {
    "system.kind": "generic",
    "android.release": "13",
    "build.number": "X",
    "verification.off": true,
  });
  expect(open.ways.find((w) => w.image === "g14")?.questions.map((q) => q.fact)).toContain("base.release");
});

test("the later of two update routes as the base of a generic image", () => {
  const p = plan([stock("s", "B11", 30), update("u", "B12", 31, ["11"]), vbmeta("v12", "B12"), gsi("g", 34)], {
    "system.kind": "custom",
    "android.release": "14",
    "build.number": "X",
  });
  expect(kinds(p)).toContain("flash-stock start-and-check take-update flash-verification install-gsi format-data");
});

describe("an unlocked device is never taken for wholly stock", () => {
  test("its recovery and verification are asked before an update or a good end, never assumed", () => {
    for (const fact of ["recovery.image", "verification.off"] as const) {
      const p = plan([update("u", "B12", 31)], { [fact]: null });
      expect(p.ways.length).toBeGreaterThan(0);
      for (const way of p.ways)
        expect([way.id, way.questions.map((q) => q.fact)]).toEqual([way.id, expect.arrayContaining([fact])]);
    }
  });
  test("an update is stopped by another recovery, and by verification that is off", () => {
    for (const facts of [{ "recovery.image": "some recovery" }, { "verification.off": true }] as const)
      expect(plan([update("u", "B12", 31)], facts).stops.find((s) => s.image === "u")).toMatchObject({
        code: "update.needs-stock",
      });
  });
  test("as it is, it is not locked, and says that it stays unlocked", () => {
    const p = plan([]);
    expect(kinds(p)).toEqual(["factory-reset"]);
    expect(p.ways[0].cautions.join()).toContain("stays unlocked");
  });
  test("written whole and started it is locked; under the school “never” it is reset instead", () => {
    expect(kinds(plan([stock("s", "B12", 31)], {}, { minApi: 31 }))).toContain("flash-stock start-and-check relock");
    const never = plan([stock("s", "B12", 31)], {}, { minApi: 31, policy: { relock: "never" } });
    expect(kinds(never)).toContain("flash-stock start-and-check factory-reset");
    expect(kinds(never).some((k) => k.includes("relock"))).toBe(false);
  });
});

test("an official update is not taken once something was unlocked or wiped in the plan", () => {
  const p = plan([update("u", "B12", 31), stock("s", "B10", 29)], { "bootloader.locked": true });
  for (const way of kinds(p))
    if (way.includes("take-update"))
      expect(
        way.indexOf("unlock") >= 0 &&
          way.indexOf("unlock") < way.indexOf("take-update") &&
          !way.includes("flash-stock"),
      ).toBe(false);
  expect(kinds(p)).toContain("take-update factory-reset");
});

test("a recovery that is on it already is used, not flashed again", () => {
  const rom = makeImage(
    { id: "rom", kind: "rom", models: ["m"], installs: "packages", files: [{ name: "rom.zip", bytes: 9 }] },
    33,
  );
  const rec = makeImage(
    { id: "rec", kind: "recovery", models: ["m"], flavour: "custom", version: "3.1", files: parts(["recovery"]) },
    30,
  );
  const p = plan([rom, rec], { "recovery.image": "rec" });
  expect(kinds(p)).toContain("install-rom format-data");
  expect(kinds(p).some((k) => k.startsWith("flash-recovery"))).toBe(false);
});

describe("the way back", () => {
  const images = [vbmeta("v", "B11"), gsi("g", 34)];
  test("is the newest whole stock package that goes on, or none", () => {
    const none = plan(images).ways.find((w) => w.image === "g");
    expect(none).toMatchObject({ writes: true, back: null });
    const whole = plan([...images, stock("s-part", "B12", 31, ["boot", "system"]), stock("s", "B11", 30)]).ways.find(
      (w) => w.image === "g",
    );
    expect(whole?.back).toMatchObject({ image: "s", whole: true });
    const partly = plan([...images, stock("s-part", "B12", 31, ["boot", "system"])]).ways.find((w) => w.image === "g");
    expect(partly?.back).toMatchObject({ image: "s-part", whole: false });
  });
  test("the house may refuse to write without one", () => {
    const refused = plan(images, {}, { policy: { wayBack: "refused" } });
    expect(refused.ways.some((w) => w.image === "g")).toBe(false);
    expect(refused.stops.find((s) => s.image === "g")).toMatchObject({ code: "back.none" });
    expect(
      plan([...images, stock("s", "B11", 30)], {}, { policy: { wayBack: "refused" } }).ways.some(
        (w) => w.image === "g",
      ),
    ).toBe(true);
  });
});

describe("dangerous firmware", () => {
  const model = {
    firmware: { order: ["F1", "F2", "F3"], dangerous: [{ from: "F1", to: "F1", says: "it kills boards", safe: "F2" }] },
  };
  test("no device goes out on it, good enough as it may be", () => {
    expect(plan([], { "bootloader.locked": true }, { model }).ways).toEqual([]);
  });
  test("a pack alone rescues, where a recovery is on it already", () => {
    const pack = makeImage(
      { id: "p", kind: "firmware-pack", models: ["m"], firmware: "F2", files: [{ name: "p.zip", bytes: 9 }] },
      30,
    );
    const rec = makeImage(
      { id: "rec", kind: "recovery", models: ["m"], flavour: "custom", version: "3.1", files: parts(["recovery"]) },
      30,
    );
    const rom = makeImage(
      { id: "rom", kind: "rom", models: ["m"], installs: "packages", files: [{ name: "rom.zip", bytes: 9 }] },
      33,
    );
    const p = plan([pack, rec, rom], { "recovery.image": "rec" }, { model });
    expect(kinds(p)).toEqual(["install-firmware-pack install-rom format-data"]);
  });
  test("a version the record does not know is asked of the record", () => {
    const p = plan([], { "firmware.version": "X-odd", "bootloader.locked": true }, { model });
    expect(p.questions[0]).toMatchObject({ code: "firmware.not-in-order", says: expect.stringContaining("X-odd") });
  });
});

test("a build that runs and was withdrawn says so, with its successor", () => {
  const bad = makeImage(
    {
      id: "bad",
      kind: "rom",
      models: ["m"],
      installs: "packages",
      build: "R1",
      withdrawn: { on: "2025-01-01", says: "it loses the radio", successor: "good" },
    },
    33,
  );
  const good = makeImage(
    { id: "good", kind: "rom", title: "The good one", models: ["m"], installs: "packages", build: "R2" },
    33,
  );
  const p = plan([bad, good], {
    "system.kind": "custom",
    "build.number": "R1",
    "android.release": "13",
    "services.addon": "none",
  });
  const kept = p.ways.find((w) => w.keeps);
  expect(kept?.cautions.join()).toContain("it loses the radio");
  expect(kept?.cautions.join()).toContain("The good one");
});

test("stock without the services package does not have them", () => {
  const regional = makeImage(
    { id: "r", kind: "stock", models: ["m"], build: "B11", firmware: "F1", services: false, files: parts(WHOLE) },
    30,
  );
  const model = makeModel({ id: "m" });
  const need = makeNeed({ apps: [{ name: "Maps", minApi: 28, services: true }] });
  const index = indexCatalogue(makeCatalogue({ models: [model], images: [regional], needs: [need] }));
  const facts = makeFacts(UNLOCKED_STOCK as never);
  expect(planDevice({ facts, clearance: "confirmed-clear", need }, index, DEFAULT_POLICY).best).toBeNull();
});
