/** How a device answers the client. */
export type AttachedState =
  | "ready"
  | "unauthorised"
  | "offline"
  | "no-permission"
  | "recovery"
  | "sideload"
  | "bootloader"
  | "other";

export interface Attached {
  readonly client: "adb" | "fastboot";
  /** What the client calls it: its serial number, or its address. */
  readonly serial: string;
  readonly state: AttachedState;
  /** The client's own word for the state. */
  readonly word: string;
}

export interface AttachedInfo {
  readonly says: string;
  /** What to do so that it can be read; null when it can. */
  readonly remedy: string | null;
}

/** What each state means and what helps. Common practice, no source. */
export const ATTACHED: Record<AttachedState, AttachedInfo> = {
  ready: { says: "Ready", remedy: null },
  bootloader: { says: "In the bootloader", remedy: null },
  recovery: { says: "In recovery", remedy: null },
  unauthorised: {
    says: "Not authorised",
    remedy:
      "Look at the device's screen and allow this computer. No question there: revoke the authorisations in the developer options, unplug, plug in again.",
  },
  offline: {
    says: "Offline",
    remedy:
      "Unplug and plug in again; switch debugging off and on; try the original cable and a USB 2 port. Then restart the device.",
  },
  "no-permission": {
    says: "No permission",
    remedy:
      "This computer does not let the client use the port: add the rule for the device's maker (udev) or your account to the group that may, then plug in again. On other systems: the driver.",
  },
  sideload: {
    says: "Waiting for a package",
    remedy: "It answers nothing else in this state. Start the system or the bootloader, then read it.",
  },
  other: { says: "Another state", remedy: "Start the system with debugging on, or the bootloader, then look again." },
};

const ADB_STATES: Readonly<Record<string, AttachedState>> = {
  device: "ready",
  unauthorized: "unauthorised",
  authorizing: "unauthorised",
  offline: "offline",
  recovery: "recovery",
  sideload: "sideload",
};

/**
 * Reads what `adb devices` prints.
 *
 * @source AOSP adb, `devices`: a serial number, a tab, a state; "no permissions" comes with an explanation in brackets
 * @example readAdbDevices("List of devices attached\nVKL01\tunauthorized\n") // [{ client: "adb", serial: "VKL01", state: "unauthorised", word: "unauthorized" }]
 */
export function readAdbDevices(text: string): Attached[] {
  return lines(text).flatMap((line): Attached[] => {
    const match = /^(\S+)\s+(.+)$/.exec(line);
    if (!match || /^(List of devices|\*|adb server|error:)/.test(line)) return [];
    const [, serial, rest] = match;
    if (rest.startsWith("no permissions")) return [{ client: "adb", serial, state: "no-permission", word: rest }];
    const word = rest.split(/\s/)[0];
    return [{ client: "adb", serial, state: ADB_STATES[word] ?? "other", word }];
  });
}

/**
 * Reads what `fastboot devices` prints.
 *
 * @source AOSP fastboot, `devices`: a serial number, a tab, "fastboot" or "fastbootd"; "no permissions" where the port is barred
 * @example readFastbootDevices("VKL01\tfastboot\n") // [{ client: "fastboot", serial: "VKL01", state: "bootloader", word: "fastboot" }]
 */
export function readFastbootDevices(text: string): Attached[] {
  return lines(text).flatMap((line): Attached[] => {
    const match = /^(\S+|\?+)\s+(fastbootd?|no permissions.*)$/.exec(line);
    if (!match) return [];
    const [, serial, word] = match;
    return [{ client: "fastboot", serial, state: word.startsWith("no") ? "no-permission" : "bootloader", word }];
  });
}

const lines = (text: string) =>
  text
    .split(/\r?\n/)
    .map((l) => l.trim())
    .filter(Boolean);

/**
 * Whether its facts can be read now.
 *
 * @example isReadable({ state: "unauthorized", … }) // false
 */
export const isReadable = (a: Attached) => ATTACHED[a.state].remedy === null;
