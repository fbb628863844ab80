import type { ImageSituation, Rule } from "~/core/upgrade/rule";
import { askRule, type RuleCase, recovery } from "~/testing/askRule";
import * as rules from "./rules";

const TABLE: readonly (readonly [string, Rule<ImageSituation>, RuleCase, string])[] = [
  [
    "a custom recovery new enough",
    rules.recoveryInstalls,
    { image: { needs: { recoveryVersion: "3.0" } }, others: [recovery()], state: { recovery: "r" } },
    "holds",
  ],
  ["no recovery", rules.recoveryInstalls, {}, "recovery.missing"],
  // Common practice, no source: a recovery below 3.x refuses Android 9 packages and later.
  [
    "a recovery below 3.x",
    rules.recoveryInstalls,
    {
      image: { needs: { recoveryVersion: "3.0" } },
      others: [recovery({ version: "2.8.7" })],
      state: { recovery: "r" },
    },
    "recovery.too-old",
  ],
  [
    "a custom recovery where the ROM's own is needed",
    rules.recoveryInstalls,
    { image: { installs: "sideload" }, others: [recovery()], state: { recovery: "r" } },
    "recovery.missing",
  ],
  [
    "the ROM's own recovery of the same release",
    rules.recoveryInstalls,
    { image: { installs: "sideload" }, others: [recovery({ flavour: "rom" })], state: { recovery: "r" } },
    "holds",
  ],
  [
    "the ROM's own recovery of a newer release",
    rules.recoveryInstalls,
    { image: { installs: "sideload" }, others: [recovery({ flavour: "rom" }, 34)], state: { recovery: "r" } },
    "recovery.other-release",
  ],
  [
    "a recovery known not to work with it",
    rules.recoveryInstalls,
    { others: [recovery()], state: { recovery: "r" }, pairs: [["i", "r"]] },
    "pair.incompatible",
  ],
  [
    "recovery larger than its partition",
    rules.recoveryFits,
    {
      kind: "recovery",
      image: { flavour: "custom", files: [{ name: "r.img", partition: "recovery", bytes: 80_000_000 }] },
    },
    "gsi.room",
  ],
  [
    "no recovery partition",
    rules.recoveryFits,
    { kind: "recovery", image: { flavour: "custom" }, model: { room: { system: 1e9, product: null } } },
    "recovery.no-partition",
  ],
];

test.each(TABLE)("%s", (_name, rule, given, expected) => {
  expect(askRule(rule, given)).toBe(expected);
});
