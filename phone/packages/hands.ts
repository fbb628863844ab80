import { type Acts, only } from "~/phone/acts";
import { note } from "~/phone/state";
import { whatIsWrongAtHome } from "./effects";

/** What a person does and sees around a cleaned system. */
export const packageHands: Acts = [
  [
    "android.skip-setup",
    (s) =>
      only(s, "android", "The set-up") ?? (s.accountLock ? "The set-up asks for the earlier owner's account" : null),
  ],
  ["check.home-works", (s) => only(s, "android", "The home screen") ?? whatIsWrongAtHome(s.packages)],
  [
    "check.home-comes",
    (s) => {
      if (s.mode !== "android") return `The home screen does not come: ${s.trail.at(-1) ?? s.mode}`;
      return whatIsWrongAtHome(s.packages)?.startsWith("The screen") ? "The screen stays black" : null;
    },
  ],
  [
    "android.debugging-off",
    (s) => {
      const off = only(s, "android", "Settings");
      if (off) return off;
      s.debugging = false;
      s.authorised = false;
      note(s, "debugging off");
      return null;
    },
  ],
];
