import { type LogContext, type Meaning, NO_CONTEXT, type Pattern, type Tell } from "./pattern";
import { ADB } from "./patterns/adb";
import { FASTBOOT } from "./patterns/fastboot";
import { FLASHER } from "./patterns/flasher";
import { RECOVERY } from "./patterns/recovery";
import { SCRIPT } from "./patterns/script";

/** Every line that is known; the first that matches tells. */
export const PATTERNS: readonly Pattern[] = [...SCRIPT, ...FLASHER, ...RECOVERY, ...ADB, ...FASTBOOT];

export interface ReadLine {
  /** Number in what was given, counted from 1. */
  readonly n: number;
  readonly text: string;
  /** Null: nobody knows this line. */
  readonly tell: Tell | null;
  readonly why: string;
  readonly next: string | null;
  readonly pattern: string | null;
}

export type Verdict = "went-well" | "go-on" | "do-this" | "stop" | "not-known";

export const VERDICT_WORDS: Record<Verdict, string> = {
  "went-well": "It went well",
  "go-on": "Nothing is wrong: go on",
  "do-this": "Look first",
  stop: "Stop",
  "not-known": "Nobody knows these lines: look at the device, and ask",
};

export interface ReadLog {
  readonly verdict: Verdict;
  /** The line that decides; null where none does. */
  readonly because: ReadLine | null;
  readonly lines: readonly ReadLine[];
  /** Lines in the middle that were not looked at, of a very long log. */
  readonly leftOut: number;
}

/** Of a log that is longer, beginning and end are read: there things go wrong. */
const HEAD = 2000;
const TAIL = 18_000;
const LONGEST_LINE = 1000;

// biome-ignore lint/suspicious/noControlCharactersInRegex: colours and cursor moves of terminals begin with escape
const COLOURS = /\u001b(?:\[[0-9;?]*[A-Za-z]|[()][A-Z0-9])/g;

/** A line as a person saw it: what a counter wrote over is left out, and so are colours. */
function plain(line: string): string {
  const seen = line.replace(/\r+$/, "");
  return seen
    .slice(seen.lastIndexOf("\r") + 1)
    .slice(0, LONGEST_LINE)
    .replace(COLOURS, "")
    .replace(/\p{Cc}/gu, " ")
    .trim();
}

function meaningOf(pattern: Pattern, context: LogContext): Meaning {
  return pattern.unless?.find((u) => u.where(context))?.means ?? pattern.means;
}

/**
 * Reads the output of a client, script or recovery, line by line, in the context of the step it was said in.
 *
 * What is not known stays unknown: a line that no pattern matches never counts as good, nor as bad. The verdict is that of the
 * worst line; "it went well" takes a line that says so, and that every line was read.
 *
 * @param text as it was pasted, or as a script kept it; colours, counters and control characters are taken away
 * @example readLog("FAILED (remote: 'Flashing is not allowed in locked state')").verdict // "stop"
 */
export function readLog(text: string, context: LogContext = NO_CONTEXT): ReadLog {
  const raw = text.split("\n");
  const leftOut = Math.max(0, raw.length - HEAD - TAIL);
  const lines: ReadLine[] = [];
  let success = false;
  for (const [i, line] of raw.entries()) {
    if (leftOut > 0 && i >= HEAD && i < HEAD + leftOut) continue;
    const seen = plain(line);
    if (seen === "") continue;
    const pattern = PATTERNS.find((p) => p.line.test(seen));
    if (!pattern) {
      lines.push({ n: i + 1, text: seen, tell: null, why: "", next: null, pattern: null });
      continue;
    }
    const { tell, why, next } = meaningOf(pattern, context);
    if (pattern.success && tell === "normal") success = true;
    lines.push({ n: i + 1, text: seen, tell, why, next, pattern: pattern.id });
  }
  const worst = (tell: Tell) => lines.find((l) => l.tell === tell) ?? null;
  const stops = worst("stop");
  const looks = worst("look");
  const known = lines.some((l) => l.tell !== null);
  const verdict = ((): Verdict => {
    if (stops) return "stop";
    if (looks) return "do-this";
    if (leftOut > 0 || !known) return "not-known";
    return success ? "went-well" : "go-on";
  })();
  return { verdict, because: stops ?? looks, lines, leftOut };
}
