import { boardPartitions } from "~/core/catalogue/boardList";
import { lookUp } from "~/core/device/lookUp";
import { fails, HOLDS, unknown } from "~/core/upgrade/outcome";
import { imageRule, rule } from "~/core/upgrade/rule";

export const loaderRecorded = rule([], ({ device: { model } }) =>
  model.loader
    ? HOLDS
    : fails("loader.not-recorded", "The model's record says nothing of its board: add chip, hidden button and list"),
);

const same = (a: string, b: string) => a.trim().toLowerCase() === b.trim().toLowerCase();

/** The chip in this very box is the one the record is about: it is read, never taken from the name on the box. */
export const chipIsThis = rule([], ({ device: { model, facts } }) => {
  const chip = lookUp(facts, "board.chip");
  if (chip.isUnknown) return unknown("loader.other-chip", "board.chip");
  return model.loader && !same(chip.value, model.loader.chip)
    ? fails("loader.other-chip", `Its chip is ${chip.value}; the model's record is about ${model.loader.chip}`)
    : HOLDS;
});

export const madeForChip = imageRule([], ({ entry: { image }, device: { facts } }) => {
  const chip = lookUp(facts, "board.chip");
  if (chip.isUnknown) return unknown("loader.other-chip", "board.chip");
  return image.chip !== null && same(image.chip, chip.value)
    ? HOLDS
    : fails(
        "loader.other-chip",
        `Made for ${image.chip ?? "a chip that nobody wrote down"}; this board has ${chip.value}`,
      );
});

export const rowsForAll = imageRule([], ({ entry: { image }, device: { model } }) => {
  if (!model.loader) return HOLDS;
  const rows = boardPartitions(model.loader.list);
  const without = image.files.find((f) => f.partition === null || !rows.includes(f.partition));
  return without
    ? fails("loader.no-row", `There is no row for ${without.name} in the board's list: ${rows.join(", ")}`)
    : HOLDS;
});

export const wasDumped = rule([], ({ device: { facts } }) => {
  const dumped = lookUp(facts, "board.dumped");
  return !dumped.isUnknown && dumped.value
    ? HOLDS
    : fails("loader.not-dumped", "Nothing was dumped of this board while it worked: there is nothing to give back");
});
