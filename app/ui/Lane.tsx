import { useId } from "react";
import { NavLink, useLocation } from "react-router";
import { Form } from "~/app/ui/Form";
import { dateText } from "./words";

export interface LaneStop {
  readonly to: string;
  readonly name: string;
  readonly key: string;
  readonly count: number | null;
  readonly overdue?: boolean;
}

/** Those for whom all of it is done. */
export const WAITING = [
  { to: "/groups", name: "Groups" },
  { to: "/division", name: "Division" },
  { to: "/timetable", name: "Timetable" },
  { to: "/tonight", name: "Tonight" },
  { to: "/evenings", name: "Evenings" },
];

/** What stands beside the lane; everybody is shown what their role may read. */
export const LIBRARY = [
  { to: "/models", name: "Models" },
  { to: "/known", name: "Supported devices" },
  { to: "/images", name: "Images" },
  { to: "/coverage", name: "Coverage" },
  { to: "/files", name: "Files" },
  { to: "/floors", name: "App floors" },
  { to: "/catalogue", name: "Import, export" },
  { to: "/policy", name: "House policy" },
  { to: "/benches", name: "Benches" },
  { to: "/people", name: "People" },
];

interface Item {
  readonly to: string;
  readonly name: string;
}

interface Props {
  readonly stops: readonly LaneStop[];
  readonly waiting: readonly Item[];
  readonly library: readonly Item[];
  readonly signedIn: boolean;
  readonly person: string;
  /** The day the demo's clock stands on; null outside the demo. */
  readonly demoDay: string | null;
}

/** From here on there is no room for every digit; the whole number is in the title, and at the station. */
const MANY = 10_000;
const COMPACT = new Intl.NumberFormat("en", { notation: "compact" });

/** The order of the work, always in sight, with the number of devices waiting at each station. */
export function Lane({ stops, waiting, library, signedIn, person, demoDay }: Props) {
  return (
    <nav aria-label="Lane" className="flex flex-col gap-4">
      <ol className="relative">
        <div className="absolute left-[9px] top-3 bottom-3 w-[3px] bg-lane" aria-hidden="true" />
        {stops.map((stop) => (
          <li key={stop.to}>
            <NavLink
              to={stop.to}
              className={({ isActive }) =>
                `relative flex items-center gap-2.5 rounded-md py-1.5 pr-2 no-underline text-ink hover:bg-lane-wash ${isActive ? "font-bold bg-lane-wash" : ""}`
              }
            >
              {({ isActive }) => (
                <>
                  <span
                    className={`z-10 ml-[2px] size-[17px] shrink-0 rounded-full border-[3px] border-lane ${isActive ? "bg-lane" : "bg-paper"}`}
                    aria-hidden="true"
                  />
                  <span className="grow">{stop.name}</span>
                  {stop.overdue && (
                    <span className="text-signal font-bold" title="Something is overdue here">
                      !<span className="sr-only"> overdue</span>
                    </span>
                  )}
                  {stop.count !== null && (
                    <span
                      className={`min-w-7 rounded-full px-1.5 text-center text-sm tabular-nums ${stop.count ? "bg-lane text-white" : "bg-paper text-soft"}`}
                      title={stop.count >= MANY ? stop.count.toLocaleString("en") : undefined}
                    >
                      {stop.count >= MANY ? COMPACT.format(stop.count) : stop.count}
                      <span className="sr-only"> waiting</span>
                    </span>
                  )}
                </>
              )}
            </NavLink>
          </li>
        ))}
      </ol>
      {waiting.length > 0 && <Items name="Who waits" items={waiting} />}
      <Items name="Library" items={library} />
      {demoDay && <DemoClock day={demoDay} />}
      <p className="px-1 text-sm text-soft">
        {signedIn ? "Signed in: " : "At the desk: "}
        <a href={signedIn ? "/account" : "/person"}>{person}</a>
      </p>
    </nav>
  );
}

function Items({ name, items }: { name: string; items: readonly Item[] }) {
  const id = useId();
  return (
    <div>
      <p className="px-1 text-sm font-semibold text-soft" id={id}>
        {name}
      </p>
      <ul aria-labelledby={id}>
        {items.map((item) => (
          <li key={item.to}>
            <NavLink
              to={item.to}
              className={({ isActive }) =>
                `block rounded-md px-2 py-1 no-underline text-ink hover:bg-lane-wash ${isActive ? "font-bold bg-lane-wash" : ""}`
              }
            >
              {item.name}
            </NavLink>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** The demo has a clock of its own, so that one can see what a week of waiting does. */
function DemoClock({ day }: { day: string }) {
  const { pathname, search } = useLocation();
  return (
    <Form method="post" action="/clock" className="px-1 text-sm text-soft" aria-label="Demo clock">
      <input type="hidden" name="back" value={pathname + search} />
      Demo day: {dateText(day)}
      <span className="mt-1 flex flex-wrap gap-1">
        <button type="submit" name="minutes" value="15" className="btn px-2 py-0.5 text-sm">
          + 15 min
        </button>
        <button type="submit" name="days" value="1" className="btn px-2 py-0.5 text-sm">
          + 1 day
        </button>
        <button type="submit" name="days" value="7" className="btn px-2 py-0.5 text-sm">
          + 7 days
        </button>
      </span>
      <button type="submit" name="to" value="evening" className="btn mt-1 px-2 py-0.5 text-sm">
        to the next evening
      </button>
    </Form>
  );
}
