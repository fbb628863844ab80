import { type Acts, only, type Seen } from "~/phone/acts";
import { startSystem, wipeData } from "~/phone/boot";
import { showsOwnIdentity } from "~/phone/identity";
import { resetPackages } from "~/phone/packages/effects";
import { type Content, contentOf, kindOf, note, type PhoneState, slotted } from "~/phone/state";

const ACCOUNT_ASKED = "The set-up asks for the earlier owner's account";

const inSettings = (s: PhoneState): Seen => only(s, "android", "Settings") ?? (s.accountLock ? ACCOUNT_ASKED : null);

/** What fingers do in Android, and what eyes see on it. */
export const androidHands: Acts = [
  ["check.label", () => null],
  ["check.charged", () => null],
  ["check.battery", (s) => (s.battery >= 30 ? null : `The battery shows ${s.battery} %`)],
  [
    "check.identity",
    (s) =>
      only(s, "android", "The dialler") ??
      (showsOwnIdentity(s) ? null : "*#06# shows no IMEI, or another: its own was written over"),
  ],
  ["check.serial", (s) => only(s, "android", "Settings")],
  ["confirm.irreversible", () => null],
  [
    "check.started",
    (s) => {
      if (s.mode === "android") return s.accountLock ? ACCOUNT_ASKED : null;
      return `The set-up screen does not come: ${s.trail.at(-1) ?? s.mode}`;
    },
  ],
  ["check.release", (s) => only(s, "android", "Settings")],
  [
    "android.remove-accounts",
    (s) => {
      const off = inSettings(s);
      if (off) return off;
      s.accounts = false;
      return null;
    },
  ],
  [
    "android.remove-workshop-account",
    (s) => {
      const off = inSettings(s);
      if (off) return off;
      s.accounts = false;
      return null;
    },
  ],
  ["android.updates-off", (s) => inSettings(s)],
  [
    "android.enable-debugging",
    (s) => {
      const off = inSettings(s);
      if (off) return off;
      s.debugging = true;
      return null;
    },
  ],
  [
    "android.authorise-computer",
    (s) => {
      if (!s.debugging) return "The device does not ask: debugging is off";
      s.authorised = true;
      return null;
    },
  ],
  [
    "android.allow-unlocking",
    (s) => {
      const off = only(s, "android", "Developer options");
      if (off) return off;
      if (!s.unlock.possible) return "There is no such switch on this device";
      s.permission = s.unlock.waitingDays > 0 ? "switched" : "granted";
      return null;
    },
  ],
  [
    "android.request-unlock",
    (s) => {
      if (s.permission !== "switched") return "Unlocking is not allowed in the developer options";
      s.permission = "asked";
      // The maker gives the permission to an account: the workshop's own is on it from now on.
      s.accounts = true;
      return null;
    },
  ],
  [
    "android.wait-unlock",
    (s) => {
      if (s.permission !== "asked") return "No permission was asked for";
      s.permission = "granted";
      note(s, `waited ${s.unlock.waitingDays} days`);
      return null;
    },
  ],
  ["android.take-update.", takeUpdate],
  [
    "android.factory-reset",
    (s) => {
      const off = only(s, "android", "Settings");
      if (off) return off;
      wipeData(s, true, { proper: true });
      note(s, "reset from Settings");
      startSystem(s);
      return null;
    },
  ],
  ["android.finish-setup", (s) => only(s, "android", "The set-up") ?? (s.accountLock ? ACCOUNT_ASKED : null)],
  [
    "keys.start",
    (s) => {
      startSystem(s);
      return null;
    },
  ],
];

const UPDATED = ["system", "boot", "vbmeta", "recovery", "product", "vendor_boot", "dtbo", "radio"];

function takeUpdate(state: PhoneState, image: string): Seen {
  const off = only(state, "android", "Settings");
  if (off) return off;
  const system = contentOf(state, "system");
  const offer = state.offers.find((o) => o.image === image);
  if (!offer || !system || kindOf(system) !== "stock") return "No update is offered";
  if (offer.fromReleases.length && !offer.fromReleases.includes(system.release))
    return "No update is offered for this version";
  // On a device with slots the update goes to the other slot, which then becomes the current one.
  const before = state.slot;
  const names = UPDATED.filter((name) => contentOf(state, name));
  const sizes = names.map((name) => contentOf(state, name)?.size ?? 4096);
  if (before) {
    state.slot = before === "a" ? "b" : "a";
    for (const name of ["system", "product"]) {
      const old = `${name}_${before}`;
      if (!(old in state.logicalSizes)) continue;
      state.logicalSizes[slotted(state, name)] = state.logicalSizes[old];
      delete state.logicalSizes[old];
      state.partitions[old] = null;
    }
  }
  names.forEach((name, i) => {
    const updated: Content = { ...offer, size: sizes[i] };
    state.partitions[slotted(state, name)] = updated;
  });
  if (offer.firmware) state.firmware = offer.firmware;
  resetPackages(state.packages);
  note(state, `took the update ${image}`);
  startSystem(state);
  return null;
}
