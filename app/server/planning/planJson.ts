import { isSystemKind, type Stop } from "~/core/upgrade/stops";
import type { Way } from "~/core/upgrade/way";
import type { Store } from "~/store/database";
import { acceptedWay } from "~/store/devices";
import { placedDevices } from "./lane";
import { catalogueOf } from "./planning";
import { toldOf } from "./told";

/** A way as other programs read it. Field names are a promise: add, never rename. */
function outsideWay(way: Way) {
  return {
    operations: way.operations,
    release: way.release,
    api: way.api,
    handsOnMinutes: way.handsOnMinutes,
    unattendedMinutes: way.unattendedMinutes,
    waitingDays: way.waitingDays,
    bytes: way.bytes,
    success: way.success,
    wipes: way.wipes,
    irreversible: way.irreversible,
    cautions: way.cautions,
    back: way.back?.image ?? null,
    cleaned: way.cleaned,
  };
}

const outsideWayOrNull = (way: Way | null) => (way ? outsideWay(way) : null);

/** Batches up to this size also tell of images made for other models, so that no image is left without a reason. */
const WHOLE_STOPS = 500;

/** Stops for system images that are made for other models: the same for all devices of a model. */
function otherModelStops(store: Store) {
  const systems = catalogueOf(store).images.filter((i) => isSystemKind(i.kind) && i.models.length > 0);
  const kept = new Map<string, Stop[]>();
  return (model: string): readonly Stop[] => {
    let stops = kept.get(model);
    if (!stops) {
      stops = systems
        .filter((i) => !i.models.includes(model))
        .map((i) => ({
          image: i.id,
          code: "image.other-model",
          says: `Made for ${i.models.join(", ")}, not for this board`,
        }));
      kept.set(model, stops);
    }
    return stops;
  };
}

/**
 * The plan of a batch for other programs: what is proposed, what was accepted, what stops the rest.
 *
 * @param whole tell of images for other models too, whatever the size of the batch
 */
export function planJson(store: Store, batch: string, whole = false) {
  const devices = placedDevices(store, batch);
  const others = whole || devices.length <= WHOLE_STOPS ? otherModelStops(store) : () => [];
  return {
    batch,
    devices: devices.map(({ standing, plan, model, need, station, outcome }) => ({
      tag: standing.tag,
      model: model?.id ?? null,
      need: need?.id ?? null,
      clearance: standing.clearance,
      /** Where it waits, and what came of it: "open" as long as it is on the lane. */
      station,
      outcome,
      ...toldOf(plan, outcome),
      best: outsideWayOrNull(plan.best),
      chosen: outsideWayOrNull(acceptedWay(standing)),
      alternatives: plan.ways.filter((w) => w !== plan.best).map(outsideWay),
      stops: plan.model ? [...plan.stops, ...others(plan.model)] : plan.stops,
      questions: plan.questions,
    })),
  };
}
