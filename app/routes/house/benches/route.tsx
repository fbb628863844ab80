import { data } from "react-router";
import { db, handOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Notice } from "~/app/ui/Notice";
import { BenchFields, HOSTS, hostOfHouse, hostWords } from "~/core/lane/bench";
import { addBench, changeBench, listBenches } from "~/store/benches";
import { StaleEdit } from "~/store/database";
import { readPolicy } from "~/store/policy";
import type { Route } from "./+types/route";

export function loader() {
  const benches = listBenches(db());
  const { host } = readPolicy(db()).policy;
  return {
    benches,
    says: hostWords(
      hostOfHouse(
        benches.filter((b) => !b.closed),
        host,
      ),
    ),
  };
}

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request);
  const text = (name: string) => String(form.get(name) ?? "");
  const kept = Object.fromEntries(FIELDS.map((name) => [name, text(name)]));
  const id = Number(form.get("id") ?? 0);
  const refuse = (says: string, wrong: Readonly<Record<string, string>> = {}, status = 400) =>
    data({ says, wrong, kept, id }, { status });
  const read = BenchFields.safeParse(kept);
  if (!read.success)
    return refuse(
      "Look at what is marked. Nothing was changed",
      Object.fromEntries(read.error.issues.map((i) => [String(i.path[0]), i.message])),
    );
  try {
    const wrong =
      id === 0
        ? addBench(db(), read.data, handOf(request))
        : changeBench(
            db(),
            id,
            Number(form.get("version")),
            { ...read.data, closed: form.get("closed") === "yes" },
            handOf(request),
          );
    return wrong ? refuse(wrong, { name: wrong }, 409) : leadOn("/benches");
  } catch (error) {
    if (error instanceof StaleEdit) return refuse(error.message, {}, 409);
    throw error;
  }
}

const FIELDS = ["name", "host", "places", "leads", "chargers", "cards", "sticks"] as const;
type Typed = Readonly<Partial<Record<string, string>>>;

export default function Benches({ loaderData, actionData }: Route.ComponentProps) {
  const { benches, says } = loaderData;
  const of = (id: number) => (actionData?.id === id ? actionData : null);
  return (
    <>
      <title>Benches · Upshift Lane</title>
      <h1>Benches</h1>
      <p className="my-2 max-w-3xl">
        What stands at a bench decides what can be done there: a way over a lead needs a computer or a second phone. A
        way is open when one bench can go it, and its sheet is written for the bench at which it is begun. Together they
        work with <strong>{says}</strong>
        {benches.length === 0 && ", as the house policy says while no bench is written down"}.
      </p>
      {actionData?.says && <Notice kind="wrong">{actionData.says}.</Notice>}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-4 lg:grid-cols-2">
        {benches.map((b) => (
          <section key={`${b.id} ${b.version}`} className="sheet" aria-labelledby={`bench-${b.id}`}>
            <h2 id={`bench-${b.id}`}>
              {b.name} {b.closed ? <span className="hint">closed</span> : null}
            </h2>
            <Form method="post" className="mt-2">
              <input type="hidden" name="id" value={b.id} />
              <input type="hidden" name="version" value={b.version} />
              <Fields typed={of(b.id)?.kept ?? toText(b)} wrong={of(b.id)?.wrong ?? {}} />
              <label className="mt-3 flex items-center gap-2">
                <input type="checkbox" name="closed" value="yes" defaultChecked={b.closed === 1} /> Closed: nothing is
                begun here
              </label>
              <button type="submit" className="btn mt-3">
                Save<span className="sr-only"> {b.name}</span>
              </button>
            </Form>
          </section>
        ))}
        <section className="sheet" aria-labelledby="new">
          <h2 id="new">{benches.length ? "Another bench" : "The first bench"}</h2>
          <Form method="post" className="mt-2">
            <Fields
              typed={of(0)?.kept ?? { host: "computer", places: "4", leads: "4", chargers: "4" }}
              wrong={of(0)?.wrong ?? {}}
            />
            <button type="submit" className="btn-main mt-3">
              Write it down
            </button>
          </Form>
        </section>
      </div>
    </>
  );
}

const toText = (bench: Readonly<Record<(typeof FIELDS)[number], string | number | null>>): Typed =>
  Object.fromEntries(FIELDS.map((name) => [name, String(bench[name] ?? "")]));

const COUNTS: readonly { readonly name: string; readonly label: string; readonly hint?: string }[] = [
  { name: "places", label: "Places for devices" },
  { name: "leads", label: "Leads" },
  { name: "chargers", label: "Chargers" },
  { name: "cards", label: "Cards", hint: "Empty: not counted" },
  { name: "sticks", label: "Sticks", hint: "Empty: not counted" },
];

function Fields({ typed, wrong }: { typed: Typed; wrong: Typed }) {
  return (
    <div className="grid grid-cols-6 gap-3">
      <TextField
        className="col-span-3"
        label="Name"
        name="name"
        maxLength={60}
        required
        defaultValue={typed.name}
        wrong={wrong.name}
      />
      <ChoiceField
        className="col-span-3"
        label="Works with"
        name="host"
        defaultValue={typed.host}
        options={HOSTS.map((h) => ({ value: h.value, text: h.says }))}
        wrong={wrong.host}
      />
      {COUNTS.map(({ name, label, hint }) => (
        <TextField
          key={name}
          className="col-span-2"
          label={label}
          hint={hint}
          name={name}
          inputMode="numeric"
          defaultValue={typed[name]}
          wrong={wrong[name]}
        />
      ))}
    </div>
  );
}
