import { type Acts, type Held, only } from "~/phone/acts";
import { startSystem, wipeData } from "~/phone/boot";
import { enterRecovery, runningRecovery } from "~/phone/recovery/hands";
import { note, type PhoneState } from "~/phone/state";

/** Seconds after which keys do something, and after which the moment for the next keys has passed. Common practice, no source. */
const [DARK_AFTER, TOO_LATE] = [6, 10];
const RECOVERY_AFTER = 5;

const isHeld = (held: Held | undefined, keys: readonly string[]) =>
  held !== undefined && held.keys.length === keys.length && keys.every((k) => held.keys.includes(k));

/** Starts download mode; an unlocked phone whose switch nobody saw greyed locks itself again here. */
export function enterDownload(state: PhoneState): string | null {
  if (!state.download) return "Nothing comes: this device has no download mode";
  state.mode = "download";
  if (!state.locked && state.download.relocksItself && !state.download.toggleSeen) {
    state.locked = true;
    note(state, "locked itself again at the start of download mode");
  }
  return null;
}

/** What fingers do in the maker's download mode, and on the way out of it. */
export const downloadHands: Acts = [
  ["keys.download", (s) => enterDownload(s)],
  ["download.look", (s) => only(s, "download", "The screen of download mode")],
  [
    "download.unlock",
    (s, _rest, held) => {
      const off = only(s, "download", "Download mode");
      if (off) return off;
      if (!isHeld(held[0], ["volume-up"]) || held[0].seconds < DARK_AFTER) return "No question comes: held too short";
      if (!s.unlock.possible || s.permission !== "granted")
        return "No question comes: unlocking is not allowed in the developer options";
      if (!s.locked) return "It is unlocked already";
      wipeData(s, true);
      s.locked = false;
      if (s.download) s.download.toggleSeen = false;
      note(s, "unlocked in download mode");
      startSystem(s);
      return null;
    },
  ],
  [
    "android.see-toggle",
    (s) => {
      const off = only(s, "android", "Developer options");
      if (off) return off;
      if (s.locked) return "The switch is off: the device is locked";
      if (s.download) s.download.toggleSeen = true;
      return null;
    },
  ],
  [
    "keys.download-to-recovery",
    (s, _rest, held) => {
      const off = only(s, "download", "Download mode");
      if (off) return off;
      const [leave, go] = held;
      if (!isHeld(leave, ["volume-down", "power"]) || leave.seconds < DARK_AFTER)
        return "Nothing happens: it is still in download mode";
      const inTime = leave.seconds < TOO_LATE && isHeld(go, ["volume-up", "power"]) && go.seconds >= RECOVERY_AFTER;
      if (inTime && runningRecovery(s)) {
        enterRecovery(s);
        note(s, "from download mode straight into the recovery");
        return null;
      }
      startSystem(s);
      return "Android starts: the keys came too late";
    },
  ],
];
