import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Scroll } from "~/app/ui/Scroll";
import type { ShownEvening } from "./shown";

/** The same evening as a list: read aloud, printed, and without scripts. */
export function EveningList({ rows }: Pick<ShownEvening, "rows">) {
  const pieces = rows
    .flatMap(({ name, pieces }) => pieces.map((piece) => ({ name, piece })))
    .sort((a, b) => a.piece.from - b.piece.from);
  return (
    <Scroll label="The evening as a list" className="print:overflow-visible">
      <table className="rows print:text-sm">
        <thead>
          <tr>
            <th scope="col">From, to</th>
            <th scope="col">Who</th>
            <th scope="col">Device</th>
            <th scope="col">What</th>
            <th scope="col">For</th>
          </tr>
        </thead>
        <tbody>
          {pieces.map(({ name, piece }) => (
            <tr key={piece.key}>
              <td className={piece.kind === "wait" ? "" : "sm:whitespace-nowrap"}>
                <span className="whitespace-nowrap">{piece.begins}–</span>
                <span className="whitespace-nowrap">{piece.ends}</span>
              </td>
              <td>{name}</td>
              <td className="sm:whitespace-nowrap">
                <Link to={`/devices/${piece.device}`}>{piece.device}</Link>
              </td>
              <td>
                {piece.title}
                {piece.kind === "watched" && <span className="hint"> · stay near</span>}
                {piece.lies && <span className="hint"> · then it waits for hands until {piece.lies.ends}</span>}
                {piece.pinned && (
                  <Form method="post" className="inline" preventScrollReset>
                    <input type="hidden" name="what" value="free" />
                    <input type="hidden" name="piece" value={piece.key} />
                    <span className="hint"> · pinned </span>
                    <button
                      type="submit"
                      className="btn no-print text-sm"
                      aria-label={`Let ${piece.device} go, ${piece.begins}`}
                    >
                      Let it go
                    </button>
                  </Form>
                )}
              </td>
              <td>{piece.group ?? "–"}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Scroll>
  );
}
