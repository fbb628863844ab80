import { type Candidate, neverIn, type Option, type Question, takes } from "./question";

/** Devices that may do exactly the same, with the same chances: one number says how many of them go where. */
export type DeviceClass = { readonly devices: readonly string[]; readonly options: readonly Option[] };

/**
 * Devices that differ in nothing a division looks at are put together: a box of alike phones is a handful of numbers
 * instead of hundreds. What somebody pinned stands alone.
 */
export function classesOf({ candidates, pins, groups }: Question): DeviceClass[] {
  const known = new Set(groups.map(({ id }) => id));
  const pinned = new Set(pins.filter(({ group }) => known.has(group)).map(({ device }) => device));
  const isNever = neverIn(pins);
  const classes = new Map<string, { devices: string[]; options: Option[] }>();
  for (const { device, options } of candidates) {
    const open = options.filter(({ group }) => known.has(group) && !isNever(device, group));
    const key = pinned.has(device) ? `= ${device}` : keyOf({ device, options: open });
    const same = classes.get(key);
    if (same) same.devices.push(device);
    else classes.set(key, { devices: [device], options: open });
  }
  return [...classes.values()];
}

const keyOf = ({ options }: Candidate) =>
  options
    .map((option) => {
      const { group, way, build, chance, years, hands, skill = "" } = option;
      const minutes = [hands, takes(option, { of: "places" })].map((each) => each.toFixed(2));
      return [group, way, build, chance.toFixed(4), years.toFixed(3), ...minutes, skill].join("|");
    })
    .sort()
    .join("; ");
