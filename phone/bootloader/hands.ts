import type { Acts } from "~/phone/acts";
import { confirmLock } from "./fastboot";

/** What fingers do on the start screen. */
export const bootloaderHands: Acts = [
  [
    "keys.bootloader",
    (s) => {
      s.mode = "bootloader";
      return null;
    },
  ],
  ["bootloader.confirm-unlock", (s) => confirmLock(s, "unlock")],
  ["bootloader.confirm-lock", (s) => confirmLock(s, "lock")],
];
