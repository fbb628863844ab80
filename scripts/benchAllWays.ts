import { performance } from "node:perf_hooks";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { Planner, planDevice } from "~/core/upgrade/plan";
import { demoCatalogue } from "~/demo/catalogue";
import { makeCatalogue, makeFacts } from "~/testing/catalogueEntries";

const MODELS = 250;
const IMAGES = 600;
const DEVICES = 5000;

/** The demo's models of every way, each many times under other names, with their images, until both numbers are reached. */
function largeCatalogue() {
  const demo = demoCatalogue();
  const models = Array.from({ length: MODELS }, (_, i) => {
    const from = demo.models[i % demo.models.length];
    return { ...from, id: `${from.id}-${i}`, modelNumbers: [`N-${i}`], codename: `c${i}`, board: `b${i}` };
  });
  const own = demo.images.filter((i) => i.models.length > 0);
  const generic = demo.images.filter((i) => i.models.length === 0);
  const images = models.flatMap((m, n) => {
    const from = demo.models[n % demo.models.length].id;
    return own
      .filter((i) => i.models.includes(from))
      .map((i) => ({ ...i, id: `${i.id}-${n}`, models: [m.id], modelNumbers: [] }));
  });
  return { models, images: [...generic, ...images.slice(0, IMAGES - generic.length)], needs: demo.needs };
}

/** Milliseconds: all devices from nothing, and one device with nothing kept (median). */
export function measureAllWays(): { readonly all: number; readonly one: number; readonly says: string } {
  const { models, images, needs } = largeCatalogue();
  const index = indexCatalogue(makeCatalogue({ models, images, needs }));
  const requests = Array.from({ length: DEVICES }, (_, i) => {
    const model = models[(i * 7919) % models.length];
    const builds = images.filter((im) => im.models[0] === model.id && im.build);
    return {
      facts: makeFacts({
        "model.number": model.modelNumbers[0],
        "android.release": builds[0]?.release ?? "9",
        ...(builds[0]?.build && { "build.number": builds[0].build }),
        "system.kind": "stock",
        "firmware.version": model.firmware.order[0],
        "bootloader.locked": i % 4 > 0,
        "accounts.on": false,
        ...(model.download && { "fuse.level": 1, "device.region": "NRD" }),
        ...(model.loader && { "board.chip": model.loader.chip }),
        ...(model.card && { "device.region": "EEA" }),
      }),
      clearance: "confirmed-clear" as const,
      need: needs[i % needs.length],
    };
  });
  const from = performance.now();
  const planner = new Planner(index, DEFAULT_POLICY);
  for (const r of requests) planner.plan(r);
  const all = performance.now() - from;
  const taken = requests.slice(0, 301).map((r) => {
    const begun = performance.now();
    planDevice(r, index, DEFAULT_POLICY);
    return performance.now() - begun;
  });
  const one = taken.sort((a, b) => a - b)[150];
  return { all, one, says: `${DEVICES} devices over ${models.length} models and ${images.length} images of all ways` };
}
