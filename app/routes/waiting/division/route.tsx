import { data } from "react-router";
import { acceptDivision, takeDivisionBack } from "~/app/server/division/act";
import { type Supposed, startAlternative } from "~/app/server/division/alternative";
import { standingDraft, startDivision } from "~/app/server/division/draft";
import { moveDevice, type Place, undoMove } from "~/app/server/division/moves";
import { letGo, shownPins } from "~/app/server/division/pins";
import { db, handOf } from "~/app/server/http/context";
import { readForm } from "~/app/server/http/form";
import { leadOn } from "~/app/server/http/leadOn";
import { catalogueOf } from "~/app/server/planning/planning";
import { Link } from "~/app/ui/Link";
import { Notice } from "~/app/ui/Notice";
import { useWatch } from "~/app/ui/useWatch";
import { countText, dateText, timeText } from "~/app/ui/words";
import { aimsByPlace, DivisionAims } from "~/core/allocate/aims";
import { AIMS } from "~/core/allocate/question";
import type { Hand } from "~/store/database";
import { readAims, saveAims } from "~/store/divisionAims";
import { standingDivision } from "~/store/divisions";
import { divisionDrafts } from "~/store/drafts";
import { listGroups, openGroups } from "~/store/evenings";
import type { Route } from "./+types/route";
import { Aims } from "./Aims";
import { AimsForm } from "./AimsForm";
import { Do } from "./Do";
import { Pins } from "./Pins";
import { NEVER, RESERVE, Shares } from "./Shares";
import { shownDraft } from "./shown";
import { WhatIfs } from "./WhatIfs";
import { WhatItTakes } from "./WhatItTakes";

/** Evenings or devices more than that nobody supposes in earnest. */
const MOST_SUPPOSED = 50;

export function loader() {
  const draft = standingDraft(db());
  const standing = standingDivision(db());
  return {
    groups: listGroups(db()).filter(({ closed }) => !closed).length,
    standing: standing && { id: standing.id, at: standing.at, by: standing.by, devices: standing.devices.length },
    draft: draft && shownDraft(db(), draft),
    aims: readAims(db()),
    pins: shownPins(db()),
    apps: openGroups(db()).flatMap(({ need }) => {
      const found = catalogueOf(db()).needs.find(({ id }) => id === need);
      return found && found.apps.length > 1
        ? found.apps.map(({ name }) => ({ value: `${need}|${name}`, text: `${found.name}: ${name}` }))
        : [];
    }),
  };
}

export async function action({ request }: Route.ActionArgs) {
  const form = await readForm(request);
  const wrong = act(form, request);
  return wrong ? data({ says: wrong }, { status: 409 }) : leadOn("/division");
}

/** @returns what is wrong in words, or null */
function act(form: FormData, request: Request): string | null {
  const hand = handOf(request);
  switch (form.get("what")) {
    case "divide":
      return startDivision(db(), hand);
    case "stop":
      return divisionDrafts.halt(db()) ? null : "Nothing is being worked out";
    case "accept":
      return acceptDivision(db(), Number(form.get("version")), hand);
    case "back":
      return takeDivisionBack(db(), Number(form.get("id")), hand);
    case "move":
      return moveDevice(db(), String(form.get("device") ?? ""), readPlace(String(form.get("to") ?? "")), hand);
    case "undo":
      return undoMove(db(), Number(form.get("version")), hand);
    case "let-go":
      return letGo(db(), String(form.get("device") ?? ""), hand);
    case "aims":
      return setAims(form, hand);
    case "what-if": {
      const supposed = readSupposed(form);
      return typeof supposed === "string" ? supposed : startAlternative(db(), supposed, hand);
    }
    default:
      return "There is nothing to do by that name. Reload the page";
  }
}

/** How far it is, in words. */
function stateText({ state, supposing, proving, shares, at, by }: ReturnType<typeof shownDraft>): string {
  if (state === "stopped")
    return proving
      ? `Divided at ${timeText(at)}; its proof was stopped, and says no more than stands here.`
      : `Stopped at ${timeText(at)}: this is the best so far, not proven to be the best.`;
  if (state === "failed")
    return supposing
      ? `What if ${supposing}? That broke off: ask again.`
      : `Begun at ${timeText(at)} and broken off: ${shares ? "this is the best so far, not proven to be the best" : "nothing was found yet, divide again"}.`;
  if (state !== "running") return `Worked out at ${timeText(at)}, by ${by}.`;
  if (supposing) return `What if ${supposing}? It is being worked out; what stands here stays as it is.`;
  return proving
    ? "Divided. How good any division could be is still being proven: wait for it, or stop here and take what stands."
    : "It is being worked out; what stands here is the best so far, and may still get better.";
}

function readPlace(to: string): Place {
  if (to === RESERVE) return { is: "reserve" };
  return to.startsWith(NEVER) ? { is: "never", group: to.slice(NEVER.length) } : { is: "there", group: to };
}

