import { Link } from "~/app/ui/Link";
import { fieldLabel } from "~/core/catalogue/fieldLabel";
import { conflictKey, type PackDifference, type PackKind, type Standing, TAKEN_UNASKED } from "~/core/catalogue/packs";

/** Where an entry is shown; pairs stand on the pages of their images. */
export const ENTRY_PAGE: Record<PackKind, string | null> = {
  model: "/models",
  image: "/images",
  need: "/floors",
  incompatible: null,
};

const KIND_WORD: Record<PackKind, string> = {
  model: "model",
  image: "image",
  need: "need",
  incompatible: "pair that does not work together",
};

interface Group {
  readonly standing: Standing;
  readonly title: string;
  readonly short: string;
  readonly says: string;
}

/** In the order a person should look at them. */
export const GROUPS: readonly Group[] = [
  {
    standing: "conflict",
    title: "Changed here and in the pack",
    short: "conflicting",
    says: "Both changed the same place. What stands here stays unless you choose the pack's. Bold: what stands afterwards.",
  },
  {
    standing: "merged",
    title: "Changed on both sides, in different places",
    short: "merged",
    says: "The pack's changes go in, those made here stay. Bold: what stands afterwards.",
  },
  {
    standing: "changed",
    title: "Changed in the pack",
    short: "changed",
    says: "Nobody here changed these since the pack before.",
  },
  { standing: "new", title: "New", short: "new", says: "There is no such entry here yet." },
  {
    standing: "gone",
    title: "No longer in the pack",
    short: "no longer in it",
    says: "An earlier state of this pack had them. They stay unless you tick them to be taken out.",
  },
  {
    standing: "taken-out-here",
    title: "Taken out here",
    short: "taken out here",
    says: "They came with a pack before, and somebody took them out or left them out. Tick them to have them back.",
  },
  {
    standing: "kept",
    title: "Changed only here",
    short: "changed only here",
    says: "The pack is as it was: what stands here stays.",
  },
];

interface EntriesProps {
  readonly group: Group & { readonly entries: readonly PackDifference[] };
  /** What a conflict begins with: what stands here, or the pack's. */
  readonly conflicts: string;
  /** What was ticked and chosen when it was refused. */
  readonly kept: Readonly<Record<"take" | "out" | "packsWay", readonly string[]>> | null;
}

/** Entries of one standing, each with its box and its differences field by field. */
export function Entries({ group, conflicts, kept }: EntriesProps) {
  const { standing, entries } = group;
  const list = entries.map((e) => <Entry key={e.key} entry={e} conflicts={conflicts} kept={kept} />);
  return (
    <section className="sheet" aria-labelledby={`g-${standing}`}>
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h2 id={`g-${standing}`}>
          {group.title} ({entries.length})
        </h2>
        {standing === "conflict" && (
          <Link to={conflicts === "pack" ? "?" : "?conflicts=pack"} preventScrollReset className="btn">
            {conflicts === "pack" ? "Choose ours for all" : "Choose the pack's for all"}
          </Link>
        )}
      </div>
      <p className="hint">{group.says}</p>
      {entries.length > 30 ? (
        <details>
          <summary className="cursor-pointer">Show them</summary>
          <div className="columns-1 sm:columns-2">{list}</div>
        </details>
      ) : (
        <div className={standing === "new" ? "columns-1 sm:columns-2" : "space-y-3"}>{list}</div>
      )}
    </section>
  );
}

function Entry({ entry, conflicts, kept }: Omit<EntriesProps, "group"> & { entry: PackDifference }) {
  const { key, kind, id, title, standing, fields } = entry;
  const box = standing === "gone" ? "out" : standing === "kept" ? null : "take";
  const ticked = kept && box ? kept[box].includes(key) : TAKEN_UNASKED.has(standing);
  const page = ENTRY_PAGE[kind];
  const packsWay = (at: string) => (kept ? kept.packsWay.includes(conflictKey(key, at)) : conflicts === "pack");
  return (
    <div className="mt-1">
      <p>
        {box && (
          <input
            type="checkbox"
            name={box}
            value={key}
            defaultChecked={ticked}
            aria-label={box === "out" ? `Take ${title} out` : `Take ${title}`}
          />
        )}{" "}
        {page && standing !== "new" && standing !== "taken-out-here" ? (
          <Link to={`${page}/${id}`} className="font-bold">
            {title}
          </Link>
        ) : (
          <strong>{title}</strong>
        )}{" "}
        <span className="text-soft">
          {KIND_WORD[kind]} {kind !== "incompatible" && id}
        </span>
      </p>
      {fields.length > 0 && (
        <div className="overflow-x-auto">
          <table className="rows mt-1 table-fixed min-w-xl">
            <thead>
              <tr>
                <th scope="col" className="w-1/4">
                  What
                </th>
                <th scope="col" className="w-[37%]">
                  Here
                </th>
                <th scope="col">In the pack</th>
              </tr>
            </thead>
            <tbody>
              {fields.map((f) => (
                <tr key={f.at}>
                  <th scope="row" className="font-normal">
                    {fieldLabel(kind, f.at)}
                  </th>
                  {(["here", "pack"] as const).map((side) => (
                    <td key={side} className="wrap-anywhere">
                      {f.moved === "both" ? (
                        <label className="block">
                          <input
                            type="radio"
                            name={`way ${conflictKey(key, f.at)}`}
                            value={side}
                            defaultChecked={side === (packsWay(f.at) ? "pack" : "here")}
                          />{" "}
                          <span className="sr-only">
                            {fieldLabel(kind, f.at)}, {side === "here" ? "as it is here" : "as in the pack"}:{" "}
                          </span>
                          {shown(f[side])}
                        </label>
                      ) : (
                        // What is going to stand there afterwards.
                        <span className={f.moved === side ? "font-bold" : "text-soft"}>{shown(f[side])}</span>
                      )}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </div>
  );
}

/** A value in words; of a row only what is said in it. */
function shown(value: unknown): string {
  if (value === undefined || value === null || value === "") return "nothing";
  if (typeof value === "boolean") return value ? "yes" : "no";
  const text = Array.isArray(value)
    ? value.map(shown).join(", ") || "nothing"
    : typeof value === "object"
      ? Object.entries(value)
          .filter(([, v]) => v !== null && v !== false && !(Array.isArray(v) && v.length === 0))
          .map(([key, v]) => `${key} ${shown(v)}`)
          .join("; ")
      : String(value);
  return text.length > 300 ? `${text.slice(0, 300)}…` : text;
}
