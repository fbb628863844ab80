import type { ImageSituation, Rule } from "~/core/upgrade/rule";
import { askRule, type RuleCase } from "~/testing/askRule";
import { freshStock, fuseFits, modelNumberFits, regionFits, writable } from "./rules";

const stock = (image: object, facts: RuleCase["facts"] = {}, model: RuleCase["model"] = {}): RuleCase => ({
  kind: "stock",
  image: { firmware: "F3", installs: null, ...image },
  facts,
  model,
});

const parts = (...partitions: string[]) =>
  partitions.map((partition) => ({ name: `${partition}.img`, partition, bytes: 9 }));

const FRESH = { started: "fresh", system: "stock", storage: "clean" } as const;

const TABLE: readonly (readonly [string, Rule<ImageSituation>, RuleCase, string])[] = [
  ["a package for every region", regionFits, stock({ regions: [] }, { "device.region": "EU" }), "holds"],
  ["one of its regions", regionFits, stock({ regions: ["US", " eu"] }, { "device.region": "EU " }), "holds"],
  ["another's", regionFits, stock({ regions: ["US", "EU"] }, { "device.region": "IN" }), "stock.other-region"],
  ["a region that nobody knows", regionFits, stock({ regions: ["EU"] }), "? device.region"],

  ["a package for every number", modelNumberFits, stock({}, { "model.number": "N-m" }), "holds"],
  ["one of its numbers", modelNumberFits, stock({ modelNumbers: ["A-1", "n-M"] }), "holds"],
  ["another number", modelNumberFits, stock({ modelNumbers: ["A-1", "A-2"] }), "stock.other-number"],
  [
    "a number that nobody read, of a model with one",
    modelNumberFits,
    stock({ modelNumbers: ["N-m"] }, { "model.number": null, "model.codename": "m" }),
    "holds",
  ],
  [
    "a number that nobody read, of a model with two",
    modelNumberFits,
    stock({ modelNumbers: ["N-m"] }, { "model.number": null, "model.codename": "m" }, { modelNumbers: ["N-m", "N-n"] }),
    "? model.number",
  ],

  ["a fuse level that nobody read in the package", fuseFits, stock({}, { "fuse.level": 3 }), "firmware.fuse"],
  ["one that nobody read on the device", fuseFits, stock({ fuse: 3 }), "? fuse.level"],
  ["a lower one", fuseFits, stock({ fuse: 2 }, { "fuse.level": 3 }), "firmware.fuse"],
  ["the same one", fuseFits, stock({ fuse: 3 }, { "fuse.level": 3 }), "holds"],

  ["a package that names all its parts", writable, stock({ files: parts("boot", "system") }), "holds"],
  ["one without boot", writable, stock({ files: parts("system") }), "stock.not-whole"],
  ["one without system", writable, stock({ files: parts("boot") }), "stock.not-whole"],

  ["a stock system freshly written", freshStock, { state: FRESH }, "holds"],
  ["one that was started since", freshStock, { state: { ...FRESH, started: "running" } }, "order.wrong-moment"],
  ["another system", freshStock, { state: { ...FRESH, system: "custom" } }, "order.wrong-moment"],
  ["somebody's data still on it", freshStock, { state: { ...FRESH, storage: "donor" } }, "order.wrong-moment"],
  [
    "a system that was reset, and nobody knows which",
    freshStock,
    { facts: { "system.kind": null }, state: { started: "fresh", storage: "clean" } },
    "? system.kind",
  ],
];

test.each(TABLE)("%s", (_name, rule, given, expected) => expect(askRule(rule, given)).toBe(expected));
