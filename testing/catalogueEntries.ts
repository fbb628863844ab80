import { releaseOf } from "~/core/android/releases";
import type { Catalogue } from "~/core/catalogue/catalogue";
import type { Image } from "~/core/catalogue/image";
import { Image as ImageSchema } from "~/core/catalogue/image";
import { Model } from "~/core/catalogue/model";
import { Need } from "~/core/catalogue/need";
import type { Fact, FactKey, FactValue } from "~/core/device/fact";
import { type CurrentFacts, currentFacts } from "~/core/device/lookUp";

/** Small makers of valid catalogue entries, for tests and the benchmark. */
const SOURCE = { source: "test", on: "2026-01-01" };
const GiB = 1_073_741_824;

export function makeModel(over: Partial<Record<keyof Model, unknown>> & { id: string }): Model {
  return Model.parse({
    maker: "Velkora",
    names: [over.id],
    modelNumbers: [`N-${over.id}`],
    codename: `c-${over.id}`,
    board: `b-${over.id}`,
    form: "phone",
    launchApi: 28,
    cpu: "arm64",
    hardware: ["calls", "wifi", "camera", "mobile-data", "speaker"],
    treble: true,
    slots: false,
    userspaceFastboot: false,
    logical: false,
    maxDownload: 268_435_456,
    writeRate: 9_000_000,
    room: { system: 2 * GiB, product: null, recovery: 67_108_864 },
    unlock: { possible: true },
    relock: true,
    firmware: { order: ["F1", "F2", "F3"] },
    keys: { bootloader: "hold down", recovery: "hold up" },
    ...SOURCE,
    ...over,
  });
}

export function makeImage(
  over: Partial<Record<keyof Image, unknown>> & { id: string; kind: string },
  api: number,
): Image {
  return ImageSchema.parse({
    title: over.id,
    version: "1",
    release: releaseOf(api),
    released: "2025-01-01",
    patch: "2025-01-01",
    files: [{ name: `${over.id}.img`, bytes: GiB / 2, expanded: GiB }],
    ...SOURCE,
    ...over,
  });
}

export function makeNeed(over: Partial<Record<keyof Need, unknown>> = {}): Need {
  return Need.parse({
    id: "need",
    name: "Need",
    forWhom: "Group",
    apps: [{ name: "App", minApi: 29 }],
    hardware: ["calls"],
    ...SOURCE,
    ...over,
  });
}

export function makeCatalogue(over: Partial<Catalogue>): Catalogue {
  return {
    models: [],
    images: [],
    needs: [makeNeed()],
    incompatible: [],
    ...over,
  };
}

export function makeFacts(values: Partial<Record<FactKey, FactValue>>): CurrentFacts {
  return currentFacts(
    Object.entries(values).map(
      ([key, value]) => ({ key, value, source: "read", at: "2026-01-01T00:00:00Z", by: "test" }) as Fact,
    ),
  );
}
