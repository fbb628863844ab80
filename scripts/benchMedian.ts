import { performance } from "node:perf_hooks";

/** The middle one of several times, ms. */
export function median(run: () => void, times: number): number {
  const taken = Array.from({ length: times }, () => {
    const from = performance.now();
    run();
    return performance.now() - from;
  }).sort((a, b) => a - b);
  return taken[Math.floor(times / 2)];
}
