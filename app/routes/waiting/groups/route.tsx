import { calibration, isOver, offersFor, promisesTo, toComeFor } from "~/app/server/division/promises";
import { now } from "~/app/server/http/clock";
import { db } from "~/app/server/http/context";
import { catalogueOf } from "~/app/server/planning/planning";
import { followTimetable, isOnTheMove } from "~/app/server/timetable/timetable";
import { Link } from "~/app/ui/Link";
import { Scroll } from "~/app/ui/Scroll";
import { useFollowed } from "~/app/ui/useFollowed";
import { allText, chanceText, countText, dateText, LATE, OUTCOME_WORDS, sureText } from "~/app/ui/words";
import { givenCounts, standingDivision } from "~/store/divisions";
import { listGroups } from "~/store/evenings";
import { RestsOn } from "../RestsOn";
import type { Route } from "./+types/route";

export function loader() {
  const needs = new Map(catalogueOf(db()).needs.map(({ id, name }) => [id, name]));
  const division = standingDivision(db());
  const at = now(db());
  const promises = promisesTo(db(), null, at);
  const given = givenCounts(db());
  const timetable = followTimetable(db(), at);
  const groups = listGroups(db());
  const waiting = groups.filter(({ closed }) => !closed);
  const offersOf = new Map(waiting.map((group) => [group.id, offersFor(db(), group, timetable)]));
  return {
    divided: division?.at ?? null,
    timetabled: Boolean(timetable?.planned),
    moves: isOnTheMove(timetable),
    held: calibration(db(), at),
    restsOn: [...new Set([...offersOf.values()].flatMap(({ restsOn }) => restsOn))],
    groups: groups.map((group) => {
      const { id, name, need, wanted, least, by, closed } = group;
      const offers = offersOf.get(id)?.offers ?? [];
      return {
        id,
        name,
        need: needs.get(need) ?? need,
        wanted,
        least,
        by,
        closed,
        over: isOver(group, at),
        got: given.get(id) ?? 0,
        toCome: toComeFor(db(), group).length,
        told: promises.findLast(({ grp, outcome }) => grp === id && outcome !== "back") ?? null,
        share: division?.devices.filter(({ grp }) => grp === id).length ?? null,
        enough: offers.at(0)?.chance ?? null,
        all: offers.at(-1)?.chance ?? null,
        sure: offers.at(-1)?.sure ?? null,
      };
    }),
  };
}

export default function Groups({
  loaderData: { groups, divided, timetabled, moves, restsOn, held },
}: Route.ComponentProps) {
  useFollowed(moves);
  return (
    <>
      <title>Groups · Upshift Lane</title>
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h1>Groups</h1>
        <div className="flex flex-wrap gap-2">
          <Link to="/division" className="btn">
            Divide the devices
          </Link>
          <Link to="/groups/new" className="btn-main">
            Another group
          </Link>
        </div>
      </div>
      <p className="my-2 max-w-3xl">
        Who waits for devices: what they need, how many, by which day.{" "}
        {divided
          ? `The odds are those of the division of ${dateText(divided)}${timetabled ? " and the timetable, played through 2,000 times" : ""}: they follow what device, bench and donors say.`
          : "Nothing is divided yet."}
      </p>
      <RestsOn says={restsOn} />
      {groups.length === 0 ? (
        <p className="sheet mt-3 max-w-3xl">
          No group is written down. <Link to="/groups/new">Write down the first one</Link>: the lane then says which of
          your devices can go to them, and how likely they are ready on the day.
        </p>
      ) : (
        <Scroll label="Groups">
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">Group</th>
                <th scope="col">Needs</th>
                <th scope="col" className="n">
                  Asked for
                </th>
                <th scope="col" className="n">
                  At least
                </th>
                <th scope="col">By</th>
                <th scope="col" className="n">
                  Handed over
                </th>
                <th scope="col">Told</th>
                <th scope="col" className="n">
                  Divided to them
                </th>
                <th scope="col" className="n">
                  That many by then
                </th>
                <th scope="col" className="n">
                  All by then
                </th>
                <th scope="col">All: sure nine in ten by</th>
              </tr>
            </thead>
            <tbody>
              {groups.map(
                ({ id, name, need, wanted, least, by, closed, over, share, got, toCome, told, enough, all, sure }) => (
                  <tr key={id}>
                    <td>
                      <Link to={`/groups/${id}`} className="font-bold">
                        {name}
                      </Link>
                      {closed && <span className="hint"> closed</span>}
                    </td>
                    <td>{need}</td>
                    <td className="n">{wanted}</td>
                    <td className="n">{least}</td>
                    <td className="whitespace-nowrap">{dateText(by)}</td>
                    <td className="n">{got}</td>
                    <td>
                      {told
                        ? `${told.count}, ${told.outcome === "open" ? chanceText(told.chance) : OUTCOME_WORDS[told.outcome]}`
                        : "–"}
                    </td>
                    <td className="n">{share === null ? "–" : countText(share, "device")}</td>
                    <td className="n">
                      {enough === null ? "–" : sureText(least, got, over ? LATE : chanceText(enough))}
                    </td>
                    <td className="n">
                      {all === null ? "–" : sureText(wanted, got, over ? LATE : allText(wanted, got + toCome, all))}
                    </td>
                    <td className="whitespace-nowrap">{sure === null ? "–" : dateText(sure)}</td>
                  </tr>
                ),
              )}
            </tbody>
          </table>
        </Scroll>
      )}
      {held.brier !== null && (
        <section className="sheet mt-4 max-w-3xl" aria-labelledby="held">
          <h2 id="held">How well promises held</h2>
          <p className="mt-2">
            {held.kept} of {countText(held.of, "promise")} that {held.of === 1 ? "is" : "are"} settled{" "}
            {held.kept === 1 ? "was" : "were"} kept. Brier score <strong>{held.brier.toFixed(2)}</strong>: 0 is never
            wrong and never in doubt, 0.25 is always saying one half.
          </p>
          <table className="rows mt-2">
            <thead>
              <tr>
                <th scope="col">Told as</th>
                <th scope="col" className="n">
                  Promises
                </th>
                <th scope="col" className="n">
                  Told, on average
                </th>
                <th scope="col" className="n">
                  Kept
                </th>
              </tr>
            </thead>
            <tbody>
              {held.bins.map(({ from, to, of, promised, kept }) => (
                <tr key={from}>
                  <td>
                    {Math.round(100 * from)} to {Math.round(100 * to)} %
                  </td>
                  <td className="n">{of}</td>
                  <td className="n">{Math.round(100 * promised)} %</td>
                  <td className="n">{Math.round(100 * kept)} %</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </>
  );
}
