import { z } from "zod";
import { NEWEST_API } from "~/core/android/releases";

/** A stable name used in addresses, file names and scripts: lower-case letters, digits, dots and dashes. */
export const Slug = z
  .string()
  .regex(/^[a-z0-9][a-z0-9.-]{0,63}$/, "Use lower-case letters, digits, dots and dashes, 64 at most, no spaces");

export const Api = z.number().int().min(1).max(NEWEST_API);
/** A day that the calendar has: 30 February is none. */
export const IsoDate = z
  .string()
  .regex(/^\d{4}-\d{2}-\d{2}$/, "Write the date like 2024-05-01")
  .refine((day) => z.iso.date().safeParse(day).success, "The calendar has no such day");
export const Bytes = z.number().int().positive().max(Number.MAX_SAFE_INTEGER);
export const Cpu = z.enum(["arm", "arm64"]);
export type Cpu = z.infer<typeof Cpu>;

/** Hardware that a need can ask for and an image can break. */
export const Hardware = z.enum([
  "calls",
  "mobile-data",
  "wifi",
  "bluetooth",
  "camera",
  "rotation",
  "fingerprint",
  "nfc",
  "speaker",
  "gps",
]);
export type Hardware = z.infer<typeof Hardware>;

export const HARDWARE_WORDS: Record<Hardware, string> = {
  calls: "Calls",
  "mobile-data": "Mobile data",
  wifi: "Wi-Fi",
  bluetooth: "Bluetooth",
  camera: "Camera",
  rotation: "Auto-rotation",
  fingerprint: "Fingerprint",
  nfc: "NFC",
  speaker: "Speaker",
  gps: "Location",
};

/** Where an entry's claim comes from and when it was last checked. */
export const Provenance = { source: z.string().min(1).max(300), on: IsoDate };
