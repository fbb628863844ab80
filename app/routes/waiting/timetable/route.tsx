import { data, Link } from "react-router";
import { now as houseNow } from "~/app/server/http/clock";
import { db, handOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { standingTimetable, startTimetable } from "~/app/server/timetable/timetable";
import { Form } from "~/app/ui/Form";
import { Notice } from "~/app/ui/Notice";
import { useWatch } from "~/app/ui/useWatch";
import { countText, dateText, minutesText, timeText } from "~/app/ui/words";
import { timetables } from "~/store/drafts";
import type { Route } from "./+types/route";
import { EveningDrawing } from "./EveningDrawing";
import { clockOf, shownEvenings, timeOf } from "./shown";

export function loader() {
  const standing = standingTimetable(db());
  if (!standing) return { standing: null };
  const { planned, left, state, at, by, stale, says } = standing;
  const evenings = shownEvenings(standing);
  const end = planned?.pieces.length ? planned.end : null;
  return {
    standing: {
      state,
      at,
      by,
      stale,
      says,
      evenings,
      now: planned ? (houseNow(db()).getTime() - timeOf(planned.day, 0).getTime()) / 60_000 : 0,
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
  const wrong =
    form.get("what") === "stop"
      ? timetables.halt(db())
        ? null
        : "Nothing is being worked out"
      : startTimetable(db(), handOf(request));
  return wrong ? data({ says: wrong }, { status: 409 }) : leadOn("/timetable");
}

export default function Timetable({ loaderData: { standing }, actionData }: Route.ComponentProps) {
  const running = standing?.state === "running";
  useWatch(running);
  return (
    <>
      <title>Timetable · Upshift Lane</title>
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h1>Timetable</h1>
        <Form method="post">
          <input type="hidden" name="what" value={running ? "stop" : "work"} />
          <button type="submit" className={standing && !standing.stale ? "btn" : "btn-main"}>
            {running ? "Stop here" : standing ? "Work it out again" : "Work the timetable out"}
          </button>
        </Form>
      </div>
      <p className="my-2 max-w-3xl">
        Who does what on which evening: groups' days first, then everybody done soon. Solid is work by hand; hatched
        runs by itself, and whoever began it minds it. The first of every build is its pilot: the others wait for its
        checkout.
      </p>
      {actionData && <Notice kind="wrong">{actionData.says}.</Notice>}
      {standing && (
        <>
          <p className="my-2" role="status">
            {running
              ? "It is being worked out; what stands here is the best so far."
              : `Worked out at ${timeText(standing.at)}, by ${standing.by}${standing.state === "stopped" ? ", and stopped before its end" : ""}.`}{" "}
            {standing.end && (
              <>
                {countText(standing.devices, "device")} in {countText(standing.pieces, "piece")} of work, done by{" "}
                <strong>{standing.end}</strong>
                {standing.soonest ? `; before ${standing.soonest} it can't be.` : ": sooner it can't be."}
              </>
            )}
          </p>
          {standing.says && <Notice kind="caution">{standing.says}.</Notice>}
          {standing.stale && !running && (
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
          {standing.people.length > 0 && (
            <p className="my-2 flex flex-wrap gap-3">
              <a href="/timetable.ics">All as a calendar</a>
              {standing.people.map((name) => (
                <a key={name} href={`/timetable.ics?who=${encodeURIComponent(name)}`}>
                  {name}
                </a>
              ))}
            </p>
          )}
          {standing.evenings.map((evening) => (
            <EveningDrawing key={evening.day} evening={evening} now={standing.now} />
          ))}
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
