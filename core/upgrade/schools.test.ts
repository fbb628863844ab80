import { currentFacts } from "~/core/device/lookUp";
import { DEFAULT_POLICY, type Policy } from "~/core/policy/policy";
import { NO_OWN_SCHOOLS, type OwnSchools } from "~/core/policy/schools";
import { operationOf } from "~/core/ways/registry";
import { demoCatalogue } from "~/demo/catalogue";
import { demoScenario, scenarioFacts } from "~/demo/scenario";
import { makeCatalogue, makeFacts, makeImage, makeModel, makeNeed } from "~/testing/catalogueEntries";
import { indexCatalogue } from "./catalogueIndex";
import { planDevice } from "./plan";
import type { Taught } from "./search";

// Schools that change the plan: both sides, side by side.

const FACTS = makeFacts({
  "model.number": "N-m",
  "android.release": "9",
  "build.number": "B-9",
  "system.kind": "stock",
  "bootloader.locked": true,
  "firmware.version": "F2",
  "accounts.on": false,
});
const GiB = 1_073_741_824;
const vbmeta = makeImage({ id: "vb", kind: "verification", models: ["m"], build: "B-9" }, 28);
const gsi = (id: string, patching: "light" | "heavy", api = 33) =>
  makeImage({ id, kind: "gsi", cpu: "arm64", generic: { binder: null, slots: null, patching }, services: true }, api);

interface World {
  readonly images: ReturnType<typeof makeImage>[];
  readonly policy?: Partial<Policy>;
  readonly need?: OwnSchools;
  readonly model?: OwnSchools;
  readonly taught?: Taught;
}

function best({ images, policy = {}, need, model, taught }: World) {
  const m = makeModel({ id: "m", ...(model && { schools: model }) });
  const index = indexCatalogue(makeCatalogue({ models: [m], images: [vbmeta, ...images] }));
  const wants = makeNeed({ hardware: ["wifi"], ...(need && { schools: need }) });
  const request = { facts: FACTS, clearance: "confirmed-clear" as const, need: wants };
  return planDevice(request, index, { ...DEFAULT_POLICY, ...policy }, () => taught);
}

test("flavour of a generic image: by device, or one side everywhere; after failed runs the other is proposed", () => {
  const images = [gsi("light", "light"), gsi("heavy", "heavy")];
  expect(best({ images }).best?.image).toBe("light");
  expect(best({ images, policy: { gsiFlavour: "heavy" } }).best?.image).toBe("heavy");
  expect(best({ images, policy: { gsiFlavour: "light" } }).best?.image).toBe("light");
  const taught: Taught = {
    cost: ({ image }, usual) => (image === "light" ? { ...usual, failure: 0.5 } : usual),
    learned: () => null,
  };
  expect(best({ images, taught }).best?.image).toBe("heavy");
});

test("a generic image that did not start on this very device: the other flavour is proposed, whichever it was", () => {
  const images = [gsi("light", "light"), gsi("heavy", "heavy")];
  const m = makeModel({ id: "m" });
  const index = indexCatalogue(makeCatalogue({ models: [m], images: [vbmeta, ...images] }));
  const after = (failed: "light" | "heavy") => {
    const at = { source: "run" as const, at: "2026-02-01T00:00:00Z", by: "test" };
    const facts = new Map([...FACTS, ...currentFacts([{ key: "gsi.failed", value: failed, ...at }])]);
    const request = { facts, clearance: "confirmed-clear" as const, need: makeNeed({ hardware: ["wifi"] }) };
    return planDevice(request, index, DEFAULT_POLICY);
  };
  expect(after("light").best?.image).toBe("heavy");
  expect(after("heavy").best?.image).toBe("light");
});

test("without a computer a recovery that is on it already takes a generic image from a stick; with one it does not", () => {
  const images = [
    gsi("image", "light"),
    makeImage({ id: "rec", kind: "recovery", models: ["m"], flavour: "custom" }, 33),
  ];
  const m = makeModel({ id: "m" });
  const index = indexCatalogue(makeCatalogue({ models: [m], images: [vbmeta, ...images] }));
  const at = { source: "read" as const, at: "2026-02-01T00:00:00Z", by: "test" };
  const facts = new Map([
    ...FACTS,
    ...currentFacts([
      { key: "bootloader.locked", value: false, ...at },
      { key: "recovery.image", value: "rec", ...at },
      { key: "verification.off", value: true, ...at },
    ]),
  ]);
  const kinds = (host: Policy["host"]) =>
    planDevice({ facts, clearance: "confirmed-clear", need: makeNeed({ hardware: ["wifi"] }) }, index, {
      ...DEFAULT_POLICY,
      host,
    })
      .ways.find((w) => w.image === "image")
      ?.operations.map((o) => o.kind);
  expect(kinds("none")).toEqual(["install-gsi-stick"]);
  expect(kinds("computer")).not.toContain("install-gsi-stick");
});

