export const makerScriptReasons = {
  "script.locks":
    "A maker's script that locks the device is never run: locking is a step of its own, behind a start that was seen",
  "script.unknown": "A maker's script with commands that are not known is shown, not run",
  "script.no-file": "Every file that the script writes must lie in the package",
} as const;
