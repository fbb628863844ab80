import { parseISO } from "date-fns";
import { useEffect, useRef, useState } from "react";
import { Link, useRevalidator } from "react-router";
import { clockOf, timeOf } from "~/app/routes/waiting/timetable/shown";
import { now as houseNow } from "~/app/server/http/clock";
import { db, personOf } from "~/app/server/http/context";
import { laneRevision } from "~/app/server/http/news";
import { placedDevices } from "~/app/server/planning/lane";
import { followTimetable } from "~/app/server/timetable/timetable";
import { Form } from "~/app/ui/Form";
import { useLive } from "~/app/ui/useLive";
import { countText } from "~/app/ui/words";
import type { PlannedPiece } from "~/core/schedule/planned";
import { type Progress, tonightOf } from "~/core/schedule/tonight";
import { stepsOf } from "~/store/runs";
import type { Route } from "./+types/route";

export function loader({ request }: Route.LoaderArgs) {
  const standing = followTimetable(db(), houseNow(db()));
  const revision = laneRevision();
  const planned = standing?.planned;
  if (!planned) return { people: [], who: "", tonight: null, stale: false, revision };
  const people = [...new Set(planned.pieces.flatMap(({ volunteer }) => (volunteer ? [volunteer] : [])))].sort();
  const asked = new URL(request.url).searchParams.get("who");
  const own = personOf(request);
  const who = asked && people.includes(asked) ? asked : people.includes(own) ? own : (people[0] ?? "");
  const zero = timeOf(planned.day, 0).getTime();
  const minuteOf = (iso: string) => (parseISO(iso).getTime() - zero) / 60_000;
  const devices = new Map(placedDevices(db(), null).map((device) => [device.standing.tag, device]));
  const progressOf = (tag: string): Progress => {
    const device = devices.get(tag);
    if (!device || device.station === "records" || device.station === "aside")
      return { done: 0, at: null, over: true, finished: true };
    const { done, station, standing: row } = device;
    const last = done > 0 && row.run ? stepsOf(db(), row.run).findLast(({ outcome }) => outcome === "done") : undefined;
    return { done, at: last ? minuteOf(last.at) : null, over: false, finished: station === "checkout" };
  };
  const now = minuteOf(houseNow(db()).toISOString());
  const tonight = tonightOf(planned.pieces, progressOf, who, now);
  const shown = (piece: PlannedPiece) => {
    const device = devices.get(piece.device);
    const accepted = device?.station === "bench" || device?.station === "checkout";
    return {
      device: piece.device,
      title: piece.title,
      bench: piece.bench,
      begins: clockOf(planned.day, piece.from),
      ends: clockOf(planned.day, piece.to),
      stays: piece.kind === "watched",
      to:
        piece.steps === null
          ? `/checkout/${piece.device}`
          : accepted
            ? `/bench/${piece.device}`
            : `/devices/${piece.device}/ways`,
      accepted,
    };
  };
  return {
    people,
    who,
    stale: standing.stale,
    revision,
    tonight: {
      next: tonight.next && shown(tonight.next),
      late: tonight.late,
      later: tonight.later.slice(0, 5).map(shown),
      waits: tonight.waits.length,
      running: tonight.running.map(({ piece, until }) => ({
        ...shown(piece),
        until: clockOf(planned.day, until),
        left: Math.max(0, Math.ceil(until - now)),
      })),
    },
  };
}

/** Looks again now and then: what can be left alone gets due without anybody writing anything. */
const LOOK_MS = 20_000;

/** Rings once when something gets due that was not due before; only after somebody asked for it. */
function useBell(due: boolean, on: boolean) {
  const was = useRef(due);
  useEffect(() => {
    if (on && due && !was.current) ring();
    was.current = due;
  }, [due, on]);
}

