import type { Tonight } from "~/app/server/timetable/tonight";
import { BellSwitch } from "./BellSwitch";
import { Link } from "./Link";
import { dueOf, useBell } from "./useBell";
import { useFollowed } from "./useFollowed";
import { countText } from "./words";

interface Props {
  readonly tonight: Tonight;
  /** The device that lies before them. */
  readonly tag: string;
}

/** Over a device at the bench: what else is due, what runs, and what is next for the same hands. */
export function TonightStrip({ tonight, tag }: Props) {
  const { who, next, runs } = tonight;
  useFollowed(tonight.moves);
  useBell(dueOf(tonight));
  const due = runs.filter(({ left, device }) => left === 0 && device !== tag);
  const others = runs.filter(({ left, device }) => left > 0 && device !== tag);
  const own = runs.find(({ device }) => device === tag);
  return (
    <nav
      aria-label={`Tonight, ${who}`}
      className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2 rounded-lg border border-rule bg-lane-wash p-2"
    >
      <Link to={`/tonight?${new URLSearchParams({ who })}`} className="font-bold">
        Tonight, {who}
      </Link>
      {due.map(({ device, to }) => (
        <Link key={device} to={to} className="font-bold text-signal">
          {device} is due
        </Link>
      ))}
      {others.length > 0 && (
        <span>Runs by itself: {others.map(({ device, until }) => `${device} until ${until}`).join(", ")}</span>
      )}
      {own && own.left > 0 && (
        <span>
          This one runs for {countText(own.left, "minute")} more{own.stays ? ": stay near it" : ", and can be left"}.
        </span>
      )}
      <BellSwitch>Ring</BellSwitch>
      {next && next.device !== tag ? (
        <Link to={next.accepted ? next.to : `/tonight?${new URLSearchParams({ who })}`} className="btn-main ml-auto">
          Next: {next.device}, {next.title}
        </Link>
      ) : (
        next && <span className="hint ml-auto">This one is next in your hands.</span>
      )}
    </nav>
  );
}
