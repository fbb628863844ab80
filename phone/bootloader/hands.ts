import type { Acts } from "~/phone/acts";
import type { PhoneState } from "~/phone/state";
import { confirmLock } from "./fastboot";

/** Devices with the maker's download mode or a loader board have no fastboot. */
export const speaksFastboot = (state: PhoneState) => !state.download && !state.loader;

/** What fingers do on the start screen. */
export const bootloaderHands: Acts = [
  [
    "keys.bootloader",
    (s) => {
      if (!speaksFastboot(s)) return "Nothing comes: this device has no fastboot";
      s.mode = "bootloader";
      return null;
    },
  ],
  ["bootloader.confirm-unlock", (s) => confirmLock(s, "unlock")],
  ["bootloader.confirm-lock", (s) => confirmLock(s, "lock")],
];
