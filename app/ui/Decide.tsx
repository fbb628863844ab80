import { Form } from "~/app/ui/Form";

import type { ShownWay } from "./WayCompare";

/** The form under a way: accept it, with a reason where it is not the proposed one. */
export function Decide({ shown, tags, reason }: { shown: ShownWay; tags: readonly string[]; reason?: string }) {
  const { way, best, chosen } = shown;
  if (chosen) return <p className="font-semibold">Accepted</p>;
  if (way.questions.length) return <p className="hint">Answer the open questions first.</p>;
  return (
    <Form method="post" className="space-y-2" preventScrollReset>
      <input type="hidden" name="do" value="accept" />
      <input type="hidden" name="way" value={way.id} />
      {tags.map((tag) => (
        <input key={tag} type="hidden" name="tag" value={tag} />
      ))}
      {!best && (
        <label className="block text-sm">
          Why this one?
          <input name="reason" className="field" required minLength={5} defaultValue={reason} />
        </label>
      )}
      <button type="submit" className={best ? "btn-main" : "btn"}>
        {best ? "Accept" : "Choose this"}
        {tags.length > 1 ? ` for ${tags.length} devices` : ""}
      </button>
    </Form>
  );
}
