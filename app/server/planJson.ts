import type { Way } from "~/core/upgrade/way";
import type { Store } from "~/store/database";
import { plannedDevices } from "./planning";

/** A way as other programs read it. Field names are a promise: add, never rename. */
function outsideWay(way: Way) {
  const {
    operations,
    release,
    api,
    handsOnMinutes,
    unattendedMinutes,
    waitingDays,
    bytes,
    success,
    wipes,
    irreversible,
  } = way;
  return {
    operations,
    release,
    api,
    handsOnMinutes,
    unattendedMinutes,
    waitingDays,
    bytes,
    success,
    wipes,
    irreversible,
  };
}

/** The plan of a batch for other programs: what is proposed, what was accepted, what stops the rest. */
export function planJson(store: Store, batch: string) {
  return {
    batch,
    devices: plannedDevices(store, batch).map(({ standing, plan, model, need }) => ({
      tag: standing.tag,
      model: model?.id ?? null,
      need: need?.id ?? null,
      clearance: standing.clearance,
      verdict: plan.verdict,
      says: plan.says,
      best: plan.best ? outsideWay(plan.best) : null,
      chosen: standing.way ? outsideWay(JSON.parse(standing.way) as Way) : null,
      alternatives: plan.ways.filter((w) => w !== plan.best).map(outsideWay),
      stops: plan.stops,
      questions: plan.questions,
    })),
  };
}
