import { Link } from "~/app/ui/Link";
import { KIND_WORDS } from "~/core/catalogue/image";
import type { Companion } from "~/core/upgrade/companions";

/** What an image is used with; what looks alike and does not go with it stands behind a click, with the reason. */
export function UsedWith({ companions }: { companions: readonly Companion[] }) {
  const goes = companions.filter((c) => c.goes);
  const not = companions.filter((c) => !c.goes);
  if (companions.length === 0) return null;
  return (
    <>
      <h3 className="mt-3">Used with</h3>
      {goes.length === 0 && <p className="hint">Nothing in the catalogue goes with it.</p>}
      <ul className="list-disc pl-5">
        {goes.map((c) => (
          <li key={c.image}>
            <Link to={`/images/${c.image}`}>{c.title}</Link> <span className="hint">{KIND_WORDS[c.kind]}</span>
          </li>
        ))}
      </ul>
      {not.length > 0 && (
        <details className="mt-1">
          <summary className="cursor-pointer">{not.length} more do not go with it</summary>
          <ul className="list-disc pl-5">
            {not.map((c) => (
              <li key={c.image}>
                <Link to={`/images/${c.image}`}>{c.title}</Link>: {c.says}{" "}
                {c.code && (
                  <Link to={`/rules#${c.code}`} className="text-xs">
                    {c.code}
                  </Link>
                )}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
