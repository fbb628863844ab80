import type { Acts } from "~/phone/acts";
import { startSystem } from "~/phone/boot";
import { note } from "~/phone/state";

/** What fingers do with a loader board: the hidden button, the double-ended lead, the power supply. */
export const loaderHands: Acts = [
  [
    "keys.loader",
    (s, _rest, held) => {
      if (!s.loader) return "Nothing found: this device has no such button";
      if (!held.some((h) => h.keys.includes("hidden-button") && h.seconds >= 1))
        return "Nothing found: the button was not pressed while the lead went in";
      s.mode = "loader";
      note(s, "started the loader");
      return null;
    },
  ],
  ["check.chip", (s) => (s.loader ? null : "No information app names a loader board")],
  [
    "loader.leave",
    (s) => {
      if (s.mode !== "loader") return `The lead goes to nothing: the device is in ${s.mode}`;
      startSystem(s);
      // That it hangs at its picture is seen at the next step, not here.
      return null;
    },
  ],
];
