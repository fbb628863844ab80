import { parseISO } from "date-fns";
import { runbookOf } from "~/app/server/bench/runbooks";
import { sheetPieces } from "~/app/server/bench/sheetPieces";
import { clearanceChance } from "~/app/server/division/question";
import { dayOf } from "~/app/server/http/clock";
import { type Placed, placedDevices } from "~/app/server/planning/lane";
import { catalogueOf, planOnceClear } from "~/app/server/planning/planning";
import { secondTry } from "~/core/allocate/secondTry";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import type { BenchFields } from "~/core/lane/bench";
import { type Job, minuteAt, type TimePin, type Work } from "~/core/schedule/eveningWork";
import { eveningsBetween } from "~/core/schedule/hours";
import type { Planned } from "~/core/schedule/planned";
import type { Divided } from "~/core/schedule/world";
import type { Way } from "~/core/upgrade/way";
import { operationOf, wayNamesOf } from "~/core/ways/registry";
import { openBenches } from "~/store/benches";
import type { Store } from "~/store/database";
import { acceptedWay } from "~/store/devices";
import { givenCounts, standingDivision } from "~/store/divisions";
import { listGroups, openVolunteers, readOpening } from "~/store/evenings";
import { piecePins } from "~/store/piecePins";
import { type Charging, chargingIn } from "./charging";
import { Fetches } from "./fetches";
import { minuteOf } from "./times";
import { oneInHand, underWay } from "./underWay";

/** Days looked ahead: further nobody knows who comes. */
export const AHEAD = 42;

/** What is planned, and what is left out with why. */
export type Gathered = {
  readonly work: Work;
  readonly left: readonly { readonly device: string; readonly says: string }[];
  /** Devices that go to a group, with what is uncertain about them. */
  readonly divided: readonly Divided[];
  readonly groups: readonly {
    readonly id: string;
    readonly wanted: number;
    readonly least: number;
    readonly by: string;
    /** Devices that they were given already. */
    readonly has: number;
  }[];
  /** Group of each device, by its name; none where nobody was divided to. */
  readonly groupOf: Readonly<Record<string, string>>;
};

/**
 * The work that is left: every device that was divided to a group, and every one whose way is accepted, by its exact sheet
 * from the step at which it stands to its checkout.
 *
 * @param had the timetable that people have; null where nobody has one
 */
export function gatherWork(store: Store, at: Date, had: Planned | null = null): Gathered {
  const from = dayOf(at);
  const to = dayOf(new Date(at.getTime() + AHEAD * 86_400_000));
  const groups = new Map(listGroups(store).map((group) => [group.id, group]));
  const divided = new Map(standingDivision(store)?.devices.map((row) => [row.device, groups.get(row.grp)]) ?? []);
  const pieces = sheetPieces(store);
  const left: Gathered["left"][number][] = [];
  const groupOf: Record<string, string> = {};
  const uncertain: Divided[] = [];
  const clear = clearanceChance(store, at);
  const { opening } = readOpening(store);
  const fetches = new Fetches(store, opening.line);
  const chargingOf = chargingIn(store);
  // The minute that runs still counts: a clock that strikes the opening hour puts nothing off.
  const now = Math.floor(minuteOf(from, at));
  const jobs = placedDevices(store, null).flatMap((device): Job[] => {
    const { standing, station } = device;
    const group = divided.get(standing.id);
    if (group) groupOf[standing.tag] = group.name;
    // Whoever it goes to: what was begun is brought to its end, and that is its checkout.
    const begun = station === "bench" || station === "checkout";
    if (!begun && !(group && (station === "clearance" || station === "match"))) return [];
    if (group) uncertain.push(dividedOf(device, String(group.id), clear, divisionWay(store, device, group.need)));
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
    const steps = pieces(answer);
    const charging = steps.length > 0 ? chargingOf(device) : null;
    const onCharger = charging ? hangsOn(charging, from) : null;
    const charged = charging && onCharger ? onCharger.start + charging.piece.minutes <= now : false;
    const all = charging && !charged ? [charging.piece, ...steps] : steps;
    return [
      {
        ...wanted,
        pieces: all,
        files: done === 0 ? fetches.of(runbook) : [],
        begun: charging && !charged ? onCharger : underWay(store, device, all[0], at),
        ways: wayNamesOf(way.operations),
        needsComputer: way.operations.some(({ kind }) => !operationOf(kind).withoutComputer),
        build: `${runbook.model}|${way.image ?? way.id}`,
      },
    ];
  });
  const shift = had ? minuteAt(from, had.day, "00:00") : 0;
  const byId = new Map(placedDevices(store, null).map(({ standing }) => [standing.id, standing.tag]));
  const work: Work = {
    jobs: oneInHand(jobs),
    had: had?.pieces.map((piece) => ({ ...piece, from: piece.from + shift, to: piece.to + shift })),
    pins: piecePins(store).flatMap(({ device, ends, volunteer, bench, start }): TimePin[] => {
      const tag = byId.get(device);
      const [day, clock] = start.split("T");
      return tag ? [{ device: tag, ends, volunteer, bench, from: minuteAt(from, day, clock) }] : [];
    }),
    volunteers: openVolunteers(store),
    benches: openBenches(store).map(({ id: _id, closed: _closed, version: _version, ...bench }): BenchFields => bench),
    evenings: eveningsBetween(opening, from, to),
    fetches: fetches.all(),
    from,
    now,
  };
  const given = givenCounts(store);
  // Whose day is over waits all the same: by which day theirs would come is what another one is agreed on by.
  const waiting = [...groups.values()].filter(({ closed }) => !closed);
  return {
    work,
    left,
    groupOf,
    divided: uncertain,
    groups: waiting.map(({ id, wanted, least, by }) => ({
      id: String(id),
      wanted,
      least,
      by,
      has: given.get(id) ?? 0,
    })),
  };
}

/** Since when and where it hangs on a charger: no hands are with it. */
const hangsOn = ({ hangs }: Charging, from: string): Job["begun"] =>
  hangs && { start: Math.floor(minuteOf(from, parseISO(hangs.at))), volunteer: "", bench: hangs.bench };

/** The way by which a device would be brought to its group: the accepted one, else the proposed one. */
function divisionWay(store: Store, device: Placed, needId: string): Way | null {
  const accepted = acceptedWay(device.standing);
  const need = catalogueOf(store).needs.find(({ id }) => id === needId);
  return accepted ?? (need ? planOnceClear(store, device, need).best : null);
}

function dividedOf(device: Placed, group: string, clear: ReturnType<typeof clearanceChance>, way: Way | null): Divided {
  const { standing, station } = device;
  const settled = CLEARANCE_STATES[standing.clearance].opensGate;
  const finished = station === "checkout";
  return {
    device: standing.tag,
    group,
    donor: standing.donor || standing.tag,
    clearBy: settled ? [] : Array.from({ length: AHEAD + 1 }, (_, day) => clear(device, day)),
    success: finished ? 1 : (way?.success ?? 0),
    again: way !== null && secondTry(way) > way.success,
    build: `${device.model?.id ?? ""}|${way?.image ?? way?.id ?? ""}`,
    takes: way ? way.handsOnMinutes + way.unattendedMinutes : 0,
  };
}
