import path from "node:path";
import { MessageChannel, type MessagePort, receiveMessageOnPort, Worker } from "node:worker_threads";
import { log } from "~/app/server/http/log";
import type { ProofAsked, Prover } from "~/core/allocate/proof";
import { AIMS, type Aim, type Question } from "~/core/allocate/question";

export type ProofWork = {
  readonly question: Question;
  readonly port: MessagePort;
  readonly solver: WebAssembly.Module;
  /** What is reached by now, per aim; read while a proof goes on, when no message is heard. */
  readonly reached: Float64Array;
};
export type ProofWord = { readonly aim: Aim; readonly bound: number; readonly ended: boolean };

/** Proofs in a thread of its own, begun with the first one that is asked for: small questions ask for none. */
export function proverBeside(
  question: Question,
  solver: WebAssembly.Module,
): Prover & { readonly isBusy: () => boolean; readonly stop: () => Promise<unknown> } {
  const bounds = new Map<Aim, number>();
  let thread: { readonly port: MessagePort; readonly worker: Worker } | null = null;
  const reached = new Float64Array(new SharedArrayBuffer(AIMS.length * Float64Array.BYTES_PER_ELEMENT)).fill(
    Number.NEGATIVE_INFINITY,
  );
  let open = 0;
  const start = () => {
    const { port1, port2 } = new MessageChannel();
    const worker = new Worker(path.resolve("build/workers/proofWorker.mjs"), {
      workerData: { question, port: port2, solver, reached } satisfies ProofWork,
      transferList: [port2],
      resourceLimits: { maxOldGenerationSizeMb: 768 },
    });
    // A proof that breaks off is one that is not there: what is divided stands without it.
    worker.on("error", (error) => {
      log.error(error, "a proof broke off");
      open = 0;
    });
    worker.unref();
    return { port: port1, worker };
  };
  // Whoever divides has no time to be told: what was said is looked for.
  const hear = () => {
    if (!thread) return;
    const { port } = thread;
    for (let told = receiveMessageOnPort(port); told; told = receiveMessageOnPort(port)) {
      const { aim, bound, ended } = told.message as ProofWord;
      bounds.set(aim, Math.min(bound, bounds.get(aim) ?? Number.POSITIVE_INFINITY));
      if (ended) open--;
    }
  };
  return {
    begin: (asked: ProofAsked) => {
      thread ??= start();
      open++;
      thread.port.postMessage(asked);
    },
    bound: (aim) => {
      hear();
      return bounds.get(aim) ?? Number.POSITIVE_INFINITY;
    },
    reached: (scores) => {
      for (const [k, aim] of AIMS.entries()) reached[k] = scores[aim];
    },
    isBusy: () => {
      hear();
      return open > 0;
    },
    stop: async () => thread?.worker.terminate(),
  };
}
