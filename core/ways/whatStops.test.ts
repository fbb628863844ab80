import type { Image } from "~/core/catalogue/image";
import type { FactKey, FactValue } from "~/core/device/fact";
import { type CurrentFacts, currentFacts, type StandingFact } from "~/core/device/lookUp";
import { DEFAULT_POLICY, Policy } from "~/core/policy/policy";
import { SCHOOL_KEYS, SCHOOLS } from "~/core/policy/schools";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { after, initialState, PLANNING_FACTS, type PlanState, planDeviceOf } from "~/core/upgrade/state";
import { demoCatalogue } from "~/demo/catalogue";
import { demoScenario, scenarioFacts } from "~/demo/scenario";
import { expectApproved } from "~/testing/approved";
import { makeFacts } from "~/testing/catalogueEntries";
import type { World } from "./operation";
import { OPERATIONS } from "./registry";

// What stops each operation, counted over the demo's devices, each changed in one thing at a time, and all images whether they
// suit or not. A precondition that is taken from an operation, or that answers otherwise, changes a number.
const catalogue = demoCatalogue();
const index = indexCatalogue(catalogue);
/** What an image can have wrong with it, for every image of the demo alike. */
const SPOILS: readonly ((image: Image) => Partial<Image>)[] = [
  () => ({ withdrawn: { on: "2026-11-01", says: "it stops at the logo", successor: null } }),
  () => ({ rooted: true }),
  () => ({ files: [] }),
  ({ needs }) => ({ needs: { ...needs, firmwareFrom: "no such" } }),
  ({ files }) => ({
    files: files.map((file) => ({ ...file, bytes: 1e13, slot: "data" as const, partition: "cache" })),
  }),
  ({ packages }) => ({
    packages: packages && { ...packages, remove: [{ name: "android", is: "the platform", role: null, tried: null }] },
  }),
];
const all = demoScenario().devices.map((d) => currentFacts(scenarioFacts(d, "2026-11-16T00:00:00Z", "x")));
const known = all.flatMap((facts) => {
  const found = index.identify(facts);
  return found.kind === "one" ? [{ facts, model: found.model }] : [];
});
const oneOfEach = known.filter((d, i) => known.findIndex((e) => e.model === d.model) === i);

/** Values that stand somewhere in the demo, by fact. */
const VALUES = new Map<FactKey, readonly FactValue[]>(
  PLANNING_FACTS.map((key) => [key, [...new Set(all.flatMap((facts) => facts.get(key)?.value ?? []))].slice(0, 5)]),
);

function* changedFacts(facts: CurrentFacts): Iterable<CurrentFacts> {
  for (const key of PLANNING_FACTS) {
    const without = new Map(facts);
    without.delete(key);
    if (facts.has(key)) yield without;
    for (const value of VALUES.get(key) ?? []) {
      const fact = { key, value, source: "read", at: "2026-11-17T00:00:00Z", by: "x" } as StandingFact;
      if (facts.get(key)?.value !== value) yield new Map([...without, [key, fact]]);
    }
  }
}

const IMAGES = [...index.images.values()];
const RECOVERIES = IMAGES.filter((e) => e.image.kind === "recovery").map((e) => e.image.id);
const SYSTEMS = IMAGES.filter((e) => ["rom", "gsi"].includes(e.image.kind)).map((e) => e.image.id);
const CHANGES: readonly Partial<PlanState>[] = [
  ...(["stock", "custom", "generic", "none"] as const).map((system) => ({ system })),
  ...SYSTEMS.map(
    (image) => ({ image, system: index.images.get(image)?.image.kind === "gsi" ? "generic" : "custom" }) as const,
  ),
  ...[21, 26, 28, 30, 33, 36].flatMap((api) => [{ api }, { baseApi: api }]),
  { baseBuild: null },
  { basePatch: null },
  { patch: "2099-01-01" },
  { firmware: null },
  { firmware: "no such" },
  { locked: true },
  { locked: false },
  ...(["none", "asked", "granted"] as const).flatMap((permission) => [{ permission }, { permission, locked: true }]),
  ...["stock", ...RECOVERIES.slice(0, 12)].flatMap((recovery) => [{ recovery }, { recovery, locked: false }]),
  ...(["donor", "workshop", "clean", "must-format"] as const).map((storage) => ({ storage })),
  ...(["on", "off"] as const).map((verification) => ({ verification })),
  { services: "one" },
  { product: "removed" },
  { cleaned: "one" },
  { whole: true },
  ...(["running", "fresh", "broken"] as const).map((started) => ({ started })),
];
const POLICIES = SCHOOL_KEYS.flatMap((key) => SCHOOLS[key].sides.map(({ value }) => Policy.parse({ [key]: value })));

/** A device that does not start, with an account on it; one with next to no storage free. */
const DEVICES: readonly Partial<Record<FactKey, FactValue>>[] = [
  { "system.starts": "no", "accounts.on": true },
  { "storage.free": 1 },
];

test("what stops each operation", () => {
  const counts = new Map<string, Map<string, number>>();
  const ask = (world: World, states: readonly PlanState[]) => {
    const images = [...world.index.images.values()];
    for (const operation of OPERATIONS) {
      const entries = operation.image === null ? [null] : images.filter((e) => e.image.kind === operation.image);
      const told = counts.get(operation.kind) ?? new Map<string, number>();
      counts.set(operation.kind, told);
      for (const entry of entries) {
        const bound = operation.bind(entry, world);
        for (const state of states)
          bound?.ask("all", state, (outcome) => {
            const what = "fact" in outcome ? `${outcome.code}? ${outcome.fact}` : "code" in outcome ? outcome.code : "";
            told.set(what, (told.get(what) ?? 0) + 1);
            return true;
          });
      }
    }
  };
  const policy = DEFAULT_POLICY;
  const spoiled = SPOILS.map((spoil) =>
    indexCatalogue({ ...catalogue, images: catalogue.images.map((image) => ({ ...image, ...spoil(image) })) }),
  );
  for (const { model, facts } of known) {
    const device = planDeviceOf(model, facts);
    ask({ device, index, policy }, [initialState(device, index)]);
  }
  for (const { model, facts } of oneOfEach) {
    const device = planDeviceOf(model, facts);
    const state = initialState(device, index);
    const changed = CHANGES.map((change) => after(state, change));
    ask({ device, index, policy }, changed);
    for (const policy of POLICIES) ask({ device, index, policy }, [state]);
    // A flasher with fewer slots than some packages have files for.
    const download = model.download && { ...model.download, edition: "four-slots" as const };
    const fewer = planDeviceOf({ ...model, download }, facts);
    for (const index of spoiled) ask({ device: fewer, index, policy }, [state]);
    for (const other of [...changedFacts(facts), ...DEVICES.map((d) => new Map([...facts, ...makeFacts(d)]))]) {
      const device = planDeviceOf(model, other);
      ask({ device, index, policy }, [initialState(device, index)]);
    }
  }
  const lines = [...counts].flatMap(([kind, told]) => [
    kind,
    ...[...told].sort(([a], [b]) => (a < b ? -1 : 1)).map(([what, n]) => `  ${what} ${n}`),
  ]);
  expect(counts.size).toBe(OPERATIONS.length);
  expectApproved("operations", lines);
});
