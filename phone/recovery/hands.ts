import { type Acts, only, type Seen } from "~/phone/acts";
import { startSystem, wipeData } from "~/phone/boot";
import { type Content, contentOf, note, type PhoneState, slotted } from "~/phone/state";
import { installPackage } from "./packages";

/** The recovery that starts: the content that carries it; null where nothing usable is there. */
export function runningRecovery(state: PhoneState): Content | null {
  const content = state.slots ? contentOf(state, "vendor_boot") : contentOf(state, "recovery");
  return content?.devices.length && !content.devices.includes(state.codename) ? null : content;
}

const isForeign = (c: Content | null): c is Content => c !== null && c.kind === "recovery";

const here = (state: PhoneState): Seen => only(state, "recovery", "The recovery");

/** What fingers do in a recovery's menu. */
export const recoveryHands: Acts = [
  [
    "keys.recovery",
    (s) => {
      if (!runningRecovery(s)) return "Nothing comes: the recovery on it does not start";
      s.mode = "recovery";
      note(s, "started the recovery by keys");
      return null;
    },
  ],
  [
    "recovery.backup-identity",
    (s) => here(s) ?? (isForeign(runningRecovery(s)) ? null : "The stock recovery has no backup menu"),
  ],
  [
    "recovery.wipe-advanced",
    (s) => {
      const off = here(s);
      if (off) return off;
      if (!isForeign(runningRecovery(s))) return "The stock recovery has no such menu";
      wipeData(s, false);
      s.partitions[slotted(s, "system")] = null;
      note(s, "wiped cache, dalvik, system, data");
      return null;
    },
  ],
  [
    "recovery.format-data",
    (s) => {
      const off = here(s);
      if (off) return off;
      wipeData(s, true);
      note(s, "formatted data");
      return null;
    },
  ],
  [
    "recovery.factory-reset",
    (s) => {
      const off = here(s);
      if (off) return off;
      wipeData(s, true);
      note(s, "reset in the recovery");
      return null;
    },
  ],
  ["recovery.install.", installFromStorage],
  [
    "recovery.apply-from-adb",
    (s) => {
      const off = here(s);
      if (off) return off;
      s.mode = "sideload";
      return null;
    },
  ],
  ["recovery.install-more", here],
  [
    "recovery.start-system",
    (s) => {
      const off = here(s);
      if (off) return off;
      startSystem(s);
      return null;
    },
  ],
];

function installFromStorage(state: PhoneState, image: string): Seen {
  const off = here(state);
  if (off) return off;
  const recovery = runningRecovery(state);
  if (!isForeign(recovery) || recovery.flavour !== "custom")
    return "The stock recovery does not install this: signature verification failed";
  const content = Object.values(state.storage).find((c) => c.image === image);
  if (!content) return "There is no such file on the device";
  return installPackage(state, content, recovery);
}
