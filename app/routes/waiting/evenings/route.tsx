import { data } from "react-router";
import { dayOf, now } from "~/app/server/http/clock";
import { db, handOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { addDaysOff } from "~/app/server/timetable/addDaysOff";
import { Form } from "~/app/ui/Form";
import { Notice } from "~/app/ui/Notice";
import { useMay } from "~/app/ui/useMay";
import { weekdayText } from "~/app/ui/words";
import { eveningsBetween } from "~/core/schedule/hours";
import { eveningsOf, Volunteer } from "~/core/schedule/volunteer";
import { WAYS } from "~/core/ways/registry";
import { StaleEdit } from "~/store/database";
import { addVolunteer, changeVolunteer, listVolunteers, readOpening, saveOpening } from "~/store/evenings";
import type { Route } from "./+types/route";
import { OpeningForm } from "./OpeningForm";
import { lines, readOpeningText, type Wrong } from "./readOpening";
import { VolunteerFields } from "./VolunteerFields";

/** Days looked ahead. */
const AHEAD = 28;
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
      hours: opening.hours
        .map(({ rule, from: at, minutes, since }) => [rule, at, minutes, ...(since ? [since] : [])].join(" "))
        .join("\n"),
      closed: opening.closed.join("\n"),
      line: opening.line === null ? "" : String(opening.line),
    },
    evenings: evenings.map((evening) => ({
      ...evening,
      who: coming.filter((each) => eveningsOf(each, [evening]).length > 0).map(({ name }) => name),
    })),
    volunteers,
    ways: WAYS.map(({ id, says }) => ({ id, says })),
  };
}

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request);
  const text = (name: string) => String(form.get(name) ?? "").trim();
  const what = text("what");
  const id = Number(form.get("id") ?? 0);
  const typed = {
    hours: text("hours"),
    closed: text("closed"),
    line: text("line"),
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
    data({ what, id, says, told: "", wrong, typed, days, ways }, { status });
  try {
    if (what === "opening") {
      const read = readOpeningText(typed.hours, typed.closed, typed.line);
      if ("wrong" in read) return refuse("Look at what is marked. Nothing was changed", read.wrong);
      saveOpening(db(), read.opening, Number(form.get("version")), handOf(request));
      return leadOn("/evenings");
    }
    if (what === "days-off") {
      const answer = await addDaysOff(form.get("calendar"), Number(form.get("version")), handOf(request));
      return data({ what, id, wrong: {}, typed, days, ways, ...answer }, { status: answer.says ? 400 : 200 });
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

export default function Evenings({ loaderData, actionData }: Route.ComponentProps) {
  const may = useMay();
  const { evenings, volunteers, typed, version, ways } = loaderData;
  const opened = actionData?.what === "opening" ? actionData : null;
  return (
    <>
      <title>Evenings · Upshift Lane</title>
      <h1>Evenings</h1>
      <p className="my-2 max-w-3xl">
        When the house is open, and who comes. The division counts on no more minutes of hands than there are until a
        group's day, and what only some may do waits for theirs.
      </p>
      {actionData?.says && <Notice kind="wrong">{actionData.says}.</Notice>}
      {actionData?.told && <Notice kind="done">{actionData.told}.</Notice>}
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
                    <td className="whitespace-nowrap">{weekdayText(day)}</td>
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
          <OpeningForm typed={opened?.typed ?? typed} wrong={opened?.wrong ?? {}} version={version} />
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
              <Form method="post" readable className="mt-2 space-y-3">
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
        {may("POST") && (
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
        )}
      </div>
    </>
  );
}