function ring() {
  navigator.vibrate?.(300);
  const audio = new AudioContext();
  const tone = audio.createOscillator();
  tone.frequency.value = 880;
  tone.connect(audio.destination);
  tone.onended = () => audio.close();
  tone.start();
  tone.stop(audio.currentTime + 0.4);
}

export default function TonightPage({ loaderData }: Route.ComponentProps) {
  const { people, who, tonight, stale, revision } = loaderData;
  const { revalidate } = useRevalidator();
  const [bell, setBell] = useState(false);
  useLive(true, revision);
  useEffect(() => {
    const timer = setInterval(revalidate, LOOK_MS);
    return () => clearInterval(timer);
  }, [revalidate]);
  useBell(Boolean(tonight?.running.some(({ left }) => left === 0)), bell);
  return (
    <>
      <title>Tonight · Upshift Lane</title>
      <h1>Tonight</h1>
      {tonight === null ? (
        <p className="sheet mt-3 max-w-3xl">
          There is no timetable yet. <Link to="/timetable">Work it out</Link>: this page then says what is next for
          whose hands.
        </p>
      ) : (
        <div className="max-w-xl">
          <Form method="get" className="my-2 flex flex-wrap items-end gap-2">
            <label>
              <span className="label">Whose hands</span>
              <select name="who" className="field" defaultValue={who} key={who}>
                {people.map((name) => (
                  <option key={name}>{name}</option>
                ))}
              </select>
            </label>
            <button type="submit" className="btn">
              Show
            </button>
            <label className="flex items-center gap-2 pb-2">
              <input type="checkbox" checked={bell} onChange={(event) => setBell(event.target.checked)} /> Ring when one
              is due
            </label>
          </Form>
          {stale && (
            <p className="hint my-2">
              Something was written since the timetable was made; what is done counts here all the same.
            </p>
          )}
          <section className="sheet" aria-labelledby="next">
            <h2 id="next">Next</h2>
            {tonight.next ? (
              <>
                <p className="mt-2 text-3xl font-bold">{tonight.next.device}</p>
                <p className="text-xl">{tonight.next.title}</p>
                <p className="mt-1">
                  {tonight.next.begins}–{tonight.next.ends}
                  {tonight.next.bench && `, ${tonight.next.bench}`}
                  {tonight.late > 0 && (
                    <strong className="text-signal"> · {countText(tonight.late, "minute")} late</strong>
                  )}
                </p>
                <Link to={tonight.next.to} className="btn-main mt-3 block text-center text-xl">
                  {tonight.next.accepted ? "Do it" : "Accept its way first"}
                </Link>
              </>
            ) : (
              <p className="mt-2">
                Nothing is left for these hands{tonight.waits > 0 ? " until something else is done" : ""}.
              </p>
            )}
          </section>
          <section className="sheet mt-3" aria-labelledby="running">
            <h2 id="running">Runs by itself</h2>
            {tonight.running.length === 0 ? (
              <p className="mt-2">Nothing at the moment.</p>
            ) : (
              <ul className="mt-2">
                {tonight.running.map(({ device, title, until, left, stays }) => (
                  <li key={device} className="border-t border-rule py-2">
                    <span className="text-xl font-bold">{device}</span> {title}
                    <span className={`block ${left === 0 ? "text-signal font-bold" : ""}`}>
                      {left === 0 ? "due now" : `can be left until ${until}, ${countText(left, "minute")}`}
                      {stays && ": stay near it"}
                    </span>
                  </li>
                ))}
              </ul>
            )}
          </section>
          {tonight.later.length > 0 && (
            <section className="sheet mt-3" aria-labelledby="later">
              <h2 id="later">After that</h2>
              <ul className="mt-2">
                {tonight.later.map(({ device, title, begins }) => (
                  <li key={`${device} ${begins}`} className="border-t border-rule py-2">
                    {begins} <span className="font-bold">{device}</span> {title}
                  </li>
                ))}
              </ul>
            </section>
          )}
        </div>
      )}
    </>
  );
}
