import { harmless, normal, type Pattern, stop } from "../pattern";

const source = "the lane's own bench script (core/runbook/scriptPrelude.ts)";

/** What the lane's own scripts print. */
export const SCRIPT: readonly Pattern[] = [
  {
    id: "script.stop",
    line: /^STOP: /,
    means: stop(
      "The script stopped: it says why",
      "Do what stands behind it; then “try this step again”, and start the script anew",
    ),
    source,
    examples: ["STOP: The battery is at 12 %. Below 30 % nothing is written."],
  },
  {
    id: "script.step",
    line: /^\[(\d+\/\d+|by hand)\] /,
    means: normal("A step of the sheet"),
    source,
    examples: ["[3/40] Check the files", "[by hand] Plug the lead in."],
  },
  {
    id: "script.going-on",
    line: /^(going on another way|that may fail; going on)/i,
    means: harmless("The sheet says what to do where this fails, and the script does it"),
    source,
    examples: ["Going on another way.", "That may fail; going on."],
  },
  {
    id: "script.finished",
    line: /^finished: /i,
    means: normal("The script came to its end"),
    success: true,
    source,
    examples: ["Finished: TH-001 should now run Android 14. Go on to Checkout."],
  },
  {
    id: "script.says",
    line: /^(battery: \d|kept |measured: |what happened is in|what is gone is listed|going on at step|it stays: )/i,
    means: normal("The script tells what it read"),
    source,
    examples: ["Battery: 80 %", "What happened is in ./report.jsonl: drop it on the bench page."],
  },
];
