import fc from "fast-check";
import { releaseOf } from "~/core/android/releases";
import type { Image } from "~/core/catalogue/image";
import type { Model } from "~/core/catalogue/model";
import type { FactKey, FactValue } from "~/core/device/fact";
import { DEFAULT_POLICY, type Policy } from "~/core/policy/policy";
import { STOCK_FACTS } from "~/core/ways/official-update/rules";
import type { World as BindWorld, Bound } from "~/core/ways/operation";
import { operationOf } from "~/core/ways/registry";
import { makeCatalogue, makeFacts, makeImage, makeModel, makeNeed } from "~/testing/catalogueEntries";
import { indexCatalogue } from "./catalogueIndex";
import { planDevice } from "./plan";
import { compareWays } from "./ranking";
import { initialState, planDeviceOf } from "./state";
import type { Way } from "./way";

// Generated devices and catalogues: whatever the planner returns must keep these promises.

const FIRMWARE = ["F1", "F2", "F3"];

const models: fc.Arbitrary<Model> = fc
  .record({
    slots: fc.boolean(),
    treble: fc.boolean(),
    logical: fc.boolean(),
    relock: fc.boolean(),
    possible: fc.boolean(),
    waitingDays: fc.constantFrom(0, 0, 7),
    dangerous: fc.boolean(),
    direct: fc.boolean(),
    product: fc.boolean(),
  })
  .map((m) =>
    makeModel({
      id: "m",
      slots: m.slots,
      treble: m.treble,
      logical: m.logical,
      userspaceFastboot: m.logical,
      relock: m.relock,
      directDowngrade: m.direct,
      unlock: { possible: m.possible, waitingDays: m.waitingDays, consequences: m.relock ? ["a mark"] : [] },
      room: { system: 1_500_000_000, product: m.product ? 900_000_000 : null, recovery: 67_108_864 },
      firmware: {
        order: FIRMWARE,
        dangerous: m.dangerous ? [{ from: "F2", to: "F2", says: "it kills boards", safe: "F3" }] : [],
      },
    }),
  );

const firmware = fc.constantFrom(...FIRMWARE);
const api = fc.integer({ min: 27, max: 35 });
const builds = ["B1", "B2", "B3"];

const image = (i: number): fc.Arbitrary<Image> =>
  fc
    .record({
      kind: fc.constantFrom(
        "official-update",
        "stock",
        "rom",
        "rom",
        "recovery",
        "recovery",
        "gsi",
        "services",
        "firmware-pack",
        "verification",
      ),
      api,
      firmware,
      from: fc.option(firmware),
      sideload: fc.boolean(),
      version: fc.constantFrom("2.8", "3.1"),
      least: fc.constantFrom(null, "3.0"),
      faulty: fc.boolean(),
      withdrawn: fc.constantFrom(false, false, true),
      success: fc.option(fc.double({ min: 0.3, max: 1, noNaN: true })),
      build: fc.constantFrom(...builds),
      facets: fc.record({
        binder: fc.constant(null),
        slots: fc.constantFrom(null, null, "ab", "a-only"),
        patching: fc.constantFrom(null, "light", "heavy"),
      }),
      parts: fc.constantFrom(["boot", "vbmeta", "recovery", "product"], ["boot", "vbmeta"], ["boot"], []),
      expanded: fc.constantFrom(900_000_000, 1_400_000_000, 2_000_000_000, 3_000_000_000),
    })
    .map((x) => {
      const generic = x.kind === "gsi" || x.kind === "services";
      return makeImage(
        {
          id: `i${i}-${x.kind}`,
          kind: x.kind,
          models: generic ? [] : ["m"],
          cpu: x.kind === "gsi" ? "arm64" : null,
          generic: x.kind === "gsi" ? x.facets : undefined,
          build: ["official-update", "stock", "verification"].includes(x.kind) ? x.build : null,
          firmware: ["official-update", "stock", "firmware-pack"].includes(x.kind) ? x.firmware : null,
          needs: {
            firmwareFrom: x.from,
            firmwareTo: null,
            fromReleases: [],
            recoveryVersion: x.kind === "rom" ? x.least : null,
          },
          installs: x.kind === "rom" ? (x.sideload ? "sideload" : "packages") : null,
          flavour: x.kind === "recovery" ? (x.sideload ? "rom" : "custom") : null,
          version: x.version,
          faults: x.faulty ? [{ hardware: "calls", says: "no sound" }] : [],
          withdrawn: x.withdrawn ? { on: "2025-02-01", says: "it was bad", successor: null } : null,
          success: x.success,
          services: x.kind === "stock",
          files: [
            {
              name: "f.img",
              partition: x.kind === "recovery" ? "recovery" : x.kind === "stock" ? "system" : null,
              bytes: 1_000_000,
              expanded: x.kind === "recovery" ? 30_000_000 : x.kind === "rom" ? null : x.expanded,
            },
            ...(x.kind === "stock"
              ? x.parts.map((partition) => ({ name: `${partition}.img`, partition, bytes: 1_000_000 }))
              : []),
          ],
        },
        x.api,
      );
    });

