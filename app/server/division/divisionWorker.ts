// Works out a division in a thread of its own, and what would change it.
import { performance } from "node:perf_hooks";
import { parentPort, workerData } from "node:worker_threads";
import loadHighs from "highs";
import { type Division, divide } from "~/core/allocate/divide";
import type { Question } from "~/core/allocate/question";
import { type WhatIf, whatIfs } from "~/core/allocate/whatIf";

export interface DivisionWork {
  readonly question: Question;
  readonly milliseconds: number;
  /** Per what-if; 0: none is looked at. */
  readonly millisecondsEach: number;
}
export type DivisionWord =
  | { readonly is: "better"; readonly division: Division }
  | { readonly is: "done"; readonly division: Division; readonly whatIf: readonly WhatIf[] };

const now = () => performance.now();
const say = (word: DivisionWord) => parentPort?.postMessage(word);

const { question, milliseconds, millisecondsEach } = workerData as DivisionWork;
const highs = await loadHighs();
const division = divide(question, {
  highs,
  milliseconds,
  now,
  onBetter: (better) => say({ is: "better", division: better }),
});
say({ is: "better", division });
const whatIf =
  millisecondsEach === 0
    ? []
    : whatIfs(question, division, (asked) => divide(asked, { highs, milliseconds: millisecondsEach, now }));
say({ is: "done", division, whatIf });
