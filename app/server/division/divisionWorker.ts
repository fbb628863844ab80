// Works out a division in a thread of its own, and what would change it.
import { performance } from "node:perf_hooks";
import { setTimeout as sleep } from "node:timers/promises";
import { parentPort, workerData } from "node:worker_threads";
import loadHighs from "highs";
import { type Division, divide, isNear, withProof } from "~/core/allocate/divide";
import type { Question } from "~/core/allocate/question";
import { type WhatIf, whatIfs } from "~/core/allocate/whatIf";
import { proverBeside } from "./prover";

export interface DivisionWork {
  readonly question: Question;
  readonly milliseconds: number;
  /** Per what-if; 0: none is looked at. */
  readonly millisecondsEach: number;
  readonly solver: WebAssembly.Module;
}
export type DivisionWord =
  | { readonly is: "better"; readonly division: Division }
  /** Nothing better is looked for any more: what is proven comes closer. */
  | { readonly is: "proving"; readonly division: Division }
  | { readonly is: "done"; readonly division: Division; readonly whatIf: readonly WhatIf[] };

/** So much longer is a proof waited for, where what was found is not near it yet. */
const PROVE_MS = 18_000;
/** Waits between two looks at it. */
const LOOK_MS = 500;

// The clock of a thread may be its process's: what counts is how long it is since it began.
const begun = performance.now();
const now = () => performance.now() - begun;
const say = (word: DivisionWord) => parentPort?.postMessage(word);

const { question, milliseconds, millisecondsEach, solver } = workerData as DivisionWork;
const highs = await loadHighs({ wasmModule: solver });
const prover = proverBeside(question, solver);
const division = divide(question, {
  highs,
  milliseconds,
  now,
  prover,
  onBetter: (better) => say({ is: "better", division: better }),
});
say({ is: "proving", division: withProof(division, prover) });
const whatIf =
  millisecondsEach === 0
    ? []
    : whatIfs(question, division, (asked) => divide(asked, { highs, milliseconds: millisecondsEach, now }));
const boundsOf = ({ proven }: Division) => proven.map(({ bound }) => bound).join();
let told = withProof(division, prover);
while (prover.isBusy() && !isNear(told) && now() < milliseconds + PROVE_MS) {
  await sleep(LOOK_MS);
  const next = withProof(division, prover);
  if (boundsOf(next) !== boundsOf(told)) say({ is: "proving", division: next });
  told = next;
}
await prover.stop();
say({ is: "done", division: told, whatIf });
