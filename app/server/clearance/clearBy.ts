import { addDays, format } from "date-fns";
import { placedDevices } from "~/app/server/planning/lane";
import { answerTimes, silenceCurve } from "~/core/clearance/answers";
import { daysToAnswer } from "~/core/clearance/case";
import { clearBy, dayAllClear, type Waiting } from "~/core/clearance/clearBy";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import type { Store } from "~/store/database";
import { casesOf } from "./cases";
import { askings, oneAnswerEach } from "./letters";

/** Days looked ahead. */
const AHEAD = 60;
/** A day is named when all are clear by it with this chance. */
const LIKELY = 0.8;

/**
 * How long donors take, and what that means for a batch.
 *
 * Devices of one donor count as one answer. Out of reach, declined and set aside never come; what is ours to do (to look,
 * to confirm) is taken as done within the policy's days and so as clear from the first day on.
 */
export function clearByOf(store: Store, batch: string | null, at: Date) {
  const caseOf = casesOf(store);
  const asked = askings(store, at);
  const answers = oneAnswerEach(asked);
  const times = answerTimes(answers);
  const curve = silenceCurve(answers);
  let clear = 0;
  let lost = 0;
  const waiting = new Map<string, { devices: number; waited: number | null }>();
  const devices = placedDevices(store, batch);
  for (const d of devices) {
    const was = caseOf(d.standing.id);
    const info = CLEARANCE_STATES[was.state];
    if (d.station === "aside" || info.verdict === "not-this-way") lost++;
    else if (info.opensGate || ["none-present", "removed", "not-looked-at"].includes(was.state)) clear++;
    else {
      const waited = daysToAnswer(was, at.toISOString())?.days ?? null;
      const key = `${d.standing.donor || d.standing.tag}|${was.askedAt ? "asked" : "to ask"}`;
      const before = waiting.get(key);
      waiting.set(key, { devices: (before?.devices ?? 0) + 1, waited: before?.waited ?? waited });
    }
  }
  const waitings: Waiting[] = [...waiting.values()];
  const days = clearBy(curve, waitings, clear, AHEAD);
  const likely = dayAllClear(days, LIKELY);
  const dayName = (n: number) => format(addDays(at, n), "d MMM");
  return {
    times,
    curve: curve.map((p) => ({ day: p.day, atRisk: p.atRisk, share: p.share, error: p.error })),
    devices: devices.length,
    clear,
    lost,
    waiting: waitings.reduce((sum, w) => sum + w.devices, 0),
    donors: waitings.length,
    points: days.map((d) => ({
      day: dayName(d.day),
      expected: Math.round(d.expected * 10) / 10,
      band: [d.low, d.high] as const,
      all: d.all,
    })),
    likely: likely === null ? null : dayName(likely),
    ahead: AHEAD,
  };
}
