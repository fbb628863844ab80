// Proves in a thread of its own what no division exceeds: one question, aim after aim.
import { performance } from "node:perf_hooks";
import { workerData } from "node:worker_threads";
import loadHighs from "highs";
import { type ProofAsked, prove } from "~/core/allocate/proof";
import { AIMS } from "~/core/allocate/question";
import type { ProofWord, ProofWork } from "./prover";

/** Longer is not looked at one aim. */
const SECONDS = 25;

const { question, port, solver, reached } = workerData as ProofWork;
const highs = await loadHighs({ wasmModule: solver });
const say = (word: ProofWord) => port.postMessage(word);
port.on("message", (asked: ProofAsked) => {
  const { aim } = asked;
  const until = performance.now() + SECONDS * 1000;
  const seconds = () => (until - performance.now()) / 1000;
  const bound = prove(question, asked, {
    highs,
    seconds,
    enough: () => reached[AIMS.indexOf(aim)],
    onBound: (closer) => say({ aim, bound: closer, ended: false }),
  });
  say({ aim, bound, ended: true });
});
