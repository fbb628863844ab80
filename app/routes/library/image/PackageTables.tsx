import { Scroll } from "~/app/ui/Scroll";
import { type PackageList, ROLE_WORDS } from "~/core/catalogue/packageList";

/** What a list takes away, what it leaves on purpose, and what is put in before. */
export function PackageTables({ packages }: { readonly packages: PackageList }) {
  const { remove, keep, home, keyboard } = packages;
  return (
    <section className="sheet mt-5" aria-labelledby="packages">
      <h2 id="packages">What goes, what stays</h2>
      {(home || keyboard) && (
        <p className="mt-1">
          Put in and made default first:{" "}
          {[home && `${home.component} (home screen)`, keyboard && `${keyboard.component} (keyboard)`]
            .filter(Boolean)
            .join(", ")}
          .
        </p>
      )}
      <Scroll label="What goes" className="mt-2">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Goes</th>
              <th scope="col">What it is</th>
              <th scope="col">Tried</th>
            </tr>
          </thead>
          <tbody>
            {remove.map((p) => (
              <tr key={p.name}>
                <td className="font-mono text-sm">{p.name}</td>
                <td>
                  {p.is}
                  {p.role && <span className="hint"> the {ROLE_WORDS[p.role]}: another is put in first</span>}
                </td>
                <td className="text-sm">{p.tried ?? "nobody has tried it yet"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Scroll>
      {keep.length > 0 && (
        <>
          <h3 className="mt-3">Stays, beside what the lane never takes away</h3>
          <ul className="list-disc pl-5">
            {keep.map((p) => (
              <li key={p.name}>
                <span className="font-mono text-sm">{p.name}</span>: {p.is}
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}
