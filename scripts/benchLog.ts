import { performance } from "node:perf_hooks";
import { PATTERNS, readLog } from "~/core/flashlog/readLog";

const LINES = 2000;

/** Median milliseconds of reading a log of so many lines: every known wording in turn, with lines that nobody knows between. */
export function measureLog(): number {
  const known = PATTERNS.flatMap((p) => p.examples);
  const lines = Array.from({ length: LINES }, (_, i) =>
    i % 3 === 0 ? `something else, number ${i}, that no pattern knows at all` : known[i % known.length],
  );
  const text = lines.join("\n");
  const taken = Array.from({ length: 21 }, () => {
    const from = performance.now();
    readLog(text);
    return performance.now() - from;
  }).sort((a, b) => a - b);
  return taken[10];
}
