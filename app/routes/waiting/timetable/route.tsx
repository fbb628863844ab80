import { data } from "react-router";
import { now as houseNow } from "~/app/server/http/clock";
import { db, handOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { placedDevices } from "~/app/server/planning/lane";
import { letPieceGo, putPiece } from "~/app/server/timetable/pin";
import { clockOf, minuteOf, timeOf } from "~/app/server/timetable/times";
import { followTimetable, isOnTheMove, startTimetable } from "~/app/server/timetable/timetable";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { useFollowed } from "~/app/ui/useFollowed";
import { countText, dateText, minutesText, timeText, weekdayText } from "~/app/ui/words";
import { timetables } from "~/store/drafts";
import { piecePins } from "~/store/piecePins";
import type { Route } from "./+types/route";
import { EveningDrawing } from "./EveningDrawing";
import { EveningList } from "./EveningList";
import { PutForm } from "./PutForm";
import { keyOf, pieceOf, shownEvenings } from "./shown";

/** How wide an evening is drawn: as it fits, and in twos from there. */
const ZOOMS = [1, 2, 4];

export function loader({ request }: Route.LoaderArgs) {
  const standing = followTimetable(db(), houseNow(db()));
  if (!standing) return { standing: null };
  const { planned, left, state, at, by, stale, says } = standing;
  const tags = new Map(placedDevices(db(), null).map((device) => [device.standing.id, device.standing.tag]));
  const pinned = new Set(piecePins(db()).map(({ device, ends }) => keyOf(tags.get(device) ?? "", ends)));
  const all = shownEvenings(standing, pinned);
  const { searchParams } = new URL(request.url);
  const day = all.find((evening) => evening.day === searchParams.get("day"))?.day ?? null;
  const zoom = ZOOMS.find((each) => String(each) === searchParams.get("zoom")) ?? 1;
  const end = planned?.pieces.length ? planned.end : null;
  const nothingLeft = planned !== null && planned.pieces.length + planned.noRoom.length === 0;
  return {
    standing: {
      day,
      zoom,
      days: all.map((evening) => evening.day),
      pinsLate: planned?.pinsLate ?? 0,
      fetches: (planned?.fetches ?? []).map(({ file, from, to }) => ({
        file,
        begins: planned ? `${dateText(timeOf(planned.day, from).toISOString())}, ${clockOf(planned.day, from)}` : "",
        minutes: to - from,
      })),
      state,
      moves: isOnTheMove(standing),
      at,
      by,
      stale,
      says,
      nothingLeft,
      evenings: day ? all.filter((evening) => evening.day === day) : all,
      now: planned ? minuteOf(planned.day, houseNow(db())) : 0,
      devices: new Set(planned?.pieces.map(({ device }) => device)).size,
      pieces: planned?.pieces.length ?? 0,
      end:
        end === null || !planned
          ? null
          : `${dateText(timeOf(planned.day, end).toISOString())}, ${clockOf(planned.day, end)}`,
      soonest:
        !planned || end === null
          ? null
          : planned.soonest >= end
            ? null
            : dateText(timeOf(planned.day, planned.soonest).toISOString()) +
              ", " +
              clockOf(planned.day, planned.soonest),
      late: planned?.late ?? [],
      noRoom: planned?.noRoom ?? [],
      tardiness: planned ? { value: planned.tardiness, bound: planned.tardinessBound } : null,
      left: [...left, ...(planned?.left ?? [])],
      people: [...new Set(planned?.pieces.flatMap(({ volunteer }) => (volunteer ? [volunteer] : [])))].sort(),
    },
  };
}

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request);
  const wrong = act(form, request);
  const { search } = new URL(request.url);
  return wrong ? data({ says: wrong }, { status: 409 }) : leadOn(`/timetable${search}`);
}

/** @returns what is wrong in words, or null */
function act(form: FormData, request: Request): string | null {
  const hand = handOf(request);
  const field = (name: string) => String(form.get(name) ?? "");
  switch (field("what")) {
    case "stop":
      return timetables.halt(db()) ? null : "Nothing is being worked out";
    case "work":
      return startTimetable(db(), hand);
    case "put":
      return putPiece(db(), { ...pieceOf(field("piece")), volunteer: field("volunteer"), start: field("start") }, hand);
    case "free":
      return letPieceGo(db(), pieceOf(field("piece")), hand);
    default:
      return "There is nothing to do by that name. Reload the page";
  }
}

const BEFORE_ITS_END = { running: "", done: "", stopped: ", and stopped before its end", failed: ", and broken off" };

