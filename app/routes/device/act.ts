import { handOf, notFound } from "~/app/server/context";
import { plannedDevice } from "~/app/server/planning";
import { FACT_KEYS, type FactKey, readFactValue } from "~/core/device/fact";
import { readImei } from "~/core/device/imei";
import { currentValue } from "~/core/device/lookUp";
import { readReadOut } from "~/core/device/readOut";
import { StaleEdit, type Store } from "~/store/database";
import { appendFacts, findStanding, type Standing, saveDevice } from "~/store/devices";

type Acted =
  | { readonly ok: true; readonly anchor: string }
  | { readonly ok: false; readonly says: string; readonly form: string; readonly kept: Record<string, string> };

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
  if (name === "read-out") return takeReadOut(store, standing, kept.text ?? "", hand, refuse);
  if (name === "details") {
    const imei = kept.imei === undefined ? standing.imei : kept.imei.trim();
    if (kept.imei !== undefined && imei) {
      const read = readImei(imei);
      if (!read.ok) return refuse(`IMEI: ${read.says}`);
    }
    const serial = kept.serial === undefined ? standing.serial : kept.serial.trim() || null;
    try {
      saveDevice(
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
    } catch (error) {
      if (error instanceof StaleEdit) return refuse(error.message);
      throw error;
    }
    return { ok: true, anchor: "#details" };
  }
  return refuse("This form is not known. Reload the page");
}

function takeReadOut(
  store: Store,
  standing: Standing,
  text: string,
  hand: { by: string; at: string },
  refuse: (says: string) => Acted,
): Acted {
  const read = readReadOut(text);
  if (read.kind === "nothing" || read.facts.size === 0)
    return refuse("This holds no read-out. Paste the whole output of “adb shell getprop” or “fastboot getvar all”");
  if (read.serial && standing.serial && read.serial !== standing.serial)
    return refuse(
      `This read-out is of another device: its serial number ends ${read.serial.slice(-4)}, ${standing.tag} ends ${standing.serial.slice(-4)}. Nothing was saved: check the label and the lead`,
    );
  const known = plannedDevice(store, standing);
  const codename = read.facts.get("model.codename");
  if (
    known.model &&
    codename !== undefined &&
    currentValue(known.facts, "model.number") &&
    codename !== known.model.codename
  )
    return refuse(
      `This read-out is of another model: its code name is ${codename}, ${standing.tag} is a ${known.model.codename}. Nothing was saved: check the label, or correct the model number first`,
    );
  store.transaction(() => {
    appendFacts(
      store,
      standing.id,
      [...read.facts].map(([key, value]) => ({ key, value, source: "read" as const, ...hand })),
    );
    if (read.serial && !standing.serial) saveDevice(store, standing, { ...standing, serial: read.serial }, hand);
  })();
  return { ok: true, anchor: "#facts" };
}
