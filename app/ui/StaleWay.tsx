import type { Stale } from "~/app/server/bench/accepted";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { Notice } from "./Notice";

/** Says what has changed under an accepted way, what the plan says now, and accepts that with one click. */
export function StaleWay({ tag, stale, running }: { tag: string; stale: Stale; running: boolean }) {
  return (
    <Notice kind="wrong">
      <p className="font-bold">The accepted way goes no further.</p>
      {stale.changed.length > 0 && (
        <ul className="my-1 list-disc pl-5">
          {stale.changed.map((c) => (
            <li key={c.fact}>
              {c.says}: was <strong>{c.was}</strong>, is <strong>{c.is}</strong>
            </li>
          ))}
        </ul>
      )}
      <p>{stale.changed.length > 0 ? `The plan says now: ${stale.now}` : stale.says}.</p>
      {running ? (
        <p className="mt-1 font-semibold">End this run below with what you see; then the new plan can be accepted.</p>
      ) : (
        <Form method="post" action={`/devices/${tag}/ways`} className="mt-2 flex flex-wrap gap-2">
          {stale.proposes && (
            <>
              <input type="hidden" name="do" value="accept" />
              <input type="hidden" name="way" value={stale.proposes.id} />
              <input type="hidden" name="back" value={`/bench/${tag}`} />
              <button type="submit" className="btn-main">
                Accept what the plan proposes now: Android {stale.proposes.release}
              </button>
            </>
          )}
          <Link to={`/devices/${tag}/ways`} className="btn">
            Compare the ways
          </Link>
        </Form>
      )}
    </Notice>
  );
}
