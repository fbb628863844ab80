import type { ReactNode } from "react";
import { Link } from "~/app/ui/Link";
import { countText } from "~/app/ui/words";
import type { ShownDraft } from "./shown";

/** What would change it, the builds it needs, and the devices that are left out, with why. */
export function WhatItTakes({ draft }: { draft: ShownDraft }) {
  const { whatIf, builds, unread, nobody, uncleared, reserve } = draft;
  return (
    <section className="sheet" aria-labelledby="takes">
      <h2 id="takes">What it would take</h2>
      {whatIf.length > 0 && (
        <ul className="mt-2 list-disc pl-5">
          {whatIf.map(({ code, name, gained, more }) => (
            <li key={code}>
              If {name}: {gained.length > 0 && `${gained.join(" and ")} would have the least number; `}
              {more >= 0.05 ? `${more.toFixed(1)} more would be ready on their day` : "nothing more would be ready"}.
            </li>
          ))}
        </ul>
      )}
      <p className="mt-2">
        {uncleared > 0 &&
          `${countText(uncleared, "device")} of those looked at ${uncleared === 1 ? "is" : "are"} not cleared yet: their odds count the waiting. `}
        {reserve.length > 0 &&
          `${countText(reserve.length, "device")} could still go to somebody and stay in the reserve. `}
      </p>
      <LeftOut tags={unread}>
        Nothing is counted on that nobody has read: {countText(unread.length, "device")} could serve somebody once an
        open question is answered.
      </LeftOut>
      <LeftOut tags={nobody}>
        Whatever is read of them, {countText(nobody.length, "device")} can serve none of those who wait. They are for
        another need, or for parts.
      </LeftOut>
      {builds.length > 0 && (
        <>
          <h3 className="mt-3 font-bold">Builds and their pilots</h3>
          <p className="hint">The others of a build wait until its pilot is checked out.</p>
          <ul className="mt-1 list-disc pl-5">
            {builds.map(({ model, image, pilot, devices }) => (
              <li key={`${model}|${image}`}>
                {model}, {image}: {countText(devices, "device")}, pilot {pilot}
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}

/** Why some devices are left out, and which; folded where they are more than can be taken in at a glance. */
function LeftOut({ tags, children }: { tags: readonly string[]; children: ReactNode }) {
  if (tags.length === 0) return null;
  return (
    <div className="mt-2">
      <p>{children}</p>
      {tags.length > AT_A_GLANCE ? (
        <details>
          <summary className="cursor-pointer">Which ones</summary>
          <Tags tags={tags} />
        </details>
      ) : (
        <p>
          <Tags tags={tags} />
        </p>
      )}
    </div>
  );
}

/** So many tags are shown without unfolding. */
const AT_A_GLANCE = 16;

function Tags({ tags }: { tags: readonly string[] }) {
  return tags.map((tag, k) => (
    <span key={tag}>
      {k > 0 && ", "}
      <Link to={`/devices/${tag}/ways`}>{tag}</Link>
    </span>
  ));
}
