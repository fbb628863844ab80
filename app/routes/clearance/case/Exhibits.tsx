import { Form } from "~/app/ui/Form";

import { Notice } from "~/app/ui/Notice";
import { bytesText, timeText } from "~/app/ui/words";
import type { Exhibit } from "~/store/exhibits";

/** Photos and papers of a case. */
export function Exhibits({ files, says }: { files: readonly Exhibit[]; says: string | null }) {
  return (
    <section className="sheet mt-5" aria-labelledby="exhibits">
      <h2 id="exhibits">Photos and papers</h2>
      {says && <Notice kind="wrong">{says}</Notice>}
      {files.length > 0 && (
        <ul className="my-2 space-y-1">
          {files.map((f) => (
            <li key={f.id} className="flex flex-wrap items-center gap-2">
              {f.removed ? (
                <span className="text-soft">
                  {f.name}, taken away {timeText(f.removed)}
                </span>
              ) : (
                <>
                  <a href={`/evidence/${f.id}`} target="_blank" rel="noreferrer">
                    {f.name}
                  </a>
                  <span className="hint">
                    {bytesText(f.bytes)}, {timeText(f.at)}, {f.by}, SHA-256 {f.digest.slice(0, 12)}…
                  </span>
                  <Form method="post">
                    <button type="submit" name="away" value={f.id} className="btn px-2 py-0.5 text-sm">
                      Delete<span className="sr-only"> {f.name}</span>
                    </button>
                  </Form>
                </>
              )}
            </li>
          ))}
        </ul>
      )}
      <Form method="post" encType="multipart/form-data" className="mt-2 flex flex-wrap items-end gap-2">
        <div className="grow">
          <label className="label" htmlFor="exhibit-file">
            Add a photo or a PDF
          </label>
          <input
            id="exhibit-file"
            name="file"
            type="file"
            accept="image/jpeg,image/png,image/webp,application/pdf"
            className="field"
          />
        </div>
        <button type="submit" name="add" value="file" className="btn">
          Keep it
        </button>
      </Form>
      <p className="hint mt-1">
        Up to 10 MB. No pictures of what is on the device: donors' data is theirs. Deleted with the case, as the house
        policy says.
      </p>
    </section>
  );
}
