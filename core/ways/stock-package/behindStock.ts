import type { IndexedImage } from "~/core/upgrade/catalogueIndex";
import { after, type PlanDevice, type PlanState } from "~/core/upgrade/state";
import { writeMinutes } from "../operation";
import { missingParts } from "./wholeness";

const SETTLED: readonly string[] = [
  "build.number",
  "firmware.version",
  "system.kind",
  "android.release",
  "base.build",
  "base.release",
  "services.addon",
  "recovery.image",
  "verification.off",
  "product.removed",
];

/** The state behind a stock package, whatever wrote it: the maker's own wherever the package holds a part. */
export function behindStock(s: PlanState, { image, api }: IndexedImage, { model }: PlanDevice): PlanState {
  const missing = missingParts(image, model);
  const wrote = (part: string) => !missing.includes(part);
  const untouched = (["recovery.image", "verification.off", "product.removed"] as const).filter(
    (_key, i) => !wrote(["recovery", "vbmeta", "product"][i]),
  );
  return after(s, {
    system: "stock",
    image: image.id,
    api,
    baseApi: api,
    baseBuild: image.build,
    patch: image.patch,
    basePatch: image.patch,
    firmware: image.firmware ?? s.firmware,
    recovery: wrote("recovery") ? "stock" : s.recovery,
    verification: wrote("vbmeta") ? "on" : s.verification,
    product: wrote("product") ? "present" : s.product,
    services: null,
    storage: "clean",
    started: "fresh",
    whole: missing.length === 0,
    assumed: s.assumed.filter((k) => (untouched as readonly string[]).includes(k) || !SETTLED.includes(k)),
  });
}

/** About five minutes of writing, or what the write rate gives. */
export const stockMinutes = (entry: IndexedImage, device: PlanDevice) =>
  Math.max(5, writeMinutes(entry.expanded, device));

/** What to say of a package that does not write everything; null where it does. */
export function notWholeCaution({ image }: IndexedImage, { model }: PlanDevice): string | null {
  const missing = missingParts(image, model);
  return missing.length
    ? `The stock package “${image.title}” does not hold ${missing.join(", ")}: what is there stays, so the device is not wholly stock and is never locked behind it`
    : null;
}
