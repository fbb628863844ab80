import { maskNumber } from "~/core/device/imei";
import { tellScan } from "~/core/device/scan";
import { normalSerial } from "~/core/device/serial";
import type { Hand, Store } from "~/store/database";
import { addDevices, findBatch, findStanding, saveDevice, setReturns } from "~/store/devices";
import { recordScan } from "~/store/scans";
import { inTransaction } from "~/store/transaction";
import { whoElseHas } from "./whoElse";

/** What every device scanned in a row gets. */
export interface ScanDefaults {
  readonly batch: string;
  readonly tagStart: string;
  readonly donor: string;
  readonly need: string | null;
  readonly modelNumber: string;
}

export interface ScanAnswer {
  readonly ok: boolean;
  readonly says: string;
  /** The device in hand after this scan; null when there is none. */
  readonly tag: string | null;
}

/**
 * Takes one scan: a tag begins the next device (or takes up one that is here), an IMEI or serial number goes to the device in
 * hand. A number that belongs to another device here is refused; one of a device that has left makes this one a returning
 * device, and says so.
 *
 * @param inHand tag of the device in hand; null when none is
 */
export function scanIn(
  store: Store,
  given: string,
  inHand: string | null,
  defaults: ScanDefaults,
  hand: Hand,
): ScanAnswer {
  return inTransaction(store, (): ScanAnswer => {
    const refuse = (says: string): ScanAnswer => ({ ok: false, says, tag: inHand });
    const scan = tellScan(given, defaults.tagStart);
    if (scan.is === "wrong") return refuse(scan.says);
    if (scan.is === "tag") return takeUp(store, scan.tag, defaults, hand, refuse);
    const standing = inHand ? findStanding(store, inHand) : undefined;
    if (!standing) return refuse("Scan the tag first: this number belongs to no device yet");
    const value = scan.is === "imei" ? scan.imei : (normalSerial(scan.serial) ?? scan.serial);
    const name = scan.is === "imei" ? "IMEI" : "Serial number";
    const before = standing[scan.is];
    if (before === value) return { ok: true, says: `${name} stands there already`, tag: standing.tag };
    if (before !== null)
      return refuse(
        `${standing.tag} has another ${name} already (${maskNumber(before)}). Is this the right device? Correct it on its page if it is`,
      );
    const other = whoElseHas(store, { [scan.is]: value }, standing);
    if (other.is === "here") return refuse(other.says);
    saveDevice(store, standing, { ...standing, [scan.is]: value }, hand);
    recordScan(store, { device: standing.id, what: scan.is, text: value, was: before }, hand);
    if (other.is === "nobody") return { ok: true, says: `${name} ${maskNumber(value)}`, tag: standing.tag };
    setReturns(store, standing.id, other.earlier.device);
    return {
      ok: true,
      says: `${name} ${maskNumber(value)}. It was here before, as ${other.earlier.tag}: taken in as a returning device`,
      tag: standing.tag,
    };
  });
}

function takeUp(
  store: Store,
  tag: string,
  defaults: ScanDefaults,
  hand: Hand,
  refuse: (says: string) => ScanAnswer,
): ScanAnswer {
  const there = findStanding(store, tag);
  if (there) {
    if (there.aside) return refuse(`${there.tag} is set aside: put it back where it was and leave it`);
    return { ok: true, says: `${there.tag} is here already: its numbers can be scanned now`, tag: there.tag };
  }
  if (!findBatch(store, defaults.batch)) return refuse("Choose a batch first");
  const { donor, need, modelNumber } = defaults;
  const facts = modelNumber
    ? [{ key: "model.number" as const, value: modelNumber, source: "typed" as const, ...hand }]
    : [];
  const [device] = addDevices(store, defaults.batch, [{ tag, serial: null, imei: null, donor, need, facts }], hand);
  recordScan(store, { device, what: "device", text: tag, was: null }, hand);
  return { ok: true, says: `New device ${tag}`, tag };
}
