import { z } from "zod";

/** What a part of a download-mode package is, whatever the flasher's edition calls its slot. */
export const FlasherSlot = z.enum(["bootloader", "system", "radio", "region-wipe", "region-keep", "data"]);
export type FlasherSlot = z.infer<typeof FlasherSlot>;

export const SLOT_WORDS: Record<FlasherSlot, string> = {
  bootloader: "bootloader part",
  system: "system part",
  radio: "radio part",
  "region-wipe": "region part, wiping edition",
  "region-keep": "region part, keeping edition",
  data: "extra part",
};

/** Editions of the flasher by the number of their slots: the older one has four, and names them otherwise. */
export const FlasherEdition = z.enum(["five-slots", "four-slots"]);
export type FlasherEdition = z.infer<typeof FlasherEdition>;

export const EDITION_WORDS: Record<FlasherEdition, string> = {
  "five-slots": "the edition with five slots",
  "four-slots": "the older edition with four slots",
};

/**
 * What a slot is called in an edition; null where the edition has none for it.
 *
 * @example slotName("five-slots", "bootloader") // "Start"
 */
export const slotName = (edition: FlasherEdition, slot: FlasherSlot): string | null => SLOT_NAMES[edition][slot];

const FIVE = { bootloader: "Start", system: "Body", radio: "Air", region: "Land", data: "Extra" };
const FOUR = { bootloader: "1 Boot part", system: "2 Main part", radio: "3 Radio part", region: "4 Region part" };

/** The slots of an edition as they stand in its window, top to bottom. */
export const EDITION_SLOTS: Record<FlasherEdition, readonly string[]> = {
  "five-slots": Object.values(FIVE),
  "four-slots": Object.values(FOUR),
};

// Names of our own stand-in: those of a maker's program stand in the workshop's notes, never here.
const SLOT_NAMES: Record<FlasherEdition, Record<FlasherSlot, string | null>> = {
  "five-slots": {
    bootloader: FIVE.bootloader,
    system: FIVE.system,
    radio: FIVE.radio,
    "region-wipe": FIVE.region,
    "region-keep": FIVE.region,
    data: FIVE.data,
  },
  "four-slots": {
    bootloader: FOUR.bootloader,
    system: FOUR.system,
    radio: FOUR.radio,
    "region-wipe": FOUR.region,
    "region-keep": FOUR.region,
    data: null,
  },
};

/** The flasher's ticks: which are on by themselves. */
export const FLASHER_TICKS = {
  "restart-by-itself": { says: "Restart by itself", usual: true },
  "reset-the-clock": { says: "Reset the clock", usual: true },
  "partition-table": { says: "Write the partition table", usual: false },
  "erase-first": { says: "Erase everything first", usual: false },
  "bootloader-twice": { says: "Renew the bootloader as well", usual: false },
} as const;
export type FlasherTick = keyof typeof FLASHER_TICKS;
export const FLASHER_TICK_KEYS = Object.keys(FLASHER_TICKS) as FlasherTick[];
