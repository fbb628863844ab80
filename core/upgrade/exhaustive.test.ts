import fc from "fast-check";
import { releaseOf } from "~/core/android/releases";
import type { Image } from "~/core/catalogue/image";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import { makeCatalogue, makeFacts, makeImage, makeModel, makeNeed } from "~/testing/catalogueEntries";
import { type Case, EXTRA, everyEnd, GIB, MARKS, ROOM } from "~/testing/everyEnd";
import { indexCatalogue } from "./catalogueIndex";
import { planDevice } from "./plan";

// Cases made by lot for the judge of the planner (testing/everyEnd.ts), and what the planner finds for the same ones.

const image = (i: number): fc.Arbitrary<Image> =>
  fc
    .record({
      kind: fc.constantFrom(
        "official-update",
        "stock",
        "recovery",
        "recovery",
        "rom",
        "rom",
        "services",
        "verification",
        "gsi",
      ),
      api: fc.constantFrom(29, 30, 33, 34),
      firmware: fc.constantFrom("F1", "F2", "F3"),
      sideload: fc.boolean(),
      services: fc.boolean(),
      build: fc.constantFrom("B1", "B2"),
      bytes: fc.constantFrom(100_000_000, 300_000_000),
      large: fc.boolean(),
      patch: fc.constantFrom("2023-01-05", "2024-06-05"),
    })
    .map((x) =>
      makeImage(
        {
          id: `i${i}`,
          kind: x.kind,
          patch: x.patch,
          models: x.kind === "gsi" || x.kind === "services" ? [] : ["m"],
          cpu: x.kind === "gsi" ? "arm64" : null,
          build: ["official-update", "stock", "verification"].includes(x.kind) ? x.build : null,
          firmware: ["official-update", "stock"].includes(x.kind) ? x.firmware : null,
          installs: x.kind === "rom" ? (x.sideload ? "sideload" : "packages") : null,
          flavour: x.kind === "recovery" ? (x.sideload ? "rom" : "custom") : null,
          services: x.services,
          files:
            x.kind === "stock"
              ? ["boot", "system", "vbmeta", "recovery", "product"].map((partition) => ({
                  name: `${partition}.img`,
                  partition,
                  bytes: x.bytes,
                }))
              : [
                  {
                    name: "f.img",
                    partition: x.kind === "recovery" ? "recovery" : null,
                    bytes: x.kind === "recovery" ? 40_000_000 : x.bytes,
                    expanded: x.kind === "gsi" ? (x.large ? 2 * GIB : GIB) : null,
                  },
                ],
        },
        x.api,
      ),
    );

const cases: fc.Arbitrary<Case> = fc.record({
  locked: fc.boolean(),
  granted: fc.boolean(),
  runs: fc.constantFrom("stock" as const, "stock" as const, "custom" as const),
  api: fc.constantFrom(29, 30, 33),
  build: fc.constantFrom("B0", "B1", "B2"),
  firmware: fc.integer({ min: 1, max: 3 }),
  clean: fc.boolean(),
  unlockable: fc.constantFrom(true, true, false),
  days: fc.constantFrom(0, 0, 7),
  relock: fc.boolean(),
  product: fc.boolean(),
  direct: fc.boolean(),
  policy: fc
    .record({
      goingDown: fc.constantFrom("via-stock" as const, "direct" as const),
      verificationOrder: fc.constantFrom("before" as const, "after" as const),
      relock: fc.constantFrom("when-stock" as const, "never" as const),
      enoughMargin: fc.integer({ min: 0, max: 2 }),
    })
    .map((p) => ({ ...DEFAULT_POLICY, ...p })),
  minApi: fc.constantFrom(28, 30, 33),
  services: fc.boolean(),
  integrity: fc.boolean(),
  images: fc.integer({ min: 1, max: 5 }).chain((n) => fc.tuple(...Array.from({ length: n }, (_, i) => image(i)))),
});

/** What the planner finds for the same case. */
function planned(c: Case): number[][] {
  const model = makeModel({
    id: "m",
    relock: c.relock,
    directDowngrade: c.direct,
    logical: c.product,
    userspaceFastboot: c.product,
    unlock: { possible: c.unlockable, waitingDays: c.days, consequences: MARKS },
    room: { system: ROOM, product: EXTRA, recovery: 67_108_864 },
  });
  const need = makeNeed({
    apps: [{ name: "App", minApi: c.minApi, services: c.services, integrity: c.integrity }],
    hardware: [],
  });
  const facts = makeFacts({
    "model.number": "N-m",
    "android.release": releaseOf(c.api) as string,
    "build.number": c.build,
    "build.patch": "2020-01-05",
    "firmware.version": `F${c.firmware}`,
    "system.kind": c.runs,
    "bootloader.locked": c.locked,
    "unlock.granted": c.granted,
    "storage.state": c.clean ? "clean" : "donor",
    "recovery.image": "stock",
    "verification.off": false,
    "product.removed": false,
    "services.addon": "none",
    "system.as-root": false,
    "system.starts": "yes",
  });
  const index = indexCatalogue(makeCatalogue({ models: [model], images: [...c.images], needs: [need] }));
  const plan = planDevice({ facts, clearance: "confirmed-clear", need }, index, c.policy);
  return plan.ways.map((w) =>
    [
      Number(w.fit.works),
      Number(w.enough),
      w.api,
      Number((w.patch ?? "0").replaceAll("-", "")),
      -w.handsOnMinutes,
      -w.unattendedMinutes,
      -w.waitingDays,
      -w.bytes,
      w.success,
      -w.wipes,
      -w.irreversible.length,
    ].map((v) => v + 0),
  );
}

const sorted = (list: readonly number[][]) => list.map((v) => v.join(" ")).sort();

test("the planner finds exactly the ways that trying every order of steps finds", () => {
  let ways = 0;
  fc.assert(
    fc.property(cases, (c) => {
      const judge = sorted(everyEnd(c));
      ways += judge.length;
      expect(sorted(planned(c))).toEqual(judge);
    }),
    { numRuns: Number(process.env.CASES ?? 300), seed: 20_261_126 },
  );
  // A check on empty lists would prove nothing.
  expect(ways).toBeGreaterThan(Number(process.env.CASES ?? 300));
});
