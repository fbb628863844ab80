import type { ReactNode } from "react";
import { Form } from "~/app/ui/Form";

import type { FileRef } from "~/core/runbook/step";

interface Props {
  readonly cautions: readonly string[];
  readonly files: readonly FileRef[];
  readonly wayBack: string;
  readonly backFiles: readonly FileRef[];
  readonly count: number;
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
export function BeforeRun({ cautions, files, wayBack, backFiles, count, children }: Props) {
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
      <Form method="post" className="mt-3">
        <button type="submit" name="act" value="begin" className="btn-main text-lg">
          Begin: {count} steps
        </button>
      </Form>
    </section>
  );
}
