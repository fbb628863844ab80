import { endDevice } from "~/app/server/bench/endDevice";
import { guestAt, handOf, notFound } from "~/app/server/http/context";
import { takeReadOut } from "~/app/server/intake/takeReadOut";
import { whoElseHas } from "~/app/server/intake/whoElse";
import { Hardware } from "~/core/catalogue/common";
import { hardwareText } from "~/core/device/brokenHardware";
import { FACT_KEYS, type FactKey, FactSource, readFactValue } from "~/core/device/fact";
import { readImei } from "~/core/device/imei";
import { isNoNumber, sameSerial } from "~/core/device/serial";
import { type Hand, StaleEdit, type Store } from "~/store/database";
import {
  changesOfDevice,
  type DeviceOwn,
  findStanding,
  isTouched,
  type Standing,
  saveDevice,
  setReturns,
  withdrawDevice,
} from "~/store/devices";
import { appendFacts, undoFacts } from "~/store/facts";
import { inTransaction } from "~/store/transaction";

type Acted =
  | {
      readonly ok: true;
      readonly anchor: string /** The device is not in the lane any more. */;
      readonly gone?: boolean;
    }
  | { readonly ok: false; readonly says: string; readonly form: string; readonly kept: Record<string, string> };

const isSame = (a: string | null, b: string | null) => a === b || (a !== null && b !== null && sameSerial(a, b));

/** Does what one of the device page's forms asks; what was typed comes back with every refusal. */
export function actOnDevice(store: Store, request: Request, tag: string, form: FormData): Acted {
  const standing = findStanding(store, tag);
  if (!standing) throw notFound(`There is no device ${tag}`);
  const kept = Object.fromEntries([...form].map(([k, v]) => [k, String(v)]));
  const name = kept.form ?? "";
  const refuse = (says: string): Acted => ({ ok: false, says, form: name, kept });
  const hand = handOf(request);
  if (name === "fact") {
    const key = kept.key as FactKey;
    if (!FACT_KEYS.includes(key)) return refuse("Choose what you want to write down");
    const read = readFactValue(key, kept.value ?? "");
    if (!read.ok) return refuse(read.says);
    appendFacts(store, standing.id, [{ key, value: read.value, source: "typed", ...hand }]);
    return { ok: true, anchor: "#facts" };
  }
  if (name === "hardware") {
    const broken = form.getAll("broken").flatMap((h) => Hardware.safeParse(h).data ?? []);
    appendFacts(store, standing.id, [
      { key: "hardware.broken", value: hardwareText(broken), source: "typed", ...hand },
    ]);
    return { ok: true, anchor: "#facts" };
  }
  if (name === "end") {
    const wrong = endDevice(store, standing, { result: kept.result ?? "", reason: kept.reason ?? "" }, hand);
    return wrong ? refuse(wrong) : { ok: true, anchor: "" };
  }
  if (name === "read-out") {
    const wrong = takeReadOut(store, standing, kept.text ?? "", hand);
    return wrong ? refuse(wrong) : { ok: true, anchor: "#facts" };
  }
  if ((name === "details" || name === "undo-details") && !guestAt(request)?.seesPersonalData)
    return refuse("Donors and numbers are changed at the desk");
  if (name === "details") {
    const imei = kept.imei === undefined ? standing.imei : kept.imei.trim();
    if (kept.imei !== undefined && imei) {
      const read = readImei(imei);
      if (!read.ok) return refuse(`IMEI: ${read.says}`);
    }
    const serial = kept.serial === undefined ? standing.serial : isNoNumber(kept.serial) ? null : kept.serial.trim();
    const wrong = saveDetails(
      store,
      standing,
      {
        donor: (kept.donor ?? "").trim(),
        need: kept.need || null,
        serial,
        imei: imei || null,
        version: Number(kept.version),
      },
      hand,
    );
    if (wrong) return refuse(wrong);
    return { ok: true, anchor: "#details" };
  }
  if (name === "undo-facts") {
    const source = FactSource.safeParse(kept.source);
    const written = { at: kept.at ?? "", by: kept.by ?? "" };
    const undone = source.success ? undoFacts(store, standing.id, { ...written, source: source.data }, hand) : 0;
    return undone > 0 ? { ok: true, anchor: "#facts" } : refuse("This was taken back already. Reload the page");
  }
  if (name === "undo-details") {
    const before = changesOfDevice(store, standing.id).at(-1);
    if (!before) return refuse("Nothing was changed yet");
    const was = JSON.parse(before.was) as DeviceOwn;
    const wrong = saveDetails(store, standing, { ...was, version: standing.version }, hand);
    if (wrong) return refuse(wrong);
    return { ok: true, anchor: "#details" };
  }
  if (name === "withdraw") {
    if (isTouched(store, standing.id))
      return refuse("More was written about this device since it came in: it can't be withdrawn any more");
    withdrawDevice(store, standing.id, hand);
    return { ok: true, anchor: "", gone: true };
  }
  return refuse("This form is not known. Reload the page");
}

/**
 * A device's own record, with the numbers that are new held against the other devices.
 *
 * @returns what is wrong, or null
 */
function saveDetails(
  store: Store,
  standing: Standing,
  own: DeviceOwn & { readonly version: number },
  hand: Hand,
): string | null {
  const other = whoElseHas(
    store,
    {
      serial: isSame(own.serial, standing.serial) ? null : own.serial,
      imei: own.imei === standing.imei ? null : own.imei,
    },
    standing,
  );
  if (other.is === "here") return other.says;
  try {
    inTransaction(store, () => {
      saveDevice(store, standing, own, hand);
      if (other.is === "left") setReturns(store, standing.id, other.earlier.device);
    });
  } catch (error) {
    if (error instanceof StaleEdit) return error.message;
    throw error;
  }
  return null;
}
