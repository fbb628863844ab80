import { z } from "zod";

/** One line of what a bench script reports. */
export const ReportLine = z.object({
  session: z.string().regex(/^[\w.-]{1,64}$/),
  /** The name under which a lane served the script, if one did. */
  script: z
    .string()
    .regex(/^[0-9a-f]{16}$/)
    .optional(),
  seq: z.number().int().min(1).max(1_000_000),
  at: z.iso.datetime(),
  /** Number of the step, counted from 1. */
  step: z.number().int().min(0).max(10_000),
  code: z.string().max(200),
  event: z.enum(["begun", "done", "failed"]),
  exit: z.number().int().nullable(),
  /** What the device told, by the name of the property or variable. */
  values: z.record(z.string().max(240), z.string().max(400)),
  tail: z.string().max(20_000),
});
export type ReportLine = z.infer<typeof ReportLine>;

/** Largest report taken in, bytes; most lines of one. */
export const MAX_REPORT = 4_000_000;
export const MAX_REPORT_LINES = 5000;

/**
 * Reads a report: JSON lines. A last line without its end is still being written and is left for the next time.
 *
 * @returns the lines, or what is wrong with which one
 * @example readReport('{"session":"s","seq":1,…}\n') // { ok: true, lines: [{ session: "s", … }] }
 */
export function readReport(
  text: string,
): { readonly ok: true; readonly lines: readonly ReportLine[] } | { readonly ok: false; readonly says: string } {
  const whole = text.slice(0, text.lastIndexOf("\n") + 1);
  const lines: ReportLine[] = [];
  for (const [i, line] of whole.split("\n").entries()) {
    if (line.trim() === "") continue;
    if (lines.length >= MAX_REPORT_LINES) return { ok: false, says: `It has more than ${MAX_REPORT_LINES} lines` };
    let json: unknown;
    try {
      json = JSON.parse(line);
    } catch {
      return { ok: false, says: `Line ${i + 1} is not JSON: this is no report of a bench script, or it was damaged` };
    }
    const read = ReportLine.safeParse(json);
    if (!read.success) {
      const { path, message } = read.error.issues[0];
      // Names of fields that are not known are quoted in it, however many there are.
      return { ok: false, says: `Line ${i + 1}, ${path.join(".") || "whole line"}: ${message.slice(0, 400)}` };
    }
    lines.push(read.data);
  }
  return { ok: true, lines };
}
