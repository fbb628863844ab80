import { data } from "react-router";
import { db, handOf, notFound } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { refusalOf } from "~/app/server/http/refusal";
import { catalogueOf } from "~/app/server/planning/planning";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { countText, timeText } from "~/app/ui/words";
import { readPack } from "~/core/catalogue/catalogue";
import { applyPack, comparePack, type PackChoices, usualChoices } from "~/core/catalogue/packs";
import { changedByPack, dropPack, findPack, readSaid, takePack, undoPack } from "~/store/packs";
import type { Route } from "./+types/route";
import { ENTRY_PAGE, Entries, GROUPS } from "./Entries";

function packOfId(id: string) {
  const row = findPack(db(), Number(id));
  if (!row) throw notFound(`There is no pack ${id}. Look at the catalogue's packs`);
  return { row, read: readPack(row.text) };
}

export function loader({ params, request }: Route.LoaderArgs) {
  const { row, read } = packOfId(params.id);
  const { text: _text, ...pack } = row;
  const query = new URL(request.url).searchParams;
  const shown = { pack, undone: query.get("undone"), conflicts: query.get("conflicts") === "pack" ? "pack" : "here" };
  if (!read.ok) return { ...shown, unreadable: read.problems, differences: [], problems: [], same: 0, changed: [] };
  if (row.taken)
    return { ...shown, unreadable: [], differences: [], problems: [], same: 0, changed: changedByPack(db(), row.id) };
  const here = catalogueOf(db());
  const said = readSaid(db());
  const differences = comparePack(here, read.pack, said);
  // What would stand in the way is told before anybody presses the button.
  const tried = applyPack(here, read.pack, said, usualChoices(differences));
  const { models, images, needs, incompatible } = read.pack;
  const entries = models.length + images.length + needs.length + incompatible.length;
  return {
    ...shown,
    unreadable: [],
    differences,
    problems: tried.ok ? [] : tried.problems.slice(0, 20),
    same: entries - differences.filter((d) => d.standing !== "gone").length,
    changed: [],
  };
}

export async function action({ request, params }: Route.ActionArgs) {
  const { row, read } = packOfId(params.id);
  const form = await readForm(request);
  const wish = form.get("do");
  const chosen = (name: string) => form.getAll(name).map(String);
  const choices = {
    take: chosen("take"),
    // A conflict's choice stands under "way" and its key.
    packsWay: [...form].flatMap(([name, side]) => (name.startsWith("way ") && side === "pack" ? [name.slice(4)] : [])),
    out: chosen("out"),
  };
  const refuse = (says: string, status: number) => data({ says, choices }, { status });
  const hand = handOf(request);
  try {
    if (wish === "undo") return leadOn(`/catalogue/packs/${row.id}?undone=${undoPack(db(), row.id, hand)}`);
    if (wish === "drop")
      return dropPack(db(), row.id)
        ? leadOn("/catalogue?dropped=1")
        : refuse("It was taken in once, so the history names it: it stays", 409);
    if (!read.ok) return refuse("The pack can't be read any more: bring it in again", 409);
    const sets: PackChoices = {
      take: new Set(choices.take),
      packsWay: new Set(choices.packsWay),
      out: new Set(choices.out),
    };
    takePack(db(), row.id, read.pack, sets, hand);
    return leadOn(`/catalogue/packs/${row.id}`);
  } catch (error) {
    return refuse(`Nothing was changed: ${refusalOf(error)}`, 409);
  }
}

export default function PackPage({ loaderData, actionData }: Route.ComponentProps) {
  const { pack, differences, same, problems, unreadable, changed, undone, conflicts } = loaderData;
  const groups = GROUPS.map((g) => ({ ...g, entries: differences.filter((d) => d.standing === g.standing) })).filter(
    (g) => g.entries.length > 0,
  );
  const nothing = differences.every((d) => d.standing === "kept");
  return (
    <>
      <title>{`${pack.title} · Upshift Lane`}</title>
      <p className="hint">
        <Link to="/catalogue">Catalogue packs</Link>
      </p>
      <h1>
        {pack.title} <span className="font-normal text-soft">{pack.name}</span>
      </h1>
      <p className="hint">
        Brought in {timeText(pack.at)} by {pack.by}.
      </p>
      {actionData?.says && <Notice kind="wrong">{actionData.says}.</Notice>}
      {undone !== null && !pack.taken && (
        <Notice kind="done">
          Undone: {countText(Number(undone) || 0, "entry", "entries")} are as they were before.
        </Notice>
      )}
      {unreadable.length > 0 && (
        <Notice kind="wrong">
          It can't be read: {unreadable[0].says} (<code>{unreadable[0].at}</code>).
        </Notice>
      )}
      {pack.taken && (
        <section className="sheet mt-3 space-y-2" aria-labelledby="taken">
          <h2 id="taken">
            Taken in {timeText(pack.taken.at)} by {pack.taken.by}: {countText(changed.length, "entry", "entries")}{" "}
            changed
          </h2>
          <ul className="columns-1 pl-5 sm:columns-2 lg:columns-3">
            {changed.map((c) => (
              <li key={c.kind + c.entry} className="list-disc">
                {ENTRY_PAGE[c.kind] && !c.out ? (
                  <Link to={`${ENTRY_PAGE[c.kind]}/${c.entry}`}>{c.entry}</Link>
                ) : (
                  c.entry
                )}
                {c.out && " is taken out"}
              </li>
            ))}
          </ul>
          <Form method="post">
            <button type="submit" name="do" value="undo" className="btn">
              Take all of it back
            </button>
          </Form>
        </section>
      )}
      {!pack.taken && unreadable.length === 0 && (
        <Form method="post" className="mt-3 space-y-4" key={`${conflicts}${actionData ? "kept" : ""}`}>
          <div className="sticky top-0 z-20 flex flex-wrap items-center gap-2 border-b border-rule bg-paper py-2">
            <h2 className="mr-2">
              {groups.length === 0
                ? "It is the same as what is here"
                : groups.map((g) => `${g.entries.length} ${g.short}`).join(", ")}
            </h2>
            <button type="submit" name="do" value="take" className={nothing ? "btn" : "btn-main"}>
              Take in what is ticked
            </button>
            <button type="submit" name="do" value="drop" className="btn">
              Throw the pack away
            </button>
            {same > 0 && <span className="hint">{countText(same, "entry", "entries")} the same as here.</span>}
          </div>
          {problems.length > 0 && (
            <Notice kind="caution">
              As it stands, names would point nowhere. Leave these entries out, or bring in what they need first:
              <ul className="mt-1 list-disc pl-5">
                {problems.map((p) => (
                  <li key={p.at + p.says}>
                    <code>{p.at}</code>: {p.says}
                  </li>
                ))}
              </ul>
            </Notice>
          )}
          {groups.map((g) => (
            <Entries key={g.standing} group={g} conflicts={conflicts} kept={actionData?.choices ?? null} />
          ))}
        </Form>
      )}
    </>
  );
}
