import { NO_FACETS } from "~/core/catalogue/facets";
import type { ImageSituation, Rule } from "~/core/upgrade/rule";
import { askRule, type RuleCase, recovery } from "~/testing/askRule";
import * as rules from "./rules";

/** A generic image for 32-bit processors with some of its facets told. */
const gsi = (generic: object, image: object = {}): RuleCase => ({
  kind: "gsi",
  image: { models: [], cpu: "arm", generic: { ...NO_FACETS, ...generic }, ...image },
  facts: { "cpu.arch": "arm" },
});

const REMOVABLE = { logical: true, userspaceFastboot: true, room: { system: 1e9, product: 5e8 } };

const TABLE: readonly (readonly [string, Rule<ImageSituation>, RuleCase, string])[] = [
  ["vendor interface by the model", rules.vendorInterface, {}, "holds"],
  [
    "no vendor interface read on the device",
    rules.vendorInterface,
    { facts: { "treble.supported": false } },
    "gsi.needs-vendor-interface",
  ],
  // Published: the vendor interface came with Android 8.0 (API 26); a device launched before has none.
  ["launched before Android 8", rules.vendorInterface, { model: { launchApi: 25 } }, "gsi.needs-vendor-interface"],
  [
    "launched before Android 8, but the device says that it has one",
    rules.vendorInterface,
    { model: { launchApi: 25 }, facts: { "treble.supported": true } },
    "holds",
  ],
  [
    "the record has none, the device says it has one",
    rules.vendorInterface,
    { model: { treble: false }, facts: { "treble.supported": true } },
    "holds",
  ],
  [
    "a newer generic image over a generic one on a known base",
    rules.stockBase,
    { facts: { "system.kind": "generic", "base.release": "10", "base.build": "B1" } },
    "holds",
  ],
  [
    "a generic image over one whose base nobody knows",
    rules.stockBase,
    { facts: { "system.kind": "generic" } },
    "? base.release",
  ],
  [
    "a generic image where a stock package was not finished",
    rules.stockBase,
    { facts: { "system.kind": "none" } },
    "gsi.needs-stock-base",
  ],
  [
    "a generic image where another was not finished, over a base that is known",
    rules.stockBase,
    { facts: { "system.kind": "none", "base.release": "9" } },
    "holds",
  ],
  [
    "a generic image where nobody looked at the recovery",
    rules.stockBase,
    { facts: { "recovery.image": null } },
    "? recovery.image",
  ],
  [
    "product taken out from under a running stock system: it is there",
    rules.productRemovable,
    { model: REMOVABLE, facts: { "product.removed": null } },
    "holds",
  ],
  [
    "product taken out from under another generic image: that is asked",
    rules.productRemovable,
    { model: REMOVABLE, facts: { "system.kind": "generic", "product.removed": null } },
    "? product.removed",
  ],
  [
    "a generic image on a stock system that does not start",
    rules.stockBase,
    { facts: { "system.starts": "no" } },
    "gsi.needs-stock-base",
  ],
  [
    "a generic image on a stock system taken apart for it",
    rules.stockBase,
    {
      model: { logical: true, room: { system: 1e9, product: 5e8 } },
      facts: { "system.starts": "no", "product.removed": true },
    },
    "holds",
  ],
  [
    "a generic image behind a ROM's own recovery",
    rules.stockBase,
    { others: [recovery({ flavour: "rom" })], state: { recovery: "r" } },
    "gsi.needs-stock-base",
  ],
  ["a generic image over a ROM", rules.stockBase, { facts: { "system.kind": "custom" } }, "gsi.needs-stock-base"],
  ["a generic image older than the vendor part", rules.stockBase, { api: 28 }, "gsi.older-than-base"],
  ["fits", rules.imageFits, { kind: "gsi", image: { cpu: "arm64" } }, "holds"],
  ["the image says nothing of its binder", rules.binderFits, gsi({}), "holds"],
  ["64-bit processors have one binder", rules.binderFits, gsi({ binder: "64" }, { cpu: "arm64" }), "holds"],
  ["nobody knows the kernel's bits", rules.binderFits, gsi({ binder: "64" }), "? kernel.binder"],
  ["the model tells them", rules.binderFits, { ...gsi({ binder: "64" }), model: { binder: "64" } }, "holds"],
  [
    "read on the device, against the model's record",
    rules.binderFits,
    { ...gsi({ binder: "64" }), model: { binder: "64" }, facts: { "kernel.binder": "32" } },
    "gsi.binder",
  ],
  ["the image says nothing of its layout", rules.layoutFits, gsi({}), "holds"],
  ["A/B on two slots", rules.layoutFits, { ...gsi({ slots: "ab" }), model: { slots: true, launchApi: 26 } }, "holds"],
  // Common practice, no source: sold with Android 10 or later, the root folder is inside whatever the slots.
  [
    "A/B on one slot, sold with Android 10",
    rules.layoutFits,
    { ...gsi({ slots: "ab" }), model: { launchApi: 29 } },
    "holds",
  ],
  ["A/B on one slot, sold with Android 9", rules.layoutFits, gsi({ slots: "ab" }), "? system.as-root"],
  [
    "A/B on one slot, sold with Android 8",
    rules.layoutFits,
    { ...gsi({ slots: "ab" }), model: { launchApi: 26 } },
    "gsi.slots",
  ],
  ["read on the device", rules.layoutFits, { ...gsi({ slots: "ab" }), facts: { "system.as-root": true } }, "holds"],
  ["the model's record", rules.layoutFits, { ...gsi({ slots: "ab" }), model: { systemAsRoot: false } }, "gsi.slots"],
  ["A-only on two slots", rules.layoutFits, { ...gsi({ slots: "a-only" }), model: { slots: true } }, "gsi.slots"],
  ["A-only, sold with Android 8", rules.layoutFits, { ...gsi({ slots: "a-only" }), model: { launchApi: 27 } }, "holds"],
  [
    "does not fit what was read",
    rules.imageFits,
    { kind: "gsi", image: { cpu: "arm64" }, facts: { "room.system": 1_000_000_000 } },
    "gsi.room",
  ],
  [
    "fits with product's room",
    rules.imageFits,
    {
      kind: "gsi",
      image: { cpu: "arm64" },
      facts: { "room.system": 1_000_000_000 },
      model: { room: { system: 1e9, product: 500_000_000 } },
      state: { product: "removed" },
    },
    "holds",
  ],
  ["verification still on", rules.verificationIsOff, {}, "verification.missing"],
  [
    "verification goes off after the image by policy",
    rules.verificationIsOff,
    { policy: { verificationOrder: "after" } },
    "holds",
  ],
  [
    "verification file of the build",
    rules.verificationMatches,
    { kind: "verification", image: { build: "B1" } },
    "holds",
  ],
  [
    "verification file of another build",
    rules.verificationMatches,
    { kind: "verification", image: { build: "B2" } },
    "verification.other-build",
  ],
  [
    "build not known",
    rules.verificationMatches,
    { kind: "verification", image: { build: "B1" }, facts: { "build.number": null } },
    "? build.number",
  ],
  [
    "product can go",
    rules.productRemovable,
    { model: { logical: true, userspaceFastboot: true, room: { system: 1e9, product: 5e8 } } },
    "holds",
  ],
  [
    "no userspace fastboot on this very device",
    rules.productRemovable,
    {
      model: { logical: true, userspaceFastboot: true, room: { system: 1e9, product: 5e8 } },
      facts: { "fastboot.userspace": false },
    },
    "product.not-removable",
  ],
  [
    "slot not known",
    rules.productRemovable,
    { model: { slots: true, logical: true, userspaceFastboot: true, room: { system: 1e9, product: 5e8 } } },
    "? slot.current",
  ],
];

test.each(TABLE)("%s", (_name, rule, given, expected) => {
  expect(askRule(rule, given)).toBe(expected);
});
