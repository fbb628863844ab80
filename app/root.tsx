import { randomUUID } from "node:crypto";
import { useCallback, useEffect, useState } from "react";
import {
  Form,
  isRouteErrorResponse,
  Links,
  Meta,
  Outlet,
  Scripts,
  ScrollRestoration,
  useLocation,
  useNavigation,
} from "react-router";
import type { Route } from "./+types/root";
import "./app.css";
import { mayDo } from "~/core/access/roles";
import { exhibitFolder } from "./server/clearance/exhibits";
import { keepChecking } from "./server/clearance/register";
import { sweepDaily } from "./server/clearance/retention";
import { hasDemoClock, now, today } from "./server/http/clock";
import { db, guestAt } from "./server/http/context";
import { dbFile } from "./server/http/dbFile";
import { guard } from "./server/http/guard";
import { laneRevision } from "./server/http/news";
import { laneStops } from "./server/planning/laneStops";
import { keepFollowing } from "./server/timetable/keepFollowing";
import { KeyHelp } from "./ui/KeyHelp";
import { Lane, LIBRARY, WAITING } from "./ui/Lane";
import { forgetSent, keepSent, lastSent } from "./ui/lastSent";
import { useLive } from "./ui/useLive";
import { useShortcuts } from "./ui/useShortcuts";
import { houseZone } from "./ui/words";

export function loader({ request }: Route.LoaderArgs) {
  const guest = guestAt(request);
  // Nobody has signed in: a page to sign in at, and nothing of the lane.
  if (!guest)
    return {
      mark: randomUUID(),
      person: "",
      signedIn: false,
      search: false,
      revision: 0,
      stops: [],
      library: [],
      waiting: [],
      demoDay: null,
    };
  // Taken first: what is written while the page is made is news to it.
  const revision = laneRevision();
  sweepDaily(db(), exhibitFolder(dbFile()), now(db()));
  keepChecking(db());
  keepFollowing(db());
  const mayRead = (item: { readonly to: string }) => mayDo(guest.role, "GET", item.to);
  return {
    /** Marks of the forms on this page: each is taken once. */
    mark: randomUUID(),
    revision,
    person: guest.name,
    signedIn: guest.session !== null,
    role: guest.role,
    search: mayDo(guest.role, "GET", "/search"),
    stops: laneStops(db()).filter(mayRead),
    library: LIBRARY.filter(mayRead),
    waiting: WAITING.filter(mayRead),
    demoDay: hasDemoClock(db()) ? today(db()) : null,
  };
}

export const middleware = [guard];

export const links: Route.LinksFunction = () => [{ rel: "icon", href: "/favicon.ico", sizes: "32x32" }];

export function Layout({ children }: { children: React.ReactNode }) {
  return (
    <html lang="en" data-zone={houseZone}>
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <Meta />
        <Links />
      </head>
      <body>
        {children}
        <ScrollRestoration />
        <Scripts />
      </body>
    </html>
  );
}

export default function App({ loaderData }: Route.ComponentProps) {
  const { stops, waiting, library, person, signedIn, demoDay } = loaderData;
  useLive(stops.length > 0, loaderData.revision);
  // Whatever was answered with a page of the lane is not lost; the page of an error shows what was sent.
  const { state } = useNavigation();
  useEffect(() => {
    if (state === "idle") forgetSent();
  }, [state]);
  useEffect(() => {
    document.addEventListener("submit", keepSent, true);
    return () => document.removeEventListener("submit", keepSent, true);
  }, []);
  // Whoever took a way from the menu on a narrow screen wants to see where it led.
  const { pathname } = useLocation();
  const [help, setHelp] = useState(false);
  useShortcuts(
    stops.map((s) => s.to),
    useCallback(() => setHelp(true), []),
  );
  return (
    <div className="min-[800px]:grid print:block min-[800px]:grid-cols-[13rem_minmax(0,1fr)]">
      <a href="#main" className="sr-only focus:not-sr-only">
        Skip to the page
      </a>
      <header className="no-print border-b border-rule bg-paper p-3 min-[800px]:sticky min-[800px]:top-0 min-[800px]:h-screen min-[800px]:overflow-y-auto min-[800px]:border-r min-[800px]:border-b-0">
        <p className="flex items-center gap-2 text-xl font-bold">
          <svg width="26" height="26" viewBox="0 0 26 26" aria-hidden="true">
            <path
              d="M3 21H10L16 8H23"
              fill="none"
              stroke="var(--color-lane)"
              strokeWidth="3.5"
              strokeLinecap="round"
              strokeLinejoin="round"
            />
            <circle cx="4" cy="21" r="3" fill="var(--color-paper)" stroke="var(--color-ink)" strokeWidth="2" />
            <circle cx="22" cy="8" r="3.6" fill="var(--color-lane)" />
          </svg>
          <a href="/" className="text-ink no-underline">
            Upshift Lane
          </a>
        </p>
        {loaderData.search && (
          <Form action="/search" role="search" className="my-3">
            <label htmlFor="search" className="sr-only">
              Search devices, models, images
            </label>
            <input id="search" name="q" type="search" className="field" placeholder="Search ( / )" />
          </Form>
        )}
        {stops.length > 0 && (
          <>
            {/* What it opens stands beside it: on a wide screen that is always there, and rendered once. */}
            <details key={pathname} className="peer min-[800px]:hidden">
              <summary className="cursor-pointer font-semibold">Lane and library</summary>
            </details>
            <div className="mt-2 hidden min-[800px]:mt-0 min-[800px]:block peer-open:block">
              <Lane {...{ stops, waiting, library, person, signedIn, demoDay }} />
            </div>
          </>
        )}
      </header>
      <main id="main" tabIndex={-1} className="min-w-0 p-4 min-[800px]:px-7 min-[800px]:py-5">
        <Outlet />
      </main>
      <KeyHelp open={help} onClose={() => setHelp(false)} />
    </div>
  );
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  const known = isRouteErrorResponse(error);
  const [sent] = useState(lastSent);
  return (
    <main className="mx-auto max-w-xl p-8">
      <title>Upshift Lane: this did not work</title>
      <h1>{known && error.status === 404 ? "That is not here" : "This did not work"}</h1>
      <p className="my-3">
        {known
          ? String(error.data || error.statusText).replace(/[^.!?]$/, "$&.")
          : "Something went wrong on our side. Nothing was half-written: reload and try again. If it comes back, note what you did and the time."}
      </p>
      {sent.length > 0 && (
        <section aria-labelledby="sent" className="sheet my-3">
          <h2 id="sent">What you sent</h2>
          <p className="hint">Copy it before you leave this page: it is kept nowhere else.</p>
          <dl className="mt-2">
            {sent.map(({ label, value }, i) => (
              <div key={i} className="mt-2">
                <dt className="label">{label}</dt>
                <dd className="wrap-anywhere whitespace-pre-wrap">{value}</dd>
              </div>
            ))}
          </dl>
        </section>
      )}
      <a href="/" className="btn">
        Back to the lane
      </a>
    </main>
  );
}
