import { data } from "react-router";
import { dayOf, now } from "~/app/server/http/clock";
import { db, handOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { AreaField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Notice } from "~/app/ui/Notice";
import { countText, dateText } from "~/app/ui/words";
import { eveningsBetween, Opening } from "~/core/schedule/hours";
import { eveningsOf, Volunteer } from "~/core/schedule/volunteer";
import { WAYS } from "~/core/ways/registry";
import { StaleEdit } from "~/store/database";
import { addVolunteer, changeVolunteer, listVolunteers, readOpening, saveOpening } from "~/store/evenings";
import type { Route } from "./+types/route";

/** Days looked ahead. */
const AHEAD = 28;
const DAYS = [
  ["MO", "Mon"],
  ["TU", "Tue"],
  ["WE", "Wed"],
  ["TH", "Thu"],
  ["FR", "Fri"],
  ["SA", "Sat"],
  ["SU", "Sun"],
] as const;

export function loader() {
  const { opening, version } = readOpening(db());
  const from = now(db());
  const to = new Date(from.getTime() + AHEAD * 86_400_000);
  const evenings = eveningsBetween(opening, dayOf(from), dayOf(to));
  const volunteers = listVolunteers(db());
  const coming = volunteers.filter(({ closed }) => !closed);
  return {
    version,
    typed: {
      hours: opening.hours.map(({ rule, from: at, minutes }) => `${rule} ${at} ${minutes}`).join("\n"),
      closed: opening.closed.join("\n"),
    },
    evenings: evenings.map((evening) => ({
      ...evening,
      who: coming.filter((each) => eveningsOf(each, [evening]).length > 0).map(({ name }) => name),
    })),
    volunteers,
    ways: WAYS.map(({ id, says }) => ({ id, says })),
  };
}

type Wrong = Readonly<Record<string, string>>;

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request);
  const text = (name: string) => String(form.get(name) ?? "").trim();
  const what = text("what");
  const id = Number(form.get("id") ?? 0);
  const typed = {
    hours: text("hours"),
    closed: text("closed"),
    name: text("name"),
    minds: text("minds"),
    away: text("away"),
  };
  const days = form.getAll("days").map(String);
  const known = new Set<string>(WAYS.map(({ id }) => id));
  const ways = form
    .getAll("ways")
    .map(String)
    .filter((id) => known.has(id));
  const refuse = (says: string, wrong: Wrong = {}, status = 400) =>
    data({ what, id, says, wrong, typed, days, ways }, { status });
  try {
    if (what === "opening") {
      const read = readOpeningText(typed.hours, typed.closed);
      if ("wrong" in read) return refuse("Look at what is marked. Nothing was changed", read.wrong);
      saveOpening(db(), read.opening, Number(form.get("version")), handOf(request));
      return leadOn("/evenings");
    }
    const read = Volunteer.safeParse({ name: typed.name, minds: typed.minds, days, ways, away: lines(typed.away) });
    if (!read.success)
      return refuse(
        "Look at what is marked. Nothing was changed",
        Object.fromEntries(read.error.issues.map(({ path, message }) => [String(path[0]), message])),
      );
    const kept = { id, version: Number(form.get("version")), closed: form.get("closed") === "yes" };
    const wrong =
      id === 0
        ? addVolunteer(db(), read.data, handOf(request))
        : changeVolunteer(db(), kept, read.data, handOf(request));
    return wrong ? refuse(wrong, { name: wrong }, 409) : leadOn("/evenings");
  } catch (error) {
    if (error instanceof StaleEdit) return refuse(error.message, {}, 409);
    throw error;
  }
}

const lines = (text: string) =>
  text
    .split(/[\n,;]/)
    .map((line) => line.trim())
    .filter(Boolean);

/** A line is a rule, a time and minutes: FREQ=WEEKLY;BYDAY=TU,TH 18:00 180. */
function readOpeningText(hours: string, closed: string): { readonly opening: Opening } | { readonly wrong: Wrong } {
  const rows = hours
    .split("\n")
    .map((line) => line.trim())
    .filter(Boolean);
  const read = rows.map((line) => /^(\S+)\s+(\S+)\s+(\d+)$/.exec(line));
  const unread = read.findIndex((found) => !found);
  if (unread >= 0)
    return {
      wrong: { hours: `Line ${unread + 1}: write rule, time and minutes, as FREQ=WEEKLY;BYDAY=TU,TH 18:00 180` },
    };
  const opening = Opening.safeParse({
    hours: read.map((found) => ({ rule: found?.[1], from: found?.[2], minutes: found?.[3] })),
    closed: lines(closed),
  });
  if (opening.success) return { opening: opening.data };
  const wrong: Record<string, string> = {};
  for (const { path, message } of opening.error.issues) {
    const [field, row] = path;
    wrong[String(field)] ??= typeof row === "number" ? `Line ${row + 1}: ${message}` : message;
  }
  return { wrong };
}

