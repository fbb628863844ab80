import { z } from "zod";
import { describeRelease } from "~/core/android/releases";
import { lacksCpu } from "~/core/catalogue/abis";
import { asClause } from "~/core/catalogue/clause";
import type { Cpu, Hardware } from "~/core/catalogue/common";
import { HARDWARE_WORDS, Hardware as HardwareSchema } from "~/core/catalogue/common";
import type { Image } from "~/core/catalogue/image";
import type { Model } from "~/core/catalogue/model";
import type { Need } from "~/core/catalogue/need";

/** A system as it would run on a device: what decides whether apps and hardware work. */
export interface RunningSystem {
  readonly api: number;
  readonly services: boolean;
  readonly integrity: boolean;
  /** Kind of code the system runs: that of its image, else of the model. */
  readonly cpu: Cpu;
  readonly working: readonly Hardware[];
  readonly faults: readonly { readonly hardware: Hardware; readonly says: string }[];
  /** Hardware that is broken on the device itself: no other system mends it. */
  readonly broken: readonly Hardware[];
}

/** How a running system meets a need: each app that would not run with its reason, each hardware that would not work. */
export const NeedFit = z
  .object({
    works: z.boolean(),
    appsRun: z.array(z.string()).readonly(),
    appsNot: z.array(z.object({ app: z.string(), says: z.string() }).readonly()).readonly(),
    hardwareNot: z.array(z.object({ hardware: HardwareSchema, says: z.string() }).readonly()).readonly(),
  })
  .readonly();
export type NeedFit = z.infer<typeof NeedFit>;

/** Hardware an app can't do without and the device does not have working. */
function missing(hardware: readonly Hardware[], system: RunningSystem): string | null {
  const lacks = hardware.filter((h) => !system.working.includes(h));
  return lacks.length ? `needs ${lacks.map((h) => asClause(HARDWARE_WORDS[h])).join(" and ")}` : null;
}

/** Holds a running system against a need: each app and each piece of hardware that would not work, with its reason. */
export function fitNeed(system: RunningSystem, model: Model, need: Need): NeedFit {
  const appsRun: string[] = [];
  const appsNot: { app: string; says: string }[] = [];
  for (const app of need.apps) {
    const why =
      app.minApi > system.api
        ? `needs ${describeRelease(app.minApi)}`
        : app.only64 && system.cpu === "arm"
          ? "needs a 64-bit system"
          : lacksCpu(app.abis, system.cpu)
            ? `has code for ${app.abis.join(", ")} only`
            : app.services && !system.services
              ? "needs the services package"
              : app.integrity && !system.integrity
                ? "needs a passing integrity verdict"
                : missing(app.hardware, system);
    if (why) appsNot.push({ app: app.name, says: why });
    else appsRun.push(app.name);
  }
  const hardwareNot = need.hardware
    .filter((h) => !system.working.includes(h))
    .map((hardware) => ({
      hardware,
      says: system.broken.includes(hardware)
        ? `${HARDWARE_WORDS[hardware]}: broken on this device`
        : (system.faults.find((f) => f.hardware === hardware)?.says ??
          `This model has no ${asClause(HARDWARE_WORDS[hardware])}`),
    }));
  if (!need.forms.includes(model.form))
    hardwareNot.push({
      hardware: need.hardware[0] ?? "wifi",
      says: `The group waits for a ${need.forms.join(" or ")}`,
    });
  return { works: appsNot.length === 0 && hardwareNot.length === 0, appsRun, appsNot, hardwareNot };
}

/** Open faults of an image on a model. */
export function faultsOn(image: Image | null, model: Model) {
  return (image?.faults ?? []).filter(
    (f) => (f.models.length === 0 || f.models.includes(model.id)) && model.hardware.includes(f.hardware),
  );
}
