import type { ReactNode } from "react";
import { describeRelease } from "~/core/android/releases";
import { asClause } from "~/core/catalogue/clause";
import { HARDWARE_WORDS } from "~/core/catalogue/common";
import { RANK_WORDS, type RankKey } from "~/core/policy/policy";
import { oddsText } from "~/core/upgrade/odds";
import type { Way } from "~/core/upgrade/way";
import { operationWords, STOCK_WRITERS } from "~/core/ways/registry";
import { Scroll } from "./Scroll";
import { bytesText, minutesText, percentText } from "./words";

/** A way with what the page says about it. */
export interface ShownWay {
  readonly way: Way;
  readonly best: boolean;
  readonly chosen: boolean;
}

type ImageTitles = Readonly<Record<string, string>>;

/** Where a way ends, in a few words. */
export function wayTitle(way: Way, titles: ImageTitles): string {
  if (way.cleaned !== null) return `Android ${way.release}, stock cleaned`;
  if (way.keeps) return `Keep Android ${way.release}`;
  return way.image && titles[way.image] ? titles[way.image] : `Android ${way.release}`;
}

/** Which base a way takes first, where that tells it from another way to the same image. */
export function wayBase(way: Way): string | null {
  if (way.operations.some((o) => STOCK_WRITERS.includes(o.kind) && o.image !== way.image))
    return "after the stock package";
  if (way.operations.some((o) => o.kind === "take-update" && o.image !== way.image)) return "after official updates";
  return null;
}

const LINES: readonly { readonly name: string; readonly show: (way: Way) => ReactNode }[] = [
  { name: "Ends on", show: (w) => describeRelease(w.api) },
  {
    name: "Security patch",
    show: (w) => (
      <>
        {w.patch ?? "not known"}
        {w.basePatch && w.basePatch !== w.patch && (
          <span className="hint block">vendor part {w.basePatch}: not fully patched</span>
        )}
      </>
    ),
  },
  {
    name: "Apps",
    show: (w) => (
      <>
        {w.fit.appsRun.length} of {w.fit.appsRun.length + w.fit.appsNot.length} run
        {w.fit.appsNot.map((a) => (
          <span key={a.app} className="block text-sm font-semibold text-stop">
            {a.app} {a.says}
          </span>
        ))}
      </>
    ),
  },
  {
    name: "Hardware",
    show: (w) => (
      <>
        {w.fit.hardwareNot.length === 0 ? "all that is needed works" : null}
        {w.fit.hardwareNot.map((h) => (
          <span key={h.hardware} className="block text-sm font-semibold text-stop">
            {h.says}
          </span>
        ))}
        {w.faults
          .filter((f) => !w.fit.hardwareNot.some((h) => h.hardware === f.hardware))
          .map((f) => (
            <span key={f.hardware} className="hint block">
              {HARDWARE_WORDS[f.hardware]}: {f.says}
            </span>
          ))}
      </>
    ),
  },
  { name: "Hands-on", show: (w) => minutesText(w.handsOnMinutes) },
  { name: "Unattended", show: (w) => minutesText(w.unattendedMinutes) },
  { name: "Waiting", show: (w) => (w.waitingDays ? `${w.waitingDays} days` : "none") },
  { name: "To fetch", show: (w) => bytesText(w.bytes) },
  {
    name: "Goes well",
    show: (w) => (
      <>
        {percentText(w.success)} at the first try
        <span className="hint block">{oddsText(w)}</span>
      </>
    ),
  },
  { name: "Wipes", show: (w) => w.wipes },
  { name: "Can't be undone", show: (w) => (w.irreversible.length ? w.irreversible.join("; ") : "nothing") },
  {
    name: "The way back",
    show: (w) =>
      !w.writes
        ? w.cleaned === null
          ? "nothing is written"
          : "a factory reset brings every package back"
        : w.back
          ? `${w.back.title}, about ${w.back.minutes} min`
          : "none: no stock package in the catalogue",
  },
  {
    name: "Mind",
    show: (w) =>
      w.cautions.length ? (
        <ul className="space-y-1 text-sm">
          {w.cautions.map((c) => (
            <li key={c}>{c}</li>
          ))}
        </ul>
      ) : (
        "nothing more"
      ),
  },
  { name: "Open questions", show: (w) => (w.questions.length ? w.questions.map((q) => q.says).join("; ") : "none") },
  {
    name: "What is done",
    show: (w) =>
      w.operations.length === 0 ? (
        "nothing"
      ) : (
        <ol className="list-decimal pl-4 text-sm">
          {w.operations.map((o, i) => (
            <li key={i}>
              {operationWords(o.kind)}
              {o.image && <span className="hint"> {o.image}</span>}
            </li>
          ))}
        </ol>
      ),
  },
];

/** Up to three ways side by side, line by line. */
export function WayCompare({
  ways,
  titles,
  deciding,
  actions,
}: {
  ways: readonly ShownWay[];
  titles: ImageTitles;
  deciding: RankKey | null;
  actions?: (shown: ShownWay) => ReactNode;
}) {
  return (
    <Scroll label="Ways side by side">
      {deciding && ways.length > 1 && (
        <p className="hint mb-1">The first stands before the next because of: {asClause(RANK_WORDS[deciding])}.</p>
      )}
      <table className="rows table-fixed" style={{ minWidth: `${9 + ways.length * 15}rem` }}>
        <thead>
          <tr>
            <td className="w-28" />
            {ways.map(({ way, best, chosen }) => (
              <th scope="col" key={way.id} className={chosen ? "bg-lane-wash" : undefined}>
                <span className="block text-base font-bold text-ink">{wayTitle(way, titles)}</span>
                <span className="font-normal">
                  {[best && "proposed", chosen && "accepted", wayBase(way), !way.fit.works && "misses part of the need"]
                    .filter(Boolean)
                    .join(", ") || "another way"}
                </span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {LINES.map((line) => (
            <tr key={line.name}>
              <th scope="row">{line.name}</th>
              {ways.map(({ way, chosen }) => (
                <td key={way.id} className={chosen ? "bg-lane-wash" : undefined}>
                  {line.show(way)}
                </td>
              ))}
            </tr>
          ))}
          {actions && (
            <tr>
              <th scope="row">Decide</th>
              {ways.map((shown) => (
                <td key={shown.way.id}>{actions(shown)}</td>
              ))}
            </tr>
          )}
        </tbody>
      </table>
    </Scroll>
  );
}