export default function Evenings({ loaderData, actionData }: Route.ComponentProps) {
  const { evenings, volunteers, typed, version, ways } = loaderData;
  const opened = actionData?.what === "opening" ? actionData : null;
  return (
    <>
      <title>Evenings · Upshift Lane</title>
      <h1>Evenings</h1>
      <p className="my-2 max-w-3xl">
        When the house is open, and who comes. The division counts on no more minutes of hands than there are until a
        group's day.
      </p>
      {actionData?.says && <Notice kind="wrong">{actionData.says}.</Notice>}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-2">
        <section className="sheet" aria-labelledby="next">
          <h2 id="next">The next four weeks</h2>
          {evenings.length === 0 ? (
            <p className="mt-2">No evening is held: write down the opening hours.</p>
          ) : (
            <table className="rows mt-2">
              <thead>
                <tr>
                  <th scope="col">Evening</th>
                  <th scope="col">From, to</th>
                  <th scope="col">Who comes</th>
                </tr>
              </thead>
              <tbody>
                {evenings.map(({ day, from, to, who }) => (
                  <tr key={`${day} ${from}`}>
                    <td className="whitespace-nowrap">{dateText(day)}</td>
                    <td className="whitespace-nowrap">
                      {from}–{to}
                    </td>
                    <td>{who.length ? who.join(", ") : <strong className="text-signal">nobody</strong>}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </section>
        <section className="sheet" aria-labelledby="open">
          <h2 id="open">Opening hours</h2>
          <Form method="post" className="mt-2 space-y-3" key={version}>
            <input type="hidden" name="what" value="opening" />
            <input type="hidden" name="version" value={version} />
            <AreaField
              label="Hours, one rule a line"
              name="hours"
              rows={3}
              mono
              defaultValue={opened?.typed.hours ?? typed.hours}
              wrong={opened?.wrong.hours}
              hint="A repeating rule as calendars have it (RFC 5545), the time, the minutes: FREQ=WEEKLY;BYDAY=TU,TH 18:00 180"
            />
            <AreaField
              label="Closed on, one day a line"
              name="closed"
              rows={2}
              mono
              defaultValue={opened?.typed.closed ?? typed.closed}
              wrong={opened?.wrong.closed}
              hint="As 2026-12-24"
            />
            <button type="submit" className="btn-main">
              Save the hours
            </button>
          </Form>
        </section>
        {volunteers.map((volunteer) => {
          const kept = actionData?.what === "volunteer" && actionData.id === volunteer.id ? actionData : null;
          return (
            <section
              key={`${volunteer.id} ${volunteer.version}`}
              className="sheet"
              aria-labelledby={`volunteer-${volunteer.id}`}
            >
              <h2 id={`volunteer-${volunteer.id}`}>
                {volunteer.name} {volunteer.closed && <span className="hint">comes no more</span>}
              </h2>
              <Form method="post" className="mt-2 space-y-3">
                <input type="hidden" name="what" value="volunteer" />
                <input type="hidden" name="id" value={volunteer.id} />
                <input type="hidden" name="version" value={volunteer.version} />
                <VolunteerFields
                  typed={
                    kept?.typed ?? {
                      name: volunteer.name,
                      minds: String(volunteer.minds),
                      away: volunteer.away.join("\n"),
                    }
                  }
                  days={kept?.days ?? volunteer.days}
                  may={kept?.ways ?? volunteer.ways}
                  ways={ways}
                  wrong={kept?.wrong ?? {}}
                />
                <label className="flex items-center gap-2">
                  <input type="checkbox" name="closed" value="yes" defaultChecked={volunteer.closed} /> Comes no more
                </label>
                <button type="submit" className="btn">
                  Save<span className="sr-only"> {volunteer.name}</span>
                </button>
              </Form>
            </section>
          );
        })}
        <section className="sheet" aria-labelledby="new">
          <h2 id="new">{volunteers.length ? "Another volunteer" : "The first volunteer"}</h2>
          <Form method="post" className="mt-2 space-y-3">
            <input type="hidden" name="what" value="volunteer" />
            <VolunteerFields
              typed={actionData?.what === "volunteer" && actionData.id === 0 ? actionData.typed : { minds: "3" }}
              days={actionData?.what === "volunteer" && actionData.id === 0 ? actionData.days : []}
              may={actionData?.what === "volunteer" && actionData.id === 0 ? actionData.ways : []}
              ways={ways}
              wrong={actionData?.what === "volunteer" && actionData.id === 0 ? actionData.wrong : {}}
            />
            <button type="submit" className="btn-main">
              Write them down
            </button>
          </Form>
        </section>
      </div>
    </>
  );
}

function VolunteerFields({
  typed,
  days,
  may,
  ways,
  wrong,
}: {
  may: readonly string[];
  ways: readonly { readonly id: string; readonly says: string }[];
  typed: Readonly<Partial<Record<string, string>>>;
  days: readonly string[];
  wrong: Wrong;
}) {
  return (
    <>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-3 sm:grid-cols-2">
        <TextField label="Name" name="name" required maxLength={80} defaultValue={typed.name} wrong={wrong.name} />
        <TextField
          label="Devices they can mind at once"
          name="minds"
          inputMode="numeric"
          defaultValue={typed.minds}
          wrong={wrong.minds}
        />
      </div>
      <fieldset>
        <legend className="label">Comes on (none ticked: every evening)</legend>
        <span className="flex flex-wrap gap-3">
          {DAYS.map(([value, name]) => (
            <label key={value} className="flex items-center gap-1">
              <input type="checkbox" name="days" value={value} defaultChecked={days.includes(value)} /> {name}
            </label>
          ))}
        </span>
      </fieldset>
      <details open={may.length > 0}>
        <summary>
          {may.length > 0 ? `May do ${countText(may.length, "way")}` : "May do every way; tick some to narrow it"}
        </summary>
        <fieldset className="mt-2 grid grid-cols-[minmax(0,1fr)] gap-1 sm:grid-cols-2">
          <legend className="sr-only">Ways they may do (none ticked: every way)</legend>
          {ways.map(({ id, says }) => (
            <label key={id} className="flex items-start gap-2">
              <input type="checkbox" name="ways" value={id} defaultChecked={may.includes(id)} className="mt-1" /> {says}
            </label>
          ))}
        </fieldset>
      </details>
      <AreaField
        label="Away on, one day a line"
        name="away"
        rows={2}
        mono
        defaultValue={typed.away}
        wrong={wrong.away}
        hint="As 2026-12-08"
      />
    </>
  );
}
