import { z } from "zod";

/** What is asked of a register of lost devices: one number, never who gave the device. */
export const RegisterQuestion = z.strictObject({
  kind: z.enum(["imei", "serial"]),
  number: z.string().min(5).max(60),
});
export type RegisterQuestion = z.infer<typeof RegisterQuestion>;

/** What it answers. More fields may come; they are not kept. */
export const RegisterAnswer = z.discriminatedUnion("state", [
  z.object({ state: z.literal("clear") }),
  z.object({
    state: z.literal("lost"),
    /** Under which the register knows the report; goes into the record. */
    reference: z.string().max(80),
    reported: z.iso.date().optional(),
  }),
]);
export type RegisterAnswer = z.infer<typeof RegisterAnswer>;

/** Attempts after which a person is told that it does not work. */
export const MOST_ATTEMPTS = 8;
const FIRST_WAIT = 5;
const LONGEST_WAIT = 3600;

/**
 * Seconds to wait before the next attempt: twice as long after each failure, an hour at most.
 *
 * @param attempts failed attempts so far, 1 or more
 * @source exponential back-off; common practice, no source
 * @example waitBefore(1) // 5
 */
export function waitBefore(attempts: number): number {
  return Math.min(LONGEST_WAIT, FIRST_WAIT * 2 ** (attempts - 1));
}

/**
 * The number a device is asked about by: the IMEI where it has a right one, else the serial number.
 *
 * @example questionOf({ imei: null, serial: null }) // null
 */
export function questionOf(device: {
  readonly imei: string | null;
  readonly serial: string | null;
}): RegisterQuestion | null {
  const question = device.imei
    ? { kind: "imei", number: device.imei }
    : device.serial
      ? { kind: "serial", number: device.serial }
      : null;
  return RegisterQuestion.safeParse(question).data ?? null;
}
