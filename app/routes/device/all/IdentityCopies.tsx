import { Link } from "~/app/ui/Link";
import { countText, timeText } from "~/app/ui/words";
import type { IdentityCopyRow } from "~/store/identityCopies";

interface Props {
  readonly tag: string;
  readonly copies: readonly IdentityCopyRow[];
  /** Without a serial number nothing tells this device from another: nothing is given back. */
  readonly serialKnown: boolean;
  /** A dump of a loader board goes back by a sheet of its own. */
  readonly isBoard: boolean;
}

/** What was saved of the device itself before its first write, and the way to give it back. */
export function IdentityCopies({ tag, copies, serialKnown, isBoard }: Props) {
  return (
    <section className="sheet" aria-labelledby="identity">
      <h2 id="identity">{isBoard ? "Its board, dumped" : "Its identity, saved"}</h2>
      {copies.length > FEW ? (
        <details className="mt-2 text-sm">
          <summary className="cursor-pointer">
            {countText(copies.length, "file")}, the last of{" "}
            {timeText(copies.map((c) => c.at).sort()[copies.length - 1])}
          </summary>
          <CopyList copies={copies} />
        </details>
      ) : (
        <CopyList copies={copies} />
      )}
      <p className="hint mt-2">
        The files lie where the bench kept them, in a folder named {tag}. They are this device's own and go onto no
        other.
      </p>
      {isBoard ? (
        <p className="mt-2 text-sm">
          They go back through the loader, by the sheet of{" "}
          <Link to={`/devices/${tag}/ways`}>the way that gives the board its own dump back</Link>.
        </p>
      ) : serialKnown ? (
        <a href={`/devices/${tag}/identity.sh`} className="btn mt-2">
          Script that gives them back
        </a>
      ) : (
        <p className="mt-2 text-sm">
          They can't be given back before its serial number is known: without it nothing tells this device from another.
        </p>
      )}
    </section>
  );
}

/** More are folded: a dump is a dozen files. */
const FEW = 4;

function CopyList({ copies }: Pick<Props, "copies">) {
  return (
    <ul className="mt-2 space-y-2 text-sm">
      {copies.map((copy) => (
        <li key={copy.partition}>
          <strong>{copy.partition}</strong>: {copy.file}, {copy.bytes.toLocaleString("en")} bytes
          <span className="block font-mono text-xs break-all">{copy.sha256}</span>
          <span className="hint block">
            {timeText(copy.at)}, {copy.by}
          </span>
        </li>
      ))}
    </ul>
  );
}
