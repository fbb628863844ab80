import { z } from "zod";
import { DEFAULT_FOLLOW_UP, FollowUpPolicy } from "~/core/clearance/followUp";
import { SchoolFields } from "./schools";

/** What ways are compared by, in the order a coordinator puts them; the first that differs decides. */
export const RankKey = z.enum([
  "works",
  "enough",
  "sure",
  "steady",
  "release",
  "patch",
  "cleaned",
  "success",
  "irreversible",
  "wipes",
  "waiting",
  "hands-on",
  "unattended",
  "bytes",
]);
export type RankKey = z.infer<typeof RankKey>;

export const RANK_WORDS: Record<RankKey, string> = {
  works: "Every app and all needed hardware works",
  enough: "The device is good enough as it is",
  sure: "Chance of success reaches the wanted level",
  steady: "No open fault in the hardware the device has",
  release: "Newer Android release",
  patch: "Newer security patch",
  cleaned: "The stock system is cleaned, where it is not good enough as it is",
  success: "Higher chance of success",
  irreversible: "Fewer marks that can't be undone",
  wipes: "Fewer wipes",
  waiting: "Fewer waiting days",
  "hands-on": "Fewer minutes hands-on",
  unattended: "Fewer minutes unattended",
  bytes: "Fewer gigabytes to fetch",
};

/**
 * The house's choices where practitioners disagree, and the order ways are ranked by. Defaults are common practice, no
 * source; the reason for each stands beside its field on the policy page.
 */
export const Policy = z.strictObject({
  rank: z
    .array(RankKey)
    .default([
      "works",
      "sure",
      "enough",
      "steady",
      "release",
      "patch",
      "cleaned",
      "irreversible",
      "success",
      "wipes",
      "waiting",
      "hands-on",
      "unattended",
      "bytes",
    ]),
  ...SchoolFields,
  batteryFloor: z.number().int().min(30).max(90).default(60),
  /** API levels above the app floor from which a device is left as it is. */
  enoughMargin: z.number().int().min(0).max(15).default(2),
  /** Chance of success below which a way is put behind. */
  sureFrom: z.number().min(0).max(1).default(0.75),
  /** How many own runs the handbook's rate of success weighs as much as. */
  priorRuns: z.number().min(1).max(100).default(10),
  followUp: FollowUpPolicy.default(DEFAULT_FOLLOW_UP),
  /** Who writes the letters to donors. */
  organisation: z.string().trim().min(2).max(80).default("The reuse workshop"),
  /** Address that donors answer to. */
  letterFrom: z
    .email("This is not an e-mail address; write it like desk@place.example")
    .default("desk@workshop.example"),
  /** Where dangerous devices go, as the local rules say. */
  collectionPoint: z
    .string()
    .trim()
    .min(5)
    .max(500)
    .default("Ask your municipality for its battery collection point and write it here, with its opening hours."),
});
export type Policy = z.infer<typeof Policy>;

export const DEFAULT_POLICY: Policy = Policy.parse({});
