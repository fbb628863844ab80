import type { ImageSituation, Rule } from "~/core/upgrade/rule";
import { askRule, type RuleCase } from "~/testing/askRule";
import { doesNotStart, recoveryIsStock } from "./rules";

/** Its partitions share their room: product can be taken out. */
const LOGICAL = { logical: true, userspaceFastboot: true, room: { system: 1_500_000_000, product: 900_000_000 } };

const TABLE: readonly (readonly [string, Rule<ImageSituation>, RuleCase, string])[] = [
  ["a stock system that does not start", doesNotStart, { facts: { "system.starts": "no" } }, "holds"],
  ["one that starts is not rescued", doesNotStart, {}, "order.wrong-moment"],
  [
    "a stock system without product: formatting helps nothing",
    doesNotStart,
    { facts: { "system.starts": "no", "product.removed": true }, model: LOGICAL },
    "order.wrong-moment",
  ],
  [
    "a stock system whose product nobody looked at",
    doesNotStart,
    { facts: { "system.starts": "no", "product.removed": null }, model: LOGICAL },
    "? product.removed",
  ],
  [
    "a ROM does without the maker's product",
    doesNotStart,
    { facts: { "system.starts": "no", "system.kind": "custom", "product.removed": null }, model: LOGICAL },
    "holds",
  ],
  ["a reset by keys in the maker's recovery", recoveryIsStock, {}, "holds"],
  ["… in another", recoveryIsStock, { facts: { "recovery.image": "another" } }, "order.wrong-moment"],
  ["… that nobody looked at", recoveryIsStock, { facts: { "recovery.image": null } }, "? recovery.image"],
  [
    "… on a locked device: locked means the maker's",
    recoveryIsStock,
    { facts: { "recovery.image": null, "bootloader.locked": true } },
    "holds",
  ],
];

test.each(TABLE)("%s", (_name, rule, given, expected) => {
  expect(askRule(rule, given)).toBe(expected);
});