const images = fc.integer({ min: 0, max: 9 }).chain((n) => fc.tuple(...Array.from({ length: n }, (_, i) => image(i))));

const facts: fc.Arbitrary<Partial<Record<FactKey, FactValue>>> = fc
  .record({
    "android.release": api.map((a) => releaseOf(a) as string),
    "build.number": fc.constantFrom(...builds),
    "firmware.version": firmware,
    "system.kind": fc.constantFrom("stock", "stock", "custom", "generic"),
    "bootloader.locked": fc.boolean(),
    "slot.current": fc.constantFrom("a", "b"),
    "storage.state": fc.constantFrom("donor", "clean"),
    "system.as-root": fc.boolean(),
    "recovery.image": fc.constantFrom("stock", "stock", "another one", null),
    "verification.off": fc.constantFrom(false, false, true, null),
    "product.removed": fc.constantFrom(false, false, true, null),
    "services.addon": fc.constantFrom("none", "some", null),
    "system.starts": fc.constantFrom("yes", "yes", "yes", "not-yet", "no"),
    "base.release": fc.option(api.map((a) => releaseOf(a) as string)),
    "base.build": fc.option(fc.constantFrom(...builds)),
    "accounts.on": fc.constantFrom(false, false, true, null),
  })
  .map((f) => Object.fromEntries(Object.entries(f).filter(([, value]) => value !== null)))
  .map((f) => ({ "model.number": "N-m", ...f }));

const policies: fc.Arbitrary<Policy> = fc
  .record({
    goingDown: fc.constantFrom("via-stock" as const, "direct" as const),
    verificationOrder: fc.constantFrom("before" as const, "after" as const),
    relock: fc.constantFrom("when-stock" as const, "never" as const),
    rank: fc
      .shuffledSubarray(
        [...DEFAULT_POLICY.rank].filter((k) => k !== "works"),
        { minLength: 3 },
      )
      .map((r) => ["works" as const, ...r]),
    batteryFloor: fc.constant(60),
    wayBack: fc.constantFrom("allowed" as const, "warned" as const, "refused" as const),
    enoughMargin: fc.integer({ min: 0, max: 3 }),
    sureFrom: fc.constantFrom(0.5, 0.75),
  })
  .map((p) => ({ ...DEFAULT_POLICY, ...p }));

const needs = fc
  .record({ minApi: api, services: fc.boolean() })
  .map((n) => makeNeed({ apps: [{ name: "App", ...n }] }));

const worlds = fc.record({ model: models, images, facts, policy: policies, need: needs });

type World = typeof worlds extends fc.Arbitrary<infer W> ? W : never;

function plan({ model, images, facts, policy, need }: World) {
  const index = indexCatalogue(makeCatalogue({ models: [model], images: [...images], needs: [need] }));
  return { index, result: planDevice({ facts: makeFacts(facts), clearance: "confirmed-clear", need }, index, policy) };
}

function boundTo({ kind, image }: Way["operations"][number], world: BindWorld): Bound {
  const bound = operationOf(kind).bind(image ? (world.index.images.get(image) ?? null) : null, world);
  if (!bound) throw new Error(`${kind} does not take ${image}`);
  return bound;
}

const RUNS = { numRuns: 300 };

