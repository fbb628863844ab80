import { performance } from "node:perf_hooks";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { planDevice } from "~/core/upgrade/plan";
import { makeCatalogue, makeFacts, makeImage, makeModel, makeNeed } from "~/testing/catalogueEntries";

const KINDS = ["rom", "recovery", "services", "firmware-pack"] as const;

/** One model that everybody builds for: 160 ROMs, recoveries, add-ons and firmware packs. */
export function crowdedModel() {
  const order = ["F1", "F2", "F3", "F4", "F5"];
  const model = makeModel({ id: "m", firmware: { order } });
  const images = Array.from({ length: 160 }, (_, i) => {
    const kind = KINDS[i % KINDS.length];
    const own = i % 8 < 4;
    return makeImage(
      {
        id: `i${i}`,
        kind,
        models: ["m"],
        installs: kind === "rom" ? (own ? "packages" : "sideload") : null,
        flavour: kind === "recovery" ? (own ? "custom" : "rom") : null,
        version: `3.${i}`,
        firmware: kind === "firmware-pack" ? order[i % 5] : null,
        success: 0.5 + ((i * 37) % 50) / 100,
        files: [
          {
            name: "f.img",
            partition: kind === "recovery" ? "recovery" : null,
            bytes: 1000 + ((i * 7919) % 1000) * 1000,
          },
        ],
      },
      28 + (i % 7),
    );
  });
  return indexCatalogue(makeCatalogue({ models: [model], images }));
}

/** Milliseconds and MB that planning one device of the crowded model takes, once the code is warm. */
export function measureCrowded(): { readonly ms: number; readonly mb: number } {
  const index = crowdedModel();
  const facts = makeFacts({
    "model.number": "N-m",
    "android.release": "9",
    "build.number": "B",
    "firmware.version": "F1",
    "system.kind": "stock",
    "bootloader.locked": true,
  });
  const plan = () => planDevice({ facts, clearance: "confirmed-clear", need: makeNeed() }, index, DEFAULT_POLICY);
  for (let i = 0; i < 3; i++) plan();
  const before = process.memoryUsage().heapUsed;
  const from = performance.now();
  plan();
  return { ms: performance.now() - from, mb: Math.max(0, process.memoryUsage().heapUsed - before) / 1e6 };
}
