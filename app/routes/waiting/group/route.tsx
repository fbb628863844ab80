import { addDays } from "date-fns";
import { data } from "react-router";
import {
  devicesFor,
  givePromise,
  isOver,
  offersFor,
  promisesTo,
  withdrawPromise,
} from "~/app/server/division/promises";
import { dividedForAnotherDay } from "~/app/server/division/standing";
import { dayOf, now as houseNow, today } from "~/app/server/http/clock";
import { db, handOf, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { catalogueOf, deviceName } from "~/app/server/planning/planning";
import { goesNoFurther } from "~/app/server/planning/told";
import { followTimetable, isOnTheMove, oddsBy } from "~/app/server/timetable/timetable";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { Pairs } from "~/app/ui/Pairs";
import { Scroll } from "~/app/ui/Scroll";
import { useFollowed } from "~/app/ui/useFollowed";
import { chanceText, countText, dateText, LATE, sureText } from "~/app/ui/words";
import { CLEARANCE_STATES } from "~/core/clearance/states";
import { outcomeWords } from "~/core/lane/station";
import { STATION_NAMES } from "~/core/lane/stations";
import { CAUSE_WORDS, type GroupOdds } from "~/core/schedule/odds";
import { StaleEdit } from "~/store/database";
import { givenCounts, standingDivision } from "~/store/divisions";
import { changeGroup, findGroup } from "~/store/evenings";
import { RestsOn } from "../RestsOn";
import type { Route } from "./+types/route";
import { GroupFields } from "./GroupFields";
import { readGroup, textOf, typedOf } from "./groupForm";
import { Odds, type ShownOdds } from "./Odds";
import { Promises } from "./Promises";

const groupAt = (id: string) => {
  const group = findGroup(db(), Number(id));
  if (!group) throw notFound("There is no such group. Look at Groups");
  return group;
};

export function loader({ params }: Route.LoaderArgs) {
  const group = groupAt(params.id);
  const division = standingDivision(db());
  const at = houseNow(db());
  const timetable = followTimetable(db(), at);
  const devices = devicesFor(db(), group).map(({ device, chance }) => {
    const { standing, station, outcome } = device;
    return {
      tag: standing.tag,
      name: deviceName(device),
      station: station === "aside" ? "Set aside" : STATION_NAMES[station],
      cleared: CLEARANCE_STATES[standing.clearance].opensGate,
      clearance: CLEARANCE_STATES[standing.clearance].says,
      lost: goesNoFurther(outcome) ? outcomeWords(outcome) : null,
      came: outcome === "handed-over",
      chance,
    };
  });
  const played = oddsBy(timetable, group);
  const { offers, restsOn } = offersFor(db(), group, timetable);
  return {
    group,
    over: isOver(group, at),
    moves: isOnTheMove(timetable),
    otherDay: dividedForAnotherDay(db(), group),
    shown: played && devices.length ? shownOdds(played.odds, played.from) : null,
    typed: textOf(group),
    needs: catalogueOf(db()).needs.map(({ id, name }) => ({ value: id, text: name })),
    divided: division?.at ?? null,
    given: givenCounts(db()).get(group.id) ?? 0,
    devices,
    offers,
    restsOn,
    promises: promisesTo(db(), group.id, at).reverse(),
  };
}

/** How sure one that is still to come is there in time. */
const inTimeText = (chance: number | null, over: boolean) =>
  over ? LATE : chance === null ? "not known yet" : chanceText(chance);

/** Odds with their days named. */
function shownOdds({ odds, days, costs }: GroupOdds, from: Date): ShownOdds {
  const dayAt = (number: number | null) => (number === null ? null : dayOf(addDays(from, number)));
  return {
    odds: odds.map((each) => ({ ...each, sure: dayAt(each.sure) })),
    points: days.map(({ day, low, middle, high }) => ({
      day: dayAt(day) as string,
      expected: middle,
      band: [low, high] as const,
    })),
    costs: costs.map(({ cause, devices }) => ({ says: CAUSE_WORDS[cause], devices })),
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  const form = await readForm(request);
  const typed = typedOf(form);
  const { id } = groupAt(params.id);
  const what = form.get("what");
  if (what === "promise" || what === "back") {
    const hand = handOf(request);
    const wrong =
      what === "promise"
        ? givePromise(db(), id, Number(form.get("count")), hand)
        : withdrawPromise(db(), id, Number(form.get("promise")), String(form.get("reason") ?? ""), hand);
    return wrong ? data({ typed: null, wrong: {}, says: wrong }, { status: 409 }) : leadOn(`/groups/${id}`);
  }
  const read = readGroup(typed, catalogueOf(db()).needs, today(db()), findGroup(db(), id)?.by);
  if ("wrong" in read)
    return data({ typed, wrong: read.wrong, says: "Look at what is marked. Nothing was changed" }, { status: 400 });
  try {
    const kept = { id, version: Number(form.get("version")), closed: form.get("closed") === "yes" };
    const wrong = changeGroup(db(), kept, read.group, handOf(request));
    return wrong ? data({ typed, wrong: { name: wrong }, says: wrong }, { status: 409 }) : leadOn(`/groups/${id}`);
  } catch (error) {
    if (error instanceof StaleEdit) return data({ typed, wrong: {}, says: error.message }, { status: 409 });
    throw error;
  }
}

export default function Group({ loaderData, actionData }: Route.ComponentProps) {
  const { group, over, otherDay, typed, needs, divided, devices, offers, restsOn, shown, given, moves, promises } =
    loaderData;
  useFollowed(moves);
  const uncleared = devices.filter(({ cleared }) => !cleared).length;
  const lost = devices.flatMap(({ tag, lost }) => (lost ? [`${tag}: ${lost}.`] : []));
  return (
    <>
      <title>{`${group.name} · Upshift Lane`}</title>
      <p className="hint">
        <Link to="/groups">Groups</Link>
      </p>
      <h1>
        {group.name} {group.closed && <span className="hint">closed</span>}
      </h1>
      {actionData && <Notice kind="wrong">{actionData.says}.</Notice>}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-2">
        <section className="sheet" aria-labelledby="odds">
          <h2 id="odds">
            {over ? `Their day is over: ${dateText(group.by)}` : `What they will get by ${dateText(group.by)}`}
          </h2>
          {over && !group.closed && given < group.wanted && (
            <Notice kind="caution">
              {given} of the {group.wanted} were handed over to them so far. What is still to come, comes late.
            </Notice>
          )}
          {divided === null ? (
            <p className="mt-2">
              Nothing is divided yet. <Link to="/division">Divide the devices</Link> to see which ones can be theirs,
              and how likely they are ready by {dateText(group.by)}.
            </p>
          ) : devices.length === 0 ? (
            <p className="mt-2">
              The division of {dateText(divided)} has no device for them. <Link to="/division">Divide again</Link>.
            </p>
          ) : (
            <>
              {shown ? (
                <Odds shown={shown} wanted={group.wanted} given={given} by={group.by} over={over} />
              ) : over ? (
                <p className="mt-2">
                  <Link to="/timetable">Work the timetable out</Link> to see by which day it could come.
                </p>
              ) : otherDay ? (
                <Notice kind="caution">
                  They were divided for {dateText(otherDay)}: how likely they are ready by {dateText(group.by)} is known
                  once you <Link to="/division">divide again</Link> or{" "}
                  <Link to="/timetable">work the timetable out</Link>.
                </Notice>
              ) : (
                <Pairs
                  pairs={offers.map(({ count, chance }) => [
                    count === group.wanted ? `All ${count}` : `${count} of ${group.wanted}`,
                    sureText(count, given, `${chanceText(chance)} by ${dateText(group.by)}`),
                  ])}
                />
              )}
              <p className="hint mt-2">
                By the division of {dateText(divided)}
                {shown
                  ? " and the timetable, played through 2,000 times: donors' answers, ways with their second try, longer work, volunteers who can't come."
                  : ", from the clearance of each device and its way with its second try. "}
                {!shown && !over && !otherDay && (
                  <>
                    <Link to="/timetable">Work the timetable out</Link> for odds that know the evenings too.
                  </>
                )}
                {moves && " They are being worked out again."}
              </p>
              {!over && <RestsOn says={restsOn} />}
              {lost.length > 0 && (
                <Notice kind="caution">
                  Of the {devices.length} that were meant for them {countText(lost.length, "device")} will not come.{" "}
                  {lost.join(" ")} <Link to="/division">Divide again</Link>: another one may take its place.
                </Notice>
              )}
              {uncleared > 0 && (
                <Notice kind="caution">
                  {uncleared} of the {devices.length} are not cleared yet: they are promised to nobody for certain.
                </Notice>
              )}
            </>
          )}
        </section>
        <Promises group={group} over={over} given={given} offers={offers} promises={promises} />
        <section className="sheet" aria-labelledby="devices">
          <h2 id="devices">Devices</h2>
          {devices.length === 0 ? (
            <p className="mt-2">None yet.</p>
          ) : (
            <Scroll label="Devices of this group">
              <table className="rows">
                <thead>
                  <tr>
                    <th scope="col">Device</th>
                    <th scope="col">Is at</th>
                    <th scope="col">Account lock</th>
                    <th scope="col" className="n">
                      Ready in time
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {devices.map(({ tag, name, station, clearance, lost, came, chance }) => (
                    <tr key={tag}>
                      <td>
                        <Link to={`/devices/${tag}`} className="font-bold">
                          {tag}
                        </Link>{" "}
                        {name}
                      </td>
                      <td>{station}</td>
                      <td>{clearance}</td>
                      <td className="n">{lost ? "will not come" : came ? "handed over" : inTimeText(chance, over)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </Scroll>
          )}
        </section>
        <section className="sheet lg:col-span-2" aria-labelledby="edit">
          <h2 id="edit">What they asked for</h2>
          <Form method="post" readable className="mt-2 max-w-3xl space-y-3" key={group.version}>
            <input type="hidden" name="version" value={group.version} />
            <GroupFields typed={actionData?.typed ?? typed} wrong={actionData?.wrong ?? {}} needs={needs} />
            <label className="flex items-center gap-2">
              <input type="checkbox" name="closed" value="yes" defaultChecked={group.closed} /> Closed: they wait no
              more
            </label>
            <button type="submit" className="btn-main">
              Save
            </button>
          </Form>
        </section>
      </div>
    </>
  );
}
