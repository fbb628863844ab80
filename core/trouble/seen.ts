import { z } from "zod";

/** What somebody sees when something is wrong, as it is picked at the bench. */
export const SeenTrouble = z.enum([
  "animation-hangs",
  "restarts-again",
  "start-screen-only",
  "stock-recovery",
  "error-seven-system",
  "error-seven-addon",
  "storage-unreadable",
  "format-errors",
  "erase-errors",
  "nothing-on-computer",
  "dark",
]);
export type SeenTrouble = z.infer<typeof SeenTrouble>;

/** Each as it is seen, and what it is. Common practice, no source: the handbook's table "When it goes wrong". */
export const SEEN: Record<SeenTrouble, { readonly says: string; readonly is: string }> = {
  "animation-hangs": { says: "The animation runs for more than 5 minutes", is: "The first start hangs" },
  "restarts-again": {
    says: "It restarts again and again",
    is: "Data of another system, or a companion file of another build",
  },
  "start-screen-only": {
    says: "Only the start screen; the computer still sees it",
    is: "There is no system on it that starts",
  },
  "stock-recovery": {
    says: "The maker's recovery instead of the custom one",
    is: "The stock system started in between",
  },
  "error-seven-system": { says: "“Error 7” on a ROM or firmware", is: "Another device, another base, or no room" },
  "error-seven-addon": { says: "“Error 7” on a services add-on", is: "Often harmless with one kind of recovery" },
  "storage-unreadable": { says: "Storage shows random names, or 0", is: "It is encrypted" },
  "format-errors": { says: "Formatting data gives an error", is: "The client can't make the file system" },
  "erase-errors": { says: "Erasing system gives an error", is: "No room, or a logical partition" },
  "nothing-on-computer": { says: "Nothing shows on the computer", is: "Lead, port, driver, or another mode" },
  dark: { says: "Dark, warm, no key works", is: "Perhaps the firmware" },
};
