import { experienceOf } from "~/app/server/bench/experience";
import { runbookOf } from "~/app/server/bench/runbooks";
import { dayOf } from "~/app/server/http/clock";
import { placedDevices } from "~/app/server/planning/lane";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import type { BenchFields } from "~/core/lane/bench";
import type { Job, Work } from "~/core/schedule/eveningWork";
import { eveningsBetween } from "~/core/schedule/hours";
import { piecesOf } from "~/core/schedule/pieces";
import type { Way } from "~/core/upgrade/way";
import { operationOf, wayNameOf } from "~/core/ways/registry";
import { openBenches } from "~/store/benches";
import type { Store } from "~/store/database";
import { standingDivision } from "~/store/divisions";
import { listGroups, openVolunteers, readOpening } from "~/store/evenings";

/** Days looked ahead: further nobody knows who comes. */
export const AHEAD = 42;

/** What is planned, and what is left out with why. */
export type Gathered = {
  readonly work: Work;
  readonly left: readonly { readonly device: string; readonly says: string }[];
  /** Group of each device, by its name; none where nobody was divided to. */
  readonly groupOf: Readonly<Record<string, string>>;
};

/**
 * The work that is left: every device that was divided to a group, and every one whose way is accepted, by its exact sheet
 * from the step at which it stands.
 */
export function gatherWork(store: Store, at: Date): Gathered {
  const from = dayOf(at);
  const to = dayOf(new Date(at.getTime() + AHEAD * 86_400_000));
  const groups = new Map(listGroups(store).map((group) => [group.id, group]));
  const divided = new Map(standingDivision(store)?.devices.map((row) => [row.device, groups.get(row.grp)]) ?? []);
  const experience = experienceOf(store);
  const left: Gathered["left"][number][] = [];
  const groupOf: Record<string, string> = {};
  const jobs = placedDevices(store, null).flatMap((device): Job[] => {
    const { standing, station } = device;
    const group = divided.get(standing.id);
    if (group) groupOf[standing.tag] = group.name;
    if (!(group || station === "bench") || !["clearance", "match", "bench", "checkout"].includes(station)) return [];
    const wanted = {
      device: standing.tag,
      due: group?.by ?? null,
      weight: group?.weight ?? 1,
    };
    if (station === "checkout")
      return [{ ...wanted, pieces: [], ways: [], needsComputer: false, build: `checkout ${standing.tag}` }];
    if (!CLEARANCE_STATES[standing.clearance].opensGate) {
      left.push({ device: standing.tag, says: "its account lock is not settled: nothing is begun before it is" });
      return [];
    }
    const answer = runbookOf(store, standing.tag);
    if (!answer.ok) {
      left.push({ device: standing.tag, says: answer.says.replace(`${standing.tag}: `, "") });
      return [];
    }
    const { way, runbook, done } = answer;
    const pace = paceOf(way, (operation) => experience.learned(operation, runbook.model, 0.9)?.pace.median ?? 1);
    return [
      {
        ...wanted,
        // Good as it is: only the look at the end is left.
        pieces:
          way.keeps && way.operations.length === 0 ? [] : piecesOf(runbook, { done, waitDays: way.waitingDays, pace }),
        ways: [...new Set(way.operations.map(({ kind }) => wayNameOf(kind)))],
        needsComputer: way.operations.some(({ kind }) => !operationOf(kind).withoutComputer),
        build: `${runbook.model}|${way.image ?? way.id}`,
      },
    ];
  });
  const now = Math.ceil((at.getTime() - localMidnight(at)) / 60_000);
  const work: Work = {
    jobs,
    volunteers: openVolunteers(store),
    benches: openBenches(store).map(
      ({ name, host, places, leads, chargers }): BenchFields => ({
        name,
        host,
        places,
        leads,
        chargers,
      }),
    ),
    evenings: eveningsBetween(readOpening(store).opening, from, to),
    from,
    now,
  };
  return { work, left, groupOf };
}

function localMidnight(at: Date): number {
  const midnight = new Date(at);
  midnight.setHours(0, 0, 0, 0);
  return midnight.getTime();
}

/** How long a way takes here against what its sheet says: the mean over its operations. */
function paceOf({ operations }: Way, of: (operation: Way["operations"][number]) => number): number {
  return operations.length ? operations.reduce((sum, operation) => sum + of(operation), 0) / operations.length : 1;
}