test("no way breaks a precondition when it is replayed", () => {
  fc.assert(
    fc.property(worlds, (world) => {
      const { index, result } = plan(world);
      const device = planDeviceOf(world.model, makeFacts(world.facts));
      for (const way of result.ways) {
        let state = initialState(device, index);
        let wipes = 0;
        for (const operation of way.operations) {
          const bound = boundTo(operation, { device, index, policy: world.policy });
          bound.ask("all", state, (outcome) => {
            if (outcome.is === "fails") throw new Error(`${way.id}: ${operation.kind} breaks ${outcome.code}`);
            if (outcome.is === "unknown") expect(way.questions.map((q) => q.fact)).toContain(outcome.fact);
            return true;
          });
          wipes += bound.cost.wipes ?? 0;
          state = bound.apply(state);
        }
        expect(state.api).toBe(way.api);
        expect(wipes).toBe(way.wipes);
        expect(state.storage).toBe("clean");
      }
    }),
    RUNS,
  );
});

/** Written anew here, so that a mistake in the planner's own comparison shows. */
function isDominated(way: Way, by: Way): boolean {
  const more = (w: Way) => [
    Number(w.fit.works),
    w.fit.appsRun.length,
    -w.fit.hardwareNot.length,
    Number(w.enough),
    w.api,
    Number((w.patch ?? "0").replaceAll("-", "")),
    w.success,
  ];
  const less = (w: Way) => [
    w.faults.length,
    w.handsOnMinutes,
    w.unattendedMinutes,
    w.waitingDays,
    w.bytes,
    w.wipes,
    w.irreversible.length,
    w.questions.length,
  ];
  const gains = [...more(by).map((v, i) => v - more(way)[i]), ...less(way).map((v, i) => v - less(by)[i])];
  return gains.every((g) => g >= 0);
}

test("no way is dominated by, or equal to, another", () => {
  fc.assert(
    fc.property(worlds, (world) => {
      const { ways } = plan(world).result;
      for (const [i, a] of ways.entries())
        for (const [j, b] of ways.entries())
          if (i !== j && isDominated(a, b)) throw new Error(`${a.id} is dominated by ${b.id}`);
    }),
    RUNS,
  );
});

test("another image never makes the best way worse", () => {
  // The extra image is one more thing to go to. An image that carries the very build that runs would be something else:
  // new knowledge of what runs now, which may well be bad news.
  const another = image(99).map((i) => ({ ...i, build: i.kind === "verification" ? i.build : i.build && "B-other" }));
  fc.assert(
    fc.property(worlds, another, (world, extra) => {
      const before = plan(world).result.best;
      const after = plan({ ...world, images: [...world.images, extra] as never }).result.best;
      if (before) {
        expect(after).not.toBeNull();
        expect(compareWays(after as Way, before, world.policy)).toBeLessThanOrEqual(0);
      }
    }),
    RUNS,
  );
});

test("a fact that is taken away never makes a device go, unless no value of it would stop it", () => {
  const values: Partial<Record<FactKey, readonly FactValue[]>> = {
    "android.release": ["8.1", "10", "13", "15"],
    "firmware.version": FIRMWARE,
    // A system that is "none" and storage that must be formatted are only left by a step, and known then; whether it starts is told by what was read on it.
    "system.kind": ["stock", "custom", "generic"],
    "bootloader.locked": [true, false],
    "recovery.image": ["stock", "another one"],
    "verification.off": [true, false],
    "product.removed": [true, false],
    "base.release": ["8.1", "10", "13", "15"],
    "base.build": ["B1", "B2", "B9"],
    "build.number": ["B1", "B2", "B9"],
    "slot.current": ["a", "b"],
    "system.as-root": [true, false],
    "storage.state": ["donor", "clean", "workshop"],
    "services.addon": ["none", "some"],
  };
  fc.assert(
    fc.property(worlds, fc.constantFrom(...(Object.keys(values) as FactKey[])), (world, key) => {
      const without = { ...world.facts };
      delete without[key];
      const { result } = plan({ ...world, facts: without });
      if (result.verdict !== "can-go" || !result.best) return;
      // A build number on the image list tells what kind of system runs: then the fact is not open at all.
      if (key === "system.kind" && world.images.some((i) => i.build === world.facts["build.number"])) return;
      // A locked bootloader answers for what the maker signed.
      if (world.facts["bootloader.locked"] === true && (STOCK_FACTS as readonly FactKey[]).includes(key)) return;
      // Only with verification off does a generic image start (state.ts): one that runs says so, whatever else would be read.
      const runsGeneric = world.facts["system.kind"] === "generic" && world.facts["system.starts"] === "yes";
      if (key === "verification.off" && runsGeneric) return;
      // Where partitions do not share their room, none is taken out.
      if (key === "product.removed" && !world.model.logical) return;
      // It goes without the fact: then this very way must stand whatever the fact turns out to be.
      for (const value of values[key] ?? []) {
        const { index } = plan(world);
        const device = planDeviceOf(world.model, makeFacts({ ...without, [key]: value }));
        let state = initialState(device, index);
        for (const operation of result.best.operations) {
          const bound = boundTo(operation, { device, index, policy: world.policy });
          const stop = bound.failure("all", state);
          // What runs already, or is off already, need not be done: no harm.
          if (stop?.code === "image.not-needed") break;
          if (key === "verification.off" && operation.kind === "flash-verification") break;
          if (stop) throw new Error(`${key}=${value} stops ${result.best.id} at ${operation.kind}: ${stop.code}`);
          state = bound.apply(state);
        }
      }
    }),
    RUNS,
  );
});

