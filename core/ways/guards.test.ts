import { DEFAULT_POLICY } from "~/core/policy/policy";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { planDevice } from "~/core/upgrade/plan";
import { after, initialState, type PlanState, planDeviceOf } from "~/core/upgrade/state";
import { makeCatalogue, makeFacts, makeImage, makeModel, makeNeed } from "~/testing/catalogueEntries";
import { REASON_RULES } from "./reasons";
import { operationOf } from "./registry";

// Guards that the search seldom has to use, since other paths are cheaper anyway: each is asked of its operation directly.
const model = makeModel({ id: "m", relock: true });
const update = makeImage({ id: "u", kind: "official-update", models: ["m"], build: "B12", firmware: "F1" }, 31);
const recovery = makeImage(
  {
    id: "rec",
    kind: "recovery",
    models: ["m"],
    flavour: "custom",
    files: [{ name: "r.img", partition: "recovery", bytes: 9 }],
  },
  30,
);
const index = indexCatalogue(makeCatalogue({ models: [model], images: [update, recovery] }));
const facts = makeFacts({
  "model.number": "N-m",
  "android.release": "11",
  "build.number": "B11",
  "firmware.version": "F1",
  "system.kind": "stock",
  "bootloader.locked": true,
});

/** What stops an operation in a state that differs from a locked, running stock device; null where nothing does. */
function stopOf(kind: string, image: string | null, change: Partial<PlanState>): string | null {
  const device = planDeviceOf(model, facts);
  const bound = operationOf(kind).bind(image ? (index.images.get(image) ?? null) : null, {
    device,
    index,
    policy: DEFAULT_POLICY,
  });
  return bound?.failure("all", after(initialState(device, index), change))?.code ?? null;
}

test("an official update is taken before anything is unlocked or wiped, or behind a whole stock package", () => {
  expect(stopOf("take-update", "u", {})).toBeNull();
  expect(stopOf("take-update", "u", { locked: false })).toBe("order.wrong-moment");
  expect(stopOf("take-update", "u", { permission: "granted" })).toBe("order.wrong-moment");
  expect(stopOf("take-update", "u", { storage: "clean" })).toBe("order.wrong-moment");
  expect(stopOf("take-update", "u", { locked: false, storage: "clean", whole: true })).toBeNull();
});

test("a recovery that is on it is not flashed again", () => {
  expect(stopOf("flash-recovery", "rec", { locked: false })).toBeNull();
  expect(stopOf("flash-recovery", "rec", { locked: false, recovery: "rec" })).toBe("order.wrong-moment");
});

test("each part of “wholly stock” alone stops the lock", () => {
  const stock = { locked: false, whole: true } as const;
  expect(stopOf("relock", null, stock)).toBeNull();
  const parts: Partial<PlanState>[] = [
    { whole: false },
    { system: "custom" },
    { recovery: "rec" },
    { verification: "off" },
    { product: "removed" },
    { started: "fresh" },
  ];
  for (const part of parts)
    expect([part, stopOf("relock", null, { ...stock, ...part })]).toEqual([part, "relock.modified"]);
});

test("every open question carries a code that the rules page knows", () => {
  const dangerous = makeModel({
    id: "m",
    firmware: { order: ["F1", "F2"], dangerous: [{ from: "F1", to: "F1", says: "it kills boards", safe: "F2" }] },
  });
  const world = indexCatalogue(makeCatalogue({ models: [dangerous], images: [update, recovery] }));
  const plan = planDevice(
    { facts: makeFacts({ "model.number": "N-m" }), clearance: "confirmed-clear", need: makeNeed() },
    world,
    DEFAULT_POLICY,
  );
  const codes = plan.ways.flatMap((w) => w.questions.map((q) => q.code));
  expect(new Set(codes).size).toBeGreaterThan(3);
  for (const code of codes) expect(Object.keys(REASON_RULES)).toContain(code);
});
