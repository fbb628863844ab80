import { z } from "zod";

/** What a division takes as enough, because nobody wrote down how much there is of it. */
export const TakenAsEnough = z.enum(["hands", "evenings", "places"]);
export type TakenAsEnough = z.infer<typeof TakenAsEnough>;

/** Said while it is divided, and of the odds of a division that stands. */
export const TAKEN_AS_ENOUGH: Record<TakenAsEnough, { readonly now: string; readonly since: string }> = {
  hands: {
    now: "Nobody is written down who comes: bench time is taken as enough. Write it down at Evenings",
    since:
      "When they were divided nobody was written down who comes: these odds take bench time as enough. Write it down at Evenings",
  },
  evenings: {
    now: "No evening is written down that is held: bench time is taken as enough. Write it down at Evenings",
    since:
      "When they were divided no evening was written down that is held: these odds take bench time as enough. Write it down at Evenings",
  },
  places: {
    now: "No bench is written down: places are taken as enough",
    since:
      "When they were divided no bench was written down: these odds take places as enough. Write one down at Benches",
  },
};