test("newest or steady: an open fault puts the newer release behind, or does not", () => {
  const fault = { hardware: "camera", models: [], says: "Camera is dark" };
  const newer = makeImage({ ...gsi("newer", "light", 34), faults: [fault] }, 34);
  const images = [newer, gsi("steady", "light", 33)];
  expect(best({ images }).best?.image).toBe("steady");
  expect(best({ images, policy: { newest: "newest" } }).best?.image).toBe("newer");
});

test("root: the house never, a group that asks for it does; the group's word counts before the model's", () => {
  const rooted = makeImage({ ...gsi("rooted", "light", 34), rooted: true }, 34);
  const images = [rooted];
  const own = (root: "never" | "allowed"): OwnSchools => ({ ...NO_OWN_SCHOOLS, root });
  expect(best({ images }).best?.image).not.toBe("rooted");
  expect(best({ images }).stops.find((s) => s.image === "rooted")?.code).toBe("image.rooted");
  expect(best({ images, need: own("allowed") }).best?.image).toBe("rooted");
  expect(best({ images, model: own("allowed") }).best?.image).toBe("rooted");
  expect(best({ images, model: own("allowed"), need: own("never") }).best?.image).not.toBe("rooted");
});

test("relock: the model's or the group's own side counts before the house's", () => {
  const stock = makeImage(
    {
      id: "stock",
      kind: "stock",
      models: ["m"],
      build: "B-11",
      firmware: "F3",
      services: true,
      files: ["boot", "recovery", "vbmeta", "system"].map((partition) => ({
        name: `${partition}.img`,
        partition,
        bytes: GiB / 8,
        expanded: null,
      })),
    },
    30,
  );
  const locks = (world: Partial<World>) =>
    best({ images: [stock], ...world }).best?.operations.some((o) => o.kind === "relock");
  expect(locks({})).toBe(true);
  expect(locks({ need: { ...NO_OWN_SCHOOLS, relock: "never" } })).toBe(false);
  expect(locks({ model: { ...NO_OWN_SCHOOLS, relock: "never" } })).toBe(false);
  expect(
    locks({ model: { ...NO_OWN_SCHOOLS, relock: "never" }, need: { ...NO_OWN_SCHOOLS, relock: "when-stock" } }),
  ).toBe(true);
});

test("without a computer and a second phone only what a device does by itself is left, and the rest says so", () => {
  const index = indexCatalogue(demoCatalogue());
  const policy = { ...DEFAULT_POLICY, host: "none" as const };
  let ways = 0;
  let said = 0;
  for (const d of demoScenario().devices) {
    const need = index.needs.get(d.need);
    if (!need) continue;
    const facts = currentFacts(scenarioFacts(d, "2026-11-16T00:00:00Z", "x"));
    const plan = planDevice({ facts, clearance: "confirmed-clear", need }, index, policy);
    for (const o of plan.ways.flatMap((w) => w.operations)) {
      ways++;
      expect(operationOf(o.kind).withoutComputer).toBe(true);
    }
    said += plan.stops.filter((s) => s.code === "host.none").length;
  }
  expect(ways).toBeGreaterThan(40);
  expect(said).toBeGreaterThan(20);
});

test("services inside or beside: an add-on makes a ROM do, or only what has them inside does", () => {
  const recovery = makeImage(
    {
      id: "rec",
      kind: "recovery",
      models: ["m"],
      flavour: "custom",
      files: [{ name: "r.img", partition: "recovery", bytes: 1000, expanded: null }],
    },
    34,
  );
  const rom = makeImage({ id: "rom", kind: "rom", models: ["m"], installs: "packages", services: false }, 34);
  const small = makeImage({ id: "small", kind: "services", models: [], files: [{ name: "s.zip", bytes: 1000 }] }, 34);
  const large = makeImage({ id: "large", kind: "services", models: [], files: [{ name: "l.zip", bytes: 9000 }] }, 34);
  const images = [recovery, rom, large, small, gsi("inside", "light", 33)];
  const of = (services: Policy["services"], group: OwnSchools["services"] = null) => {
    const m = makeModel({ id: "m" });
    const index = indexCatalogue(makeCatalogue({ models: [m], images: [vbmeta, ...images] }));
    const need = makeNeed({
      hardware: ["wifi"],
      apps: [{ name: "Shop", minApi: 29, services: true }],
      schools: { ...NO_OWN_SCHOOLS, services: group },
    });
    return planDevice({ facts: FACTS, clearance: "confirmed-clear", need }, index, { ...DEFAULT_POLICY, services });
  };
  const beside = of("beside").best;
  expect(beside?.image).toBe("rom");
  expect(beside?.operations.map((o) => o.image)).toContain("small");
  expect(of("inside").best?.image).toBe("inside");
  expect(of("beside", "inside").best?.image).toBe("inside");
  expect(of("inside", "beside").best?.image).toBe("rom");
});
