import { HARDWARE_WORDS, Hardware } from "~/core/catalogue/common";

const BY_WORD = new Map<string, Hardware>(
  Hardware.options.flatMap((h): [string, Hardware][] => [
    [h, h],
    [HARDWARE_WORDS[h].toLowerCase(), h],
  ]),
);

const partsOf = (text: string) =>
  text
    .split(/[,;]/)
    .map((part) => part.trim().toLowerCase())
    .filter((part) => part !== "" && part !== "none");

/** True when a text names hardware of the list only, by code or in words, with commas between; "none" is none. */
export const isHardwareList = (text: string): boolean => partsOf(text).every((part) => BY_WORD.has(part));

/**
 * The hardware a text names.
 *
 * @example brokenHardware("Camera, nfc") // ["camera", "nfc"]
 */
export const brokenHardware = (text: string): Hardware[] => partsOf(text).flatMap((part) => BY_WORD.get(part) ?? []);

/**
 * Hardware as it is written down, in the list's order; "none" for none.
 *
 * @example hardwareText(["camera", "nfc"]) // "camera, nfc"
 */
export const hardwareText = (broken: Iterable<Hardware>): string => {
  const set = new Set(broken);
  return Hardware.options.filter((h) => set.has(h)).join(", ") || "none";
};
