import { type Acts, only, type Seen } from "~/phone/acts";
import { startSystem, wipeData, writePartition } from "~/phone/boot";
import { type Content, contentOf, note, type PhoneState, slotted } from "~/phone/state";
import { installPackage } from "./packages";

/** The recovery that starts: the content that carries it; null where nothing usable is there. */
export function runningRecovery(state: PhoneState): Content | null {
  const content = state.slots ? contentOf(state, "vendor_boot") : contentOf(state, "recovery");
  return content?.devices.length && !content.devices.includes(state.codename) ? null : content;
}

const isForeign = (c: Content | null): c is Content => c !== null && c.kind === "recovery";

/** The recovery starts: what was formatted before can be read now. */
export function enterRecovery(state: PhoneState) {
  state.mode = "recovery";
  state.encryption.justFormatted = false;
}

/** Why the recovery can't write to storage; null when it can. */
export function storageClosed(state: PhoneState): string | null {
  const { encryption } = state;
  if (encryption.kind === null) return null;
  if (encryption.justFormatted) return "storage was formatted and the recovery has not restarted since";
  return encryption.on && runningRecovery(state)?.needsDecrypted ? "storage is encrypted" : null;
}

const here = (state: PhoneState): Seen => only(state, "recovery", "The recovery");

/** What fingers do in a recovery's menu. */
export const recoveryHands: Acts = [
  [
    "keys.recovery",
    (s) => {
      if (!runningRecovery(s)) return "Nothing comes: the recovery on it does not start";
      enterRecovery(s);
      note(s, "started the recovery by keys");
      return null;
    },
  ],
  [
    "recovery.backup-identity",
    (s) => here(s) ?? (isForeign(runningRecovery(s)) ? null : "The stock recovery has no backup menu"),
  ],
  [
    "recovery.backup-system",
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
      s.encryption.justFormatted = s.encryption.kind !== null;
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
  [
    "recovery.encryption-off",
    (s) => {
      const off = here(s);
      if (off) return off;
      if (!isForeign(runningRecovery(s))) return "The stock recovery has no terminal";
      // Run once it only prepares; a device of the other kind takes no notice.
      s.encryption.ran++;
      if (s.encryption.kind === "script" && s.encryption.ran >= 2) s.encryption.on = false;
      return null;
    },
  ],
  [
    "recovery.wipe-keys",
    (s) => {
      const off = here(s);
      if (off) return off;
      if (!isForeign(runningRecovery(s))) return "The stock recovery has no such menu";
      wipeData(s, true);
      if (s.encryption.kind === "wipe") s.encryption.on = false;
      return null;
    },
  ],
  [
    "recovery.restart-recovery",
    (s) => {
      const off = here(s);
      if (off) return off;
      enterRecovery(s);
      return null;
    },
  ],
  ["recovery.install-image.", installImageToSystem],
  ["recovery.install-queued.", installQueued],
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

/** Writes a whole image to system, as the recovery's “install image” does. */
function installImageToSystem(state: PhoneState, image: string): Seen {
  const off = here(state);
  if (off) return off;
  if (!isForeign(runningRecovery(state))) return "The stock recovery has no such menu";
  const onStick = Object.entries(state.storage).find(([at, c]) => at.startsWith("/usb/") && c.image === image)?.[1];
  const closed = onStick ? null : storageClosed(state);
  if (closed) return `There is no file: ${closed}`;
  const content = onStick ?? Object.values(state.storage).find((c) => c.image === image);
  if (!content) return "There is no such file on the device";
  if (content.kind !== "gsi") return "This is no image of a system";
  if (content.size > (state.rooms.system ?? 0)) return "Not enough room on system";
  const refused = writePartition(state, slotted(state, "system"), content);
  if (refused) return refused;
  state.fresh = true;
  return null;
}

/** Installs the two packages of a port in one go; one that is missing is not noticed before the first start. */
function installQueued(state: PhoneState, image: string): Seen {
  const off = here(state);
  if (off) return off;
  const recovery = runningRecovery(state);
  if (!isForeign(recovery) || recovery.flavour !== "custom") return "The stock recovery does not install this";
  const packs = Object.values(state.storage).filter((c) => c.image === image && c.port);
  const first = packs.find((c) => c.pack === 1) ?? packs[0];
  if (!first) return "There is no such file on the device";
  const base = first.port?.base ?? null;
  const boot = contentOf(state, "boot");
  if (base !== null && boot?.build !== base) return `Error 7: it needs ${base} under it`;
  const refused = installPackage(state, first, recovery);
  const system = contentOf(state, "system");
  if (refused || !system) return refused;
  if (!packs.some((c) => c.pack === 2)) system.spoiled = "the port's vendor package was not installed";
  if (!packs.some((c) => c.pack === 1)) system.spoiled = "the port's system package was not installed";
  return null;
}