test("every system image is the end of a way, is outdone by one, or has a reason with a code", () => {
  let looked = 0;
  fc.assert(
    fc.property(worlds, (world) => {
      const { index, result } = plan(world);
      const stopped = new Set(result.stops.map((s) => s.image));
      const ends = new Set([...result.ways.map((w) => w.image), ...result.outdone]);
      for (const { image } of index.imagesFor(world.model)) {
        if (!["official-update", "stock", "rom", "gsi"].includes(image.kind)) continue;
        looked++;
        expect([image.id, stopped.has(image.id) !== ends.has(image.id)]).toEqual([image.id, true]);
      }
      for (const stop of result.stops) {
        expect(stop.code).toMatch(/^[a-z]+\.[a-z-]+$/);
        expect(stop.says.length).toBeGreaterThan(8);
      }
      const reached = new Set(result.ways.map((w) => w.image));
      expect(result.stops.filter((s) => reached.has(s.image))).toEqual([]);
    }),
    RUNS,
  );
  expect(looked).toBeGreaterThan(500);
});

test("nothing is ever locked that was not written whole, and started, in the same plan", () => {
  let locked = 0;
  fc.assert(
    fc.property(worlds, (world) => {
      const { index, result } = plan(world);
      for (const { operations } of result.ways) {
        const kinds = operations.map((o) => o.kind);
        const at = kinds.indexOf("relock");
        if (at < 0) continue;
        locked++;
        const stock = kinds.indexOf("flash-stock");
        const parts = new Set(index.images.get(operations[stock]?.image ?? "")?.image.files.map((f) => f.partition));
        for (const part of ["boot", "system", "vbmeta", "recovery"])
          if (part !== "vbmeta" || world.model.treble)
            if (part !== "recovery" || !world.model.slots) expect([...parts]).toContain(part);
        expect(kinds.slice(stock, at)).toContain("start-and-check");
        expect(kinds.slice(stock + 1, at).every((k) => k === "start-and-check" || k === "take-update")).toBe(true);
      }
    }),
    { numRuns: 600 },
  );
  expect(locked).toBeGreaterThan(0);
});

test("nothing is planned while the clearance is open", () => {
  fc.assert(
    fc.property(
      worlds,
      fc.constantFrom(
        "not-looked-at" as const,
        "present" as const,
        "asked" as const,
        "declined" as const,
        "reported-lost" as const,
      ),
      (world, clearance) => {
        const index = indexCatalogue(
          makeCatalogue({ models: [world.model], images: [...world.images], needs: [world.need] }),
        );
        const result = planDevice({ facts: makeFacts(world.facts), clearance, need: world.need }, index, world.policy);
        expect(result.ways).toEqual([]);
        expect(result.best).toBeNull();
        expect(["check-first", "waiting", "not-this-way"]).toContain(result.verdict);
      },
    ),
    { numRuns: 60 },
  );
});
