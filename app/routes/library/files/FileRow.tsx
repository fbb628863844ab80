import { useState } from "react";
import { useFetcher } from "react-router";
import { Form } from "~/app/ui/Form";
import { HoldMark } from "~/app/ui/HoldMark";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { bytesText } from "~/app/ui/words";
import { guessFacets, guessWords } from "~/core/catalogue/facets";
import type { FileVerdict, HoldCheck } from "~/core/files/holdAgainst";
import { compareTyped, type Match } from "~/core/files/match";
import type { FileKind } from "~/core/files/report";
import { Inside } from "./Inside";
import type { DroppedFile } from "./useFileBench";

/** A file with everything that was concluded about it. */
export interface JudgedFile {
  readonly dropped: DroppedFile;
  readonly match: Match | null;
  readonly checks: readonly HoldCheck[];
  readonly verdict: FileVerdict | null;
}

interface Props {
  readonly judged: JudgedFile;
  readonly maxDownload: number | null;
  /** Device the files are held against; null for a model or none. */
  readonly device: string | null;
  readonly others: readonly { readonly name: string; readonly bytes: number }[];
  readonly cancel: () => void;
  readonly remove: () => void;
  readonly take: (partition: string) => Promise<{ ok: true; value: Uint8Array } | { ok: false; says: string }>;
}

/** One dropped file: what it is, whether it is right, and on demand all that was read out of it. */
export function FileRow({ judged, maxDownload, device, others, cancel, remove, take }: Props) {
  const { dropped, match, checks, verdict } = judged;
  const { file, report, state } = dropped;
  const [open, setOpen] = useState(false);
  const [taking, setTaking] = useState<string | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  // Only a bare system image, and one that no record knows, needs a guess.
  const guess =
    report && !match?.image && DRAFTS[report.content.kind] === "gsi" ? guessWords(guessFacets(file.name)) : [];
  const running = state === "waits" || state === "reads" || state === "digests";

  const save = async (partition: string) => {
    setTaking(partition);
    setRefused(null);
    const taken = await take(partition);
    setTaking(null);
    if (!taken.ok) {
      setRefused(taken.says);
      return;
    }
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([taken.value as Uint8Array<ArrayBuffer>]));
    link.download = `${partition}.img`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
  };

  return (
    <li className="sheet p-3" aria-label={file.name}>
      <div className="flex flex-wrap items-start gap-x-3 gap-y-1">
        <div className="w-28 shrink-0">
          {verdict ? (
            <HoldMark is={verdict.is} />
          ) : (
            <span className="hint">
              {
                {
                  waits: "waits",
                  reads: "reading",
                  digests: "reading",
                  done: "",
                  cancelled: "cancelled",
                  failed: "not read",
                }[state]
              }
            </span>
          )}
        </div>
        <div className="min-w-0 flex-1">
          <p className="font-bold break-all">
            {file.name} <span className="font-normal text-soft">{bytesText(file.size)}</span>
          </p>
          {report && report.says !== `${verdict?.says}.` && <p>{report.says}</p>}
          {verdict && (
            <p className={verdict.is === "no" ? "font-semibold text-stop" : "text-soft"}>
              {verdict.says}.{" "}
              {match?.image && (
                <Link to={`/images/${match.image}`} className="font-normal">
                  Its record
                </Link>
              )}
            </p>
          )}
          {dropped.failed && <p className="wrong">{dropped.failed}</p>}
          {state === "digests" && <Progress dropped={dropped} />}
        </div>
        <div className="flex shrink-0 gap-2">
          {report && (
            <button
              type="button"
              className="btn px-2 py-0.5 text-sm"
              aria-expanded={open}
              onClick={() => setOpen(!open)}
            >
              {open ? "Less" : "More"}
              <span className="sr-only"> about {file.name}</span>
            </button>
          )}
          <button type="button" className="btn px-2 py-0.5 text-sm" onClick={running ? cancel : remove}>
            {running ? "Cancel" : "Put away"}
            <span className="sr-only"> {file.name}</span>
          </button>
        </div>
      </div>
      {open && report && (
        <div className="mt-3 border-t border-rule pt-3 sm:pl-31">
          {checks.length > 0 && (
            <ul className="mb-3 space-y-1">
              {checks.map((c) => (
                <li key={c.code + c.what} className="flex items-baseline gap-2">
                  <HoldMark is={c.is} />
                  <span>
                    {c.what}: {c.says} {c.is !== "yes" && <code className="text-xs text-soft">{c.code}</code>}
                  </span>
                </li>
              ))}
            </ul>
          )}
          <Inside report={report} maxDownload={maxDownload} files={others} take={(p) => void save(p)} taking={taking} />
          {refused && <Notice kind="wrong">{refused}</Notice>}
          {device && report.content.kind === "super" && (
            <Form method="post" action={`/devices/${device}/room`} className="mt-2">
              <input type="hidden" name="layout" value={JSON.stringify(report.content)} />
              <button type="submit" className="btn">
                Keep this as the room of {device}
              </button>
            </Form>
          )}
          <p className="hint mt-2">{report.whole.says}.</p>
          {guess.length > 0 && (
            <p className="hint">The name suggests: {guess.join("; ")}. A guess, not read from the file.</p>
          )}
          <DigestBox dropped={dropped} />
          {state === "done" && match && <RecordOffer dropped={dropped} match={match} />}
        </div>
      )}
    </li>
  );
}

