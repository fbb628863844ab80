import type { KeptPromise, Offer } from "~/app/server/division/promises";
import { ChoiceField, TextField } from "~/app/ui/Field";
import { Form } from "~/app/ui/Form";
import { Link } from "~/app/ui/Link";
import { chanceText, dateText, OUTCOME_WORDS, timeText } from "~/app/ui/words";
import type { GroupRow } from "~/store/evenings";

interface Props {
  readonly group: Pick<GroupRow, "id" | "wanted" | "by" | "closed">;
  /** Their day is over. */
  readonly over: boolean;
  /** Devices that were handed over to them already. */
  readonly given: number;
  readonly offers: readonly Offer[];
  readonly promises: readonly KeptPromise[];
}

/** What they were told, and what came of it. */
export function Promises({ group, over, given, offers, promises }: Props) {
  const open = promises.find(({ outcome }) => outcome === "open");
  // What they have in their hands nobody has to promise them.
  const toPromise = offers.filter(({ count }) => count > given);
  const now = open?.day === group.by ? offers.find(({ count }) => count === open.count) : undefined;
  return (
    <section className="sheet" aria-labelledby="promise">
      <h2 id="promise">What they were told</h2>
      {promises.length === 0 && <p className="mt-2">Nothing yet.</p>}
      {promises.length > 0 && (
        <ul className="mt-2">
          {promises.map(({ id, count, day, chance, at, by, came, outcome, back }) => (
            <li key={id} className="border-t border-rule py-2 first:border-t-0">
              <strong>
                {count} by {dateText(day)}
              </strong>
              , {chanceText(chance)} when {by} said it, {timeText(at)}:{" "}
              <strong className={outcome === "broken" ? "text-signal" : ""}>{OUTCOME_WORDS[outcome]}</strong>
              {back === null ? `, ${came} came so far` : ` (${back})`}.
              {outcome === "open" && now && Math.abs(now.chance - chance) >= 0.005 && (
                <span className={`block ${now.chance < chance ? "text-signal" : ""}`}>
                  Today it would be {chanceText(now.chance)}.
                </span>
              )}
            </li>
          ))}
        </ul>
      )}
      {(open || (offers.length > 0 && !over)) && (
        <p className="mt-2">
          <Link to={`/groups/${group.id}/letter`}>The letter to them</Link>: what they will get, by when, how sure.
        </p>
      )}
      {!group.closed && over && (
        <p className="mt-2">
          {dateText(group.by)} is over: nothing can be promised for it any more. Agree on another day with them, and
          write it down below.
        </p>
      )}
      {!group.closed && !over && !open && toPromise.length > 0 && (
        <Form method="post" className="mt-3 flex flex-wrap items-end gap-2">
          <input type="hidden" name="what" value="promise" />
          <ChoiceField
            label={`Promised by ${dateText(group.by)}`}
            name="count"
            options={toPromise.map(({ count, chance }) => ({
              value: String(count),
              text: `${count === group.wanted ? `all ${count}` : `${count} of ${group.wanted}`}: ${chanceText(chance)}`,
            }))}
          />
          <button type="submit" className="btn-main">
            They were told so
          </button>
          <p className="hint w-full">
            It is kept as it was given, with its chance. The devices on which it rests stay theirs in every division
            until it is taken back.
          </p>
        </Form>
      )}
      {open && (
        <Form method="post" className="mt-3 flex flex-wrap items-end gap-2">
          <input type="hidden" name="what" value="back" />
          <input type="hidden" name="promise" value={open.id} />
          <TextField label="Taken back: what were they told?" name="reason" required maxLength={400} />
          <button type="submit" className="btn">
            Take it back
          </button>
        </Form>
      )}
    </section>
  );
}
