import { DUE_WORDS, type Due } from "~/core/clearance/followUp";
import { countText, dateText } from "./words";

/** What is due, when, and how late it is. */
export function DueText({ due, bare = false }: { due: Due; bare?: boolean }) {
  const { daysOver } = due;
  return (
    <>
      {!bare && <strong>{DUE_WORDS[due.kind]}: </strong>}
      {daysOver > 0 ? (
        <span className="font-bold text-signal">
          ! {countText(daysOver, "day")} late <span className="font-normal">({dateText(due.on)})</span>
        </span>
      ) : daysOver === 0 ? (
        <span className="font-bold">today</span>
      ) : (
        <span>
          {dateText(due.on)} <span className="text-soft">(in {countText(-daysOver, "day")})</span>
        </span>
      )}
    </>
  );
}