function Progress({ dropped: { file, done, speed } }: { dropped: DroppedFile }) {
  const left = speed > 0 ? Math.ceil((file.size - done) / speed) : null;
  return (
    <div className="mt-1 flex flex-wrap items-center gap-2">
      <progress className="h-2 w-56" max={file.size} value={done} aria-label={`Reading ${file.name}`} />
      <span className="hint tabular-nums">
        {bytesText(done)} of {bytesText(file.size)}
        {speed > 0 && `, ${bytesText(speed)} a second`}
        {left !== null && left > 1 && `, about ${left} s left`}
      </span>
    </div>
  );
}

/** Both digests, and a field to compare with one that stands on the page the file came from. */
function DigestBox({ dropped: { file, digests } }: { dropped: DroppedFile }) {
  const [typed, setTyped] = useState("");
  const said = typed.trim() ? compareTyped(typed, digests) : null;
  const id = `typed-${file.name}`;
  return (
    <div className="mt-3 space-y-1">
      <p className="text-sm">
        SHA-256 <code className="break-all">{digests.sha256 ?? "not made yet"}</code>
        <br />
        MD5 <code className="break-all">{digests.md5 ?? "not made yet"}</code>
      </p>
      <label className="label text-sm" htmlFor={id}>
        Compare with a digest from the page it came from
      </label>
      <input
        id={id}
        className="field max-w-xl font-mono text-sm"
        value={typed}
        spellCheck={false}
        onChange={(e) => setTyped(e.target.value)}
      />
      <p role="status">
        {typed.trim() &&
          (said ? (
            <>
              <HoldMark is={said.is ? "yes" : "no"} /> {said.says}
            </>
          ) : (
            <span className="hint">No SHA-256 or MD5 in it: they have 64 or 32 digits from 0 to f.</span>
          ))}
      </p>
    </div>
  );
}

/** What can be kept of a file: its digest in the record it belongs to, or a draft of a record of its own. */
function RecordOffer({ dropped: { file, report, digests }, match }: { dropped: DroppedFile; match: Match }) {
  const fetcher = useFetcher<{ ok: boolean; says: string }>();
  if (match.is === "yes" || !report || !digests.sha256) return null;
  if (fetcher.data?.ok) return <Notice kind="done">{fetcher.data.says}</Notice>;
  if (match.image && match.file && match.is === "unknown")
    return (
      <fetcher.Form method="post" className="mt-3">
        {fetcher.data && <Notice kind="wrong">{fetcher.data.says}</Notice>}
        <input type="hidden" name="do" value="digest" />
        <input type="hidden" name="image" value={match.image} />
        <input type="hidden" name="file" value={match.file} />
        <input type="hidden" name="sha256" value={digests.sha256} />
        <input type="hidden" name="bytes" value={file.size} />
        <button type="submit" className="btn">
          Write size and digest into the record of {match.image}
        </button>
        <p className="hint">Only when you trust where this file came from: later files are compared with it.</p>
      </fetcher.Form>
    );
  const kind = DRAFTS[report.content.kind];
  if (match.image || !kind) return null;
  const { told } = report;
  const query = new URLSearchParams({
    kind,
    file: file.name,
    bytes: String(file.size),
    expanded: report.expanded ? String(report.expanded) : "",
    sha256: digests.sha256,
    release: told.release ?? "",
    build: told.build ?? "",
    patch: told.patch?.length === 10 ? told.patch : "",
    cpu: told.cpu ?? "",
    partition: told.partition ?? "",
    devices: told.devices.join("|"),
  });
  return (
    <p className="mt-3">
      <Link to={`/images/new?${query}`} className="btn">
        Draft an image record from {file.name}
      </Link>
    </p>
  );
}

/** Kind of image that a kind of file is drafted as; others are no images. */
const DRAFTS: Partial<Record<FileKind, string>> = {
  vbmeta: "verification",
  ota: "rom",
  factory: "stock",
  tar: "stock",
  sparse: "gsi",
  ext4: "gsi",
  erofs: "gsi",
  boot: "recovery",
  payload: "rom",
};
