import { Form } from "~/app/ui/Form";

/** Takes the file in which a script wrote down what happened while the lane was out of reach. */
export function ReportDrop({ tag }: { tag: string }) {
  return (
    <details className="sheet mt-4 max-w-3xl">
      <summary className="cursor-pointer font-semibold">By script</summary>
      <p className="mt-2">
        Run the <a href={`/devices/${tag}/runbook.sh`}>script</a> with <code>LANE=</code> set to this lane's address:
        this page follows by itself. Script and hand may take turns; the script goes on where the run stands.
      </p>
      <Form method="post" encType="multipart/form-data" className="mt-2 flex flex-wrap items-end gap-2">
        <label className="block grow">
          <span className="label">The report file of a script that could not reach the lane</span>
          <input type="file" name="report" className="field" accept=".jsonl,application/x-ndjson,text/plain" required />
        </label>
        <button type="submit" name="act" value="report" className="btn">
          Take it in
        </button>
      </Form>
    </details>
  );
}
