import type { Image } from "~/core/catalogue/image";
import type { Fact, FactKey, FactValue } from "~/core/device/fact";
import type { OperationKind } from "~/core/upgrade/operations";
import { systemKindOf } from "~/core/upgrade/state";
import type { Way } from "~/core/upgrade/way";

const BRINGS_FIRMWARE: ReadonlySet<OperationKind> = new Set(["take-update", "flash-stock", "install-firmware-pack"]);

/**
 * What a finished run has made of a device, as facts: release, system, build, firmware, lock.
 *
 * @param image looks an image of the catalogue up
 * @param hand who finished the run, and when (ISO time)
 */
export function factsAfterRun(
  way: Way,
  image: (id: string) => Image | undefined,
  hand: { readonly by: string; readonly at: string },
): Fact[] {
  const facts: Fact[] = [];
  const say = (key: FactKey, value: FactValue | null | undefined) => {
    if (value !== null && value !== undefined) facts.push({ key, value, source: "run", ...hand });
  };
  say("android.release", way.release);
  say("storage.state", "clean");
  const system = way.image === null ? undefined : image(way.image);
  if (system) {
    say("system.image", system.id);
    say("system.kind", systemKindOf(system));
    say("build.number", system.build);
    say("build.patch", system.patch);
  }
  const last = way.operations.findLast((o) => BRINGS_FIRMWARE.has(o.kind));
  say("firmware.version", last?.image ? image(last.image)?.firmware : null);
  const locks = way.operations.findLast((o) => o.kind === "relock" || o.kind === "unlock");
  if (locks) say("bootloader.locked", locks.kind === "relock");
  return facts;
}
