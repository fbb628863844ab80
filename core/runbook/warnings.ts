import type { Model } from "~/core/catalogue/model";
import type { Policy } from "~/core/policy/policy";
import type { Way } from "~/core/upgrade/way";

/** What must be read before a device is touched. */
export function sheetCautions(way: Way, model: Model): string[] {
  const cautions = [
    "Swollen, hot, punctured or wet battery: do not charge, do not press, do not open. Isolate it and hand it to a battery collection point. Opening devices is for trained people.",
    "The donor's data is theirs: do not look, do not copy.",
    "If an earlier account is asked for at any time, stop: the device goes back to Clearance.",
  ];
  if (model.firmware.dangerous.length)
    cautions.push(
      `Switch automatic updates off: firmware ${model.firmware.dangerous.map((d) => `${d.from} to ${d.to}`).join(", ")} kills boards.`,
    );
  cautions.push(...model.quirks.filter((q) => q.at === "always").map((q) => `On this model: ${q.says}.`));
  cautions.push(...way.cautions.map((c) => `${c}.`));
  if (way.irreversible.length) cautions.push(`Can't be undone: ${way.irreversible.join("; ")}.`);
  if (model.form === "phone")
    cautions.push("A phone that goes to a person must place calls, or be labelled as not a phone.");
  if (way.patch && way.basePatch && way.basePatch < way.patch)
    cautions.push(`System patch ${way.patch}, vendor part ${way.basePatch}: it is not fully patched.`);
  cautions.push("Local rules and the law come before this sheet.");
  return cautions;
}

const GB = 1e9;

/** How the device comes back when it goes wrong, in words; empty where nothing is written. */
export function wayBackText(way: Way, policy: Policy): string {
  if (!way.writes)
    return way.cleaned === null ? "" : "A factory reset brings every package back, also where it no longer starts";
  if (way.back)
    return `${way.back.title} (${(way.back.bytes / GB).toFixed(1)} GB), written from the bootloader in about ${way.back.minutes} min${way.back.whole ? "" : "; it is not whole: parts of what was there stay"}. Have its files at hand before the first write`;
  return policy.wayBack === "allowed"
    ? "The catalogue has no stock package that would bring it back"
    : "There is none: no stock package in the catalogue would bring it back. If a write fails, this device goes to parts. Go on only if that is meant";
}
