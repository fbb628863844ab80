import type { Image } from "~/core/catalogue/image";
import { isWhole, missingParts } from "./wholeness";

type WrittenBy = Image["writtenBy"];
const of = (writtenBy: WrittenBy, files: readonly object[]) =>
  ({ writtenBy, files }) as unknown as Parameters<typeof isWhole>[0];
const parts = (...partitions: string[]) => partitions.map((partition) => ({ partition, slot: null }));
const slots = (...names: string[]) => names.map((slot) => ({ partition: null, slot }));

const PLAIN = { slots: false, treble: false, room: { system: 1, product: null, recovery: 1 } } as never;
const FULL = { slots: true, treble: true, room: { system: 1, product: 1, recovery: 1 } } as never;

test.each([
  ["nothing", PLAIN, [], ["boot", "system", "recovery"]],
  ["all of a plain model", PLAIN, ["boot", "system", "recovery"], []],
  ["system alone", PLAIN, ["system"], ["boot", "recovery"]],
  ["boot alone", PLAIN, ["boot", "recovery"], ["system"]],
  ["a model with slots keeps its recovery in boot", FULL, ["boot", "system", "vbmeta", "product"], []],
  ["without what the maker checks", FULL, ["boot", "system", "product"], ["vbmeta"]],
  ["without product", FULL, ["boot", "system", "vbmeta"], ["product"]],
] as const)("partition by partition: %s", (_name, model, has, missing) => {
  expect(missingParts(of("parts", parts(...has)), model)).toEqual(missing);
  expect(isWhole(of("parts", parts(...has)), model)).toBe(missing.length === 0);
});

test.each([
  [["bootloader", "system", "region-wipe"], 0],
  [["bootloader", "system", "region-keep"], 1],
  [["bootloader", "region-wipe"], 1],
  [["system", "region-wipe"], 1],
  [["region-wipe"], 2],
  [[], 3],
] as const)("a flasher's package with %j lacks %d of its tars, each by its name", (has, lacks) => {
  const missing = missingParts(of("flasher", slots(...has)), PLAIN);
  expect(missing).toHaveLength(lacks);
  expect(isWhole(of("flasher", slots(...has)), PLAIN)).toBe(lacks === 0);
  const every = missingParts(of("flasher", []), PLAIN);
  expect(every.filter((name) => !missing.includes(name))).toHaveLength(3 - lacks);
});

test("a card holds it as one piece", () => {
  expect(isWhole(of("card", []), FULL)).toBe(true);
});