/** What a form supposes; or what is wrong, in words. */
function readSupposed(form: FormData): Supposed | string {
  const field = (name: string) => String(form.get(name) ?? "").trim();
  const count = Number(field("count"));
  const counts = Number.isInteger(count) && count >= 1 && count <= MOST_SUPPOSED;
  switch (field("suppose")) {
    case "elsewhere":
      return { is: "elsewhere", device: field("device") };
    case "evenings":
      return counts ? { is: "evenings", count } : `Write how many evenings more: 1 to ${MOST_SUPPOSED}`;
    case "devices":
      return counts
        ? { is: "devices", count, like: field("device") }
        : `Write how many devices more: 1 to ${MOST_SUPPOSED}`;
    case "without": {
      const [need, app] = field("app").split("|");
      return app ? { is: "without", need, app } : "Choose the app that nobody would ask for";
    }
    default:
      return "Choose what you want to suppose";
  }
}

/** @returns what is wrong in words, or null */
function setAims(form: FormData, hand: Hand): string | null {
  const { version } = readAims(db());
  if (Number(form.get("version")) !== version)
    return "Somebody else changed what counts first. Look at what stands now";
  const places = Object.fromEntries(
    AIMS.flatMap((aim) => (form.get(`counts.${aim}`) === "yes" ? [[aim, String(form.get(`place.${aim}`) ?? "")]] : [])),
  );
  const read = DivisionAims.safeParse({
    aims: aimsByPlace(places),
    confidence: form.get("confidence"),
    leeway: form.get("leeway"),
  });
  if (!read.success) {
    const [{ path, message }] = read.error.issues;
    return `${{ aims: "What counts", confidence: "How sure", leeway: "What may give way" }[String(path[0])] ?? "The form"}: ${message}`;
  }
  saveAims(db(), read.data, hand);
  return null;
}

export default function DivisionPage({ loaderData, actionData }: Route.ComponentProps) {
  const { groups, standing, draft, aims, pins, apps } = loaderData;
  const running = draft?.state === "running";
  useWatch(running);
  return (
    <>
      <title>Division · Upshift Lane</title>
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h1>Division</h1>
        <div className="flex flex-wrap gap-2">
          {running ? (
            <Do what="stop">Stop here</Do>
          ) : (
            <Do what="divide" main={!draft?.shares}>
              {draft ? "Divide again" : "Divide the devices"}
            </Do>
          )}
          {draft?.shares && !running && (
            <Do what="accept" main fields={{ version: draft.version }}>
              Accept this division
            </Do>
          )}
        </div>
      </div>
      <p className="my-2 max-w-3xl">
        Which device goes to whom, so that as many groups as can be have what is of use to them on their day. Every
        device is looked at by every way that is open to it; what nobody has read is taken for nothing.
      </p>
      {actionData && <Notice kind="wrong">{actionData.says}.</Notice>}
      {standing && (
        <div className="my-2 flex flex-wrap items-center gap-3">
          <span>
            Accepted: {countText(standing.devices, "device")} divided by {standing.by}, {dateText(standing.at)}.
          </span>
          <Do what="back" fields={{ id: standing.id }}>
            Take it back
          </Do>
        </div>
      )}
      {groups === 0 && (
        <p className="sheet mt-3 max-w-3xl">
          No group waits. <Link to="/groups/new">Write down the first one</Link>.
        </p>
      )}
      {groups > 0 && !draft && !standing && <p className="sheet mt-3 max-w-3xl">Nothing is divided yet.</p>}
      {draft && (
        <>
          <p className="my-2" role="status">
            {stateText(draft)}
          </p>
          {draft.says && <Notice kind="caution">{draft.says}.</Notice>}
          {draft.stale && !running && (
            <Notice kind="caution">
              Something was written since that bears on it. It can't be accepted as it is: divide again.
            </Notice>
          )}
          {draft.moved && (
            <Notice kind="done">
              <div className="flex flex-wrap items-center gap-3">
                <span>{draft.moved}.</span>
                {draft.undo > 0 && !running && (
                  <Do what="undo" fields={{ version: draft.version }}>
                    Undo
                  </Do>
                )}
              </div>
            </Notice>
          )}
          {draft.problems.map((problem) => (
            <Notice key={problem} kind="caution">
              {problem}.
            </Notice>
          ))}
          {draft.shares && <Shares draft={draft} />}
          <div className="mt-4 grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-2">
            {draft.proven.length > 0 && <Aims proven={draft.proven} kinds={draft.kinds} />}
            <WhatItTakes draft={draft} />
          </div>
          {draft.shares && <WhatIfs draft={draft} apps={apps} />}
        </>
      )}
      <Pins pins={pins} />
      <AimsForm {...aims} />
    </>
  );
}