export default function Timetable({ loaderData: { standing }, actionData }: Route.ComponentProps) {
  const running = standing?.state === "running";
  useFollowed(standing?.moves ?? false);
  return (
    <>
      <title>Timetable · Upshift Lane</title>
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h1>Timetable</h1>
        <Form method="post" className="no-print">
          <input type="hidden" name="what" value={running ? "stop" : "work"} />
          <button type="submit" className={standing && !standing.stale ? "btn" : "btn-main"}>
            {running ? "Stop here" : standing ? "Work it out again" : "Work the timetable out"}
          </button>
        </Form>
      </div>
      <p className="my-2 max-w-3xl">
        Who does what on which evening: groups' days first, then everybody done soon. Solid is work by hand; hatched
        runs by itself, and whoever began it minds it; what waits is a thin line. The first of every build is its pilot:
        the others wait for its checkout. It follows what is written at the bench and at Clearance; work by hand can be
        carried to other hands or another time, and everything else gives way.
      </p>
      {actionData && <Notice kind="wrong">{actionData.says}.</Notice>}
      {standing && (
        <>
          <p className="my-2" role="status">
            {running
              ? "It is being worked out; what stands here is the best so far."
              : `${standing.state === "failed" ? "Begun" : "Worked out"} at ${timeText(standing.at)}, by ${standing.by}${BEFORE_ITS_END[standing.state]}.`}{" "}
            {standing.end ? (
              <>
                {countText(standing.devices, "device")} in {countText(standing.pieces, "piece")} of work, done by{" "}
                <strong>{standing.end}</strong>
                {standing.soonest ? `; before ${standing.soonest} it can't be.` : ": sooner it can't be."}
              </>
            ) : (
              standing.nothingLeft && !running && "Nothing is left to do that may be begun."
            )}
          </p>
          {standing.says && <Notice kind="caution">{standing.says}.</Notice>}
          {standing.stale && !standing.moves && (
            <Notice kind="caution">Something was written since that bears on it. Work it out again.</Notice>
          )}
          {standing.late.length > 0 && (
            <Notice kind="caution">
              Behind their day:{" "}
              {standing.late.map(({ device, minutes }) => `${device} by ${minutesText(minutes)}`).join(", ")}.
              {standing.tardiness && standing.tardiness.bound > 0 && " Not all of it can be saved, whatever the order."}
            </Notice>
          )}
          {standing.noRoom.length > 0 && (
            <Notice kind="caution">
              No time was found before the last evening that is known for {standing.noRoom.join(", ")}. Another evening,
              or another volunteer, would make it possible.
            </Notice>
          )}
          {standing.pinsLate > 0 && (
            <Notice kind="caution">
              {countText(standing.pinsLate, "pinned piece")} can't begin when{" "}
              {standing.pinsLate === 1 ? "it was" : "they were"} pinned: something before{" "}
              {standing.pinsLate === 1 ? "it" : "them"} is not done by then.
            </Notice>
          )}
          {standing.people.length > 0 && (
            <p className="no-print my-2 flex flex-wrap gap-3">
              <a href="/timetable.ics">All as a calendar</a>
              {standing.people.map((name) => (
                <a key={name} href={`/timetable.ics?who=${encodeURIComponent(name)}`}>
                  {name}
                </a>
              ))}
            </p>
          )}
          <Look {...standing} />
          {standing.evenings.map((evening, place) => (
            <section
              key={evening.day}
              className={`sheet mt-4 ${place > 0 ? "break-before-page" : ""}`}
              aria-labelledby={`evening-${evening.day}`}
            >
              <h2 id={`evening-${evening.day}`}>{weekdayText(evening.day)}</h2>
              <EveningDrawing evening={evening} now={standing.now} zoom={standing.zoom} />
              <details className="mt-2 print:hidden">
                <summary>The same as a list</summary>
                <EveningList rows={evening.rows} />
              </details>
              <div className="hidden print:block">
                <EveningList rows={evening.rows} />
              </div>
            </section>
          ))}
          {standing.evenings.length > 0 && <PutForm evenings={standing.evenings} people={standing.people} />}
          {standing.fetches.length > 0 && (
            <section className="sheet mt-4" aria-labelledby="fetches">
              <h2 id="fetches">To fetch before their first use</h2>
              <p className="hint">
                Nobody has looked at these files here yet. In this order they take{" "}
                {minutesText(standing.fetches.reduce((sum, { minutes }) => sum + minutes, 0))} over the line;{" "}
                <Link to="/prepare">the preparation</Link> has their addresses and digests.
              </p>
              <ol className="mt-2 list-decimal pl-6">
                {standing.fetches.map(({ file, begins, minutes }) => (
                  <li key={file}>
                    <span className="font-mono text-sm break-all">{file}</span>, from {begins}, {minutesText(minutes)}
                  </li>
                ))}
              </ol>
            </section>
          )}
          {standing.left.length > 0 && (
            <section className="sheet mt-4" aria-labelledby="left">
              <h2 id="left">Left out, and why</h2>
              <ul className="mt-2 list-disc pl-5">
                {standing.left.map(({ device, says }) => (
                  <li key={device}>
                    <Link to={`/devices/${device}`}>{device}</Link>: {says}.
                  </li>
                ))}
              </ul>
            </section>
          )}
        </>
      )}
    </>
  );
}

/** Which evenings are shown, how wide, and on paper. */
function Look({ day, days, zoom }: { day: string | null; days: readonly string[]; zoom: number }) {
  if (days.length === 0) return null;
  const to = (next: { day?: string | null; zoom?: number }) => {
    const at = { day, zoom, ...next };
    return `?${new URLSearchParams({ ...(at.day ? { day: at.day } : {}), ...(at.zoom > 1 ? { zoom: String(at.zoom) } : {}) })}`;
  };
  const here = (is: boolean) => (is ? ({ "aria-current": "true" } as const) : {});
  return (
    <nav aria-label="Evenings" className="no-print my-2 flex flex-wrap items-center gap-3">
      <Link to={to({ day: null })} {...here(day === null)} className="aria-[current]:font-bold">
        All evenings
      </Link>
      {days.map((each) => (
        <Link key={each} to={to({ day: each })} {...here(day === each)} className="aria-[current]:font-bold">
          {weekdayText(each)}
        </Link>
      ))}
      <span className="hint">drawn</span>
      {ZOOMS.map((each) => (
        <Link
          key={each}
          to={to({ zoom: each })}
          {...here(zoom === each)}
          className="aria-[current]:font-bold"
          preventScrollReset
        >
          {each === 1 ? "as it fits" : `${each} times as wide`}
        </Link>
      ))}
      <button type="button" className="btn" onClick={() => window.print()}>
        Print
      </button>
    </nav>
  );
}
