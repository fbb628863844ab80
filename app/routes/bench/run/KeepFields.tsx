import { sha256 } from "hash-wasm";
import { useState } from "react";

/** Name, bytes and digest of each file that was saved; picking the files fills them in, and nothing of what is in them leaves this page. */
export function KeepFields({ partitions }: { readonly partitions: readonly string[] }) {
  const [seen, setSeen] = useState<Readonly<Record<string, { file: string; bytes: string; sha256: string }>>>({});
  /** Several files at once: each goes to the row its name ends with. */
  const pickAll = async (files: FileList | null) => {
    for (const file of files ?? []) {
      const stem = file.name.replace(/\.[^.]*$/, "");
      const row = partitions
        .filter((p) => stem === p || stem.endsWith(`-${p}`) || stem.endsWith(`_${p}`))
        .sort((a, b) => b.length - a.length)[0];
      if (row) await pick(row, file);
    }
  };
  const pick = async (partition: string, file: File | undefined) => {
    if (!file) return;
    const digest = await sha256(new Uint8Array(await file.arrayBuffer()));
    setSeen((old) => ({ ...old, [partition]: { file: file.name, bytes: String(file.size), sha256: digest } }));
  };
  return (
    <div className="space-y-3">
      {partitions.length > 3 && (
        <label className="block">
          <span className="label">
            Pick all {partitions.length} files at once: each is measured here, told by the end of its name, and sent
            nowhere
          </span>
          <input type="file" multiple onChange={(e) => pickAll(e.target.files)} className="field" />
        </label>
      )}
      <OneByOne folded={partitions.length > 3}>
        {partitions.map((partition) => {
          const filled = seen[partition];
          const name = (field: string) => `copy.${partition}.${field}`;
          const key = filled?.sha256 ?? "";
          return (
            <fieldset key={partition} className="rounded-md border border-rule p-3">
              <legend className="px-1 font-semibold">{partition}</legend>
              <label className="block">
                <span className="label">Pick the file: it is measured here and sent nowhere</span>
                <input type="file" onChange={(e) => pick(partition, e.target.files?.[0])} className="field" />
              </label>
              <div className="mt-2 grid gap-2 sm:grid-cols-[2fr_1fr]">
                <label>
                  <span className="label">File</span>
                  <input name={name("file")} key={`f${key}`} defaultValue={filled?.file} className="field" />
                </label>
                <label>
                  <span className="label">Bytes</span>
                  <input
                    name={name("bytes")}
                    key={`b${key}`}
                    defaultValue={filled?.bytes}
                    inputMode="numeric"
                    className="field"
                  />
                </label>
              </div>
              <label className="mt-2 block">
                <span className="label">SHA-256</span>
                <input
                  name={name("sha256")}
                  key={`s${key}`}
                  defaultValue={filled?.sha256}
                  className="field font-mono"
                />
              </label>
            </fieldset>
          );
        })}
      </OneByOne>
    </div>
  );
}

/** Many of them are folded away: picking all at once fills them in, and what is in them is sent all the same. */
function OneByOne({ folded, children }: { readonly folded: boolean; readonly children: React.ReactNode }) {
  if (!folded) return children;
  return (
    <details>
      <summary className="cursor-pointer font-semibold">One by one</summary>
      <div className="mt-2 space-y-3">{children}</div>
    </details>
  );
}
