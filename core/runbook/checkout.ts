import { HARDWARE_WORDS } from "~/core/catalogue/common";
import type { Model } from "~/core/catalogue/model";
import type { Need } from "~/core/catalogue/need";
import type { Way } from "~/core/upgrade/way";

/** One thing to look at before a device is handed over. */
export interface CheckItem {
  /** Stable name. */
  readonly item: string;
  readonly title: string;
  readonly says: string;
  /** What was promised, to compare with; null where only a yes or no is asked. */
  readonly expect: string | null;
  /** The device can't be done while this one is not all right. */
  readonly must: boolean;
}

/** What was written down of a device before its run. */
export interface Before {
  readonly baseband?: string;
  /** End of the IMEI on its label. */
  readonly imeiEnd?: string;
  /** End of the serial number that is known of it. */
  readonly serialEnd?: string;
}

/**
 * What to check on a device after its run: the promised version and patch, radio and identity, and precisely the hardware
 * that the need asks for or the image is known to break.
 *
 * @example checkItems(way, model, null)[0].item // "release" …
 */
export function checkItems(way: Way, model: Model, need: Need | null, before: Before = {}): CheckItem[] {
  const items: CheckItem[] = [
    { item: "release", title: "Android version", says: "Settings, About", expect: way.release, must: true },
    { item: "patch", title: "Security patch", says: "Settings, About", expect: way.patch, must: false },
    {
      item: "account",
      title: "No earlier account asked for",
      says: "Walk through the set-up to its end",
      expect: null,
      must: true,
    },
    {
      item: "wiped",
      title: "Storage wiped",
      says: "Reset or format done in this run; storage encrypted (NIST SP 800-88: Clear)",
      expect: null,
      must: true,
    },
  ];
  if (before.serialEnd)
    items.push({
      item: "serial",
      title: "Serial number",
      says: `Settings, About: it is the same as before, ending ${before.serialEnd}`,
      expect: null,
      must: true,
    });
  if (model.form === "phone")
    items.push(
      {
        item: "identity",
        title: "Identity present",
        says: `Dial *#06#: it shows the same IMEI as before${before.imeiEnd ? `, ending ${before.imeiEnd}` : ", the one on the label"}`,
        expect: null,
        must: true,
      },
      {
        item: "baseband",
        title: "Radio present",
        says: `Settings, About: a baseband version shows, not “unknown”${before.baseband ? `. Before the run it was ${before.baseband}` : ""}`,
        expect: null,
        must: true,
      },
    );
  const asked = new Set(need?.hardware ?? []);
  if (model.form === "phone") asked.add("calls");
  asked.add("wifi");
  for (const fault of way.faults) asked.add(fault.hardware);
  for (const hardware of asked) {
    if (!model.hardware.includes(hardware)) continue;
    const fault = way.faults.find((f) => f.hardware === hardware);
    items.push({
      item: `hardware.${hardware}`,
      title: HARDWARE_WORDS[hardware],
      says: fault
        ? `Known fault: ${fault.says}`
        : hardware === "calls"
          ? "Make a call and hear both sides; never try an emergency number"
          : "Try it",
      expect: null,
      must: (need?.hardware.includes(hardware) ?? false) || hardware === "wifi",
    });
  }
  const lacksCalls =
    model.form === "phone" && way.fit.hardwareNot.concat(way.faults).some((h) => h.hardware === "calls");
  if (lacksCalls)
    items.push({
      item: "label.not-a-phone",
      title: "Label: not a phone",
      says: "Calls do not work on it. Put the label “not a phone: no calls, no emergency calls” on it",
      expect: null,
      must: true,
    });
  items.push({
    item: "reset",
    title: "Reset after the tests",
    says: "The set-up you walked through and the workshop's Wi-Fi are on it now: reset it from Settings and leave it at the first page",
    expect: null,
    must: true,
  });
  return items;
}
