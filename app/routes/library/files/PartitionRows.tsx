import { useState } from "react";
import { Notice } from "~/app/ui/Notice";
import { readPartitionList, restoreRows } from "~/core/files/formats/partitionList";
import type { FileContent } from "~/core/files/report";
import { Table } from "./Table";

const UNITS = { bytes: "bytes", sectors: "sectors of 512 bytes" } as const;

/** A partition list as rows for a restore. What its numbers count is asked where nothing says so: until then no row is ticked. */
export function PartitionRows({
  content,
  files,
}: {
  content: Extract<FileContent, { kind: "partition-list" }>;
  files: readonly { readonly name: string; readonly bytes: number }[];
}) {
  const [counts, setCounts] = useState<keyof typeof UNITS>();
  const list = (counts && readPartitionList(content.cleaned, counts)) || content;
  const asked = content.unit === "unknown";
  const known = list.unit !== "unknown";
  const { rows, left } = restoreRows(list, known ? files : []);
  const size = (n: number | null) => (n === null ? "the rest" : n.toLocaleString("en"));
  const problems = [list, ...list.more].flatMap(({ device, problems }) =>
    problems.map((p) => (list.more.length > 0 ? `${device}: ${p}` : p)),
  );
  return (
    <>
      {asked && (
        <fieldset className="my-2 rounded-md border border-signal bg-signal-wash px-3 py-2">
          <legend className="font-semibold">What do its numbers count?</legend>
          <p>
            Nothing in the list says so, and a factor of 512 lies between. Until it is known no row is ticked. The
            board's own list has a line with FIRMWARE: dump that one, if you can.
          </p>
          {(Object.keys(UNITS) as (keyof typeof UNITS)[]).map((unit) => (
            <label key={unit} className="mr-4 inline-flex items-center gap-1">
              <input type="radio" checked={counts === unit} onChange={() => setCounts(unit)} />
              {UNITS[unit]}
            </label>
          ))}
        </fieldset>
      )}
      <p className="hint">
        {known && `Sizes count ${UNITS[list.unit]}. `}Restoring writes over a board: back up first, and leave loader and
        userdata unticked.
      </p>
      {problems.length > 0 && (
        <Notice kind="caution">
          <ul className="list-disc pl-5">
            {problems.map((p) => (
              <li key={p}>{p}</li>
            ))}
          </ul>
        </Notice>
      )}
      <Table
        label="Rows for a restore"
        head={known ? ["Tick", "Row", "#From byte", "#Room", "File", "Mind"] : ["Row", "#From", "#Room"]}
        rows={rows.map((r) => {
          const place = [r.from === null ? "—" : size(r.from), r.from === null ? "—" : size(r.bytes)];
          return known ? [r.ticked ? "✓ yes" : "no", r.name, ...place, r.file ?? "—", r.says] : [r.name, ...place];
        })}
      />
      {list.more.map(({ device, rows }) => (
        <section key={device}>
          <h4 className="mt-3 font-semibold">On a second flash, {device}</h4>
          <p className="hint">It is restored by a list of its own.</p>
          <Table
            label={`Rows on ${device}`}
            head={["Row", "#From byte", "#Room"]}
            rows={rows.map((r) => [r.name, size(r.from), size(r.bytes)])}
          />
        </section>
      ))}
      {left.length > 0 && <p className="hint mt-1">No row takes: {left.join(", ")}</p>}
      <details className="mt-2">
        <summary className="cursor-pointer font-semibold">The list without what stood before and behind it</summary>
        <pre className="max-h-48 overflow-auto rounded bg-paper p-2 text-sm whitespace-pre-wrap">{content.cleaned}</pre>
      </details>
    </>
  );
}
