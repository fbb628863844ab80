import type { ReactNode } from "react";
import { ChoiceField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";

import type { FileRef } from "~/core/runbook/step";

interface Props {
  readonly cautions: readonly string[];
  readonly files: readonly FileRef[];
  readonly wayBack: string;
  readonly backFiles: readonly FileRef[];
  readonly count: number;
  /** Benches to choose from, and the one this person worked at last; none where the house has written down none. */
  readonly benches: readonly { readonly id: number; readonly name: string; readonly host: string }[];
  readonly last: string | null;
  readonly children: ReactNode;
}

const FileNames = ({ files }: { files: readonly FileRef[] }) => (
  <ul className="my-1 list-disc pl-5 font-mono text-sm">
    {files.map((f) => (
      <li key={f.image + f.name}>
        {f.image}/{f.name}
      </li>
    ))}
  </ul>
);

/** What must be read before a run begins: cautions, the way back, the files. */
export function BeforeRun({ cautions, files, wayBack, backFiles, count, benches, last, children }: Props) {
  return (
    <section className="sheet my-4 max-w-3xl" aria-labelledby="before">
      {children}
      <h2 id="before">Before you begin</h2>
      <ul className="my-2 list-disc space-y-1 pl-5">
        {cautions.map((c) => (
          <li key={c}>{c}</li>
        ))}
      </ul>
      {wayBack && (
        <>
          <h3>The way back, if it goes wrong</h3>
          <p>{wayBack}.</p>
          {backFiles.length > 0 && <FileNames files={backFiles} />}
        </>
      )}
      {files.length > 0 && (
        <>
          <h3>Files that must be at hand</h3>
          <FileNames files={files} />
        </>
      )}
      <Form method="post" className="mt-3 flex flex-wrap items-end gap-3">
        {benches.length > 0 && (
          <ChoiceField
            label="At which bench"
            name="bench"
            defaultValue={String(benches.find((b) => b.name === last)?.id ?? benches[0].id)}
            options={benches.map((b) => ({ value: String(b.id), text: `${b.name}: ${b.host}` }))}
          />
        )}
        <button type="submit" name="act" value="begin" className="btn-main text-lg">
          Begin: {count} steps
        </button>
      </Form>
    </section>
  );
}
