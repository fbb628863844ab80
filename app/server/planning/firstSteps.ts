import { groupedBy } from "~/app/server/planning/groupedBy";
import { allDevices, catalogueOf, type PlannedDevice } from "~/app/server/planning/planning";
import { modelTitle } from "~/core/catalogue/model";
import { calledAs } from "~/core/device/calledAs";
import { isSystemKind } from "~/core/upgrade/stops";
import type { Store } from "~/store/database";
import { listBatches } from "~/store/devices";

/** Models that devices are of and nobody has written down, most devices first; each with one to draft it from. */
export interface UnknownModel {
  readonly called: string;
  readonly devices: number;
  readonly from: string;
}

/** How far a house is on its way from nothing to the first device that can go. */
export interface FirstSteps {
  readonly needs: number;
  readonly devices: number;
  readonly batch: string;
  readonly unknown: readonly UnknownModel[];
  /** Devices whose model is written down. */
  readonly known: number;
  /** A model that devices are of and no system image is recorded for; null where there is none. */
  readonly without: { readonly id: string; readonly title: string } | null;
  readonly images: number;
  readonly cleared: number;
}

/** What has been done of the first steps; null once a device could go: from there on the lane itself leads. */
export function firstSteps(store: Store): FirstSteps | null {
  const devices = allDevices(store);
  const begun = (d: PlannedDevice) => d.standing.way !== null || d.standing.run !== null || d.standing.ended !== null;
  if (devices.some((d) => begun(d) || (d.plan.best !== null && d.plan.best.questions.length === 0))) return null;
  const { needs, images } = catalogueOf(store);
  const unknown = groupedBy(
    devices.filter((d) => d.model === null),
    (d) => calledAs(d.facts).toLowerCase(),
  );
  const systems = images.filter((i) => isSystemKind(i.kind));
  const without = devices.find(({ model }) => model && !systems.some((i) => i.models.includes(model.id)))?.model;
  return {
    needs: needs.length,
    devices: devices.length,
    batch: listBatches(store)[0]?.id ?? "",
    unknown: [...unknown.values()]
      .map((list) => ({ called: calledAs(list[0].facts), devices: list.length, from: list[0].standing.tag }))
      .sort((a, b) => b.devices - a.devices),
    known: devices.filter((d) => d.model !== null).length,
    without: without ? { id: without.id, title: modelTitle(without) } : null,
    images: systems.length,
    cleared: devices.filter((d) => d.standing.clearance === "confirmed-clear").length,
  };
}
