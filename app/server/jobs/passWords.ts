import cluster from "node:cluster";

/** What the processes of the lane tell each other about long work: how it stands, or that it is to stop. */
export type JobWord =
  | { readonly about: "job"; readonly job: Readonly<Record<string, unknown>> & { readonly id: number } }
  | { readonly about: "cancel"; readonly id: number };

/** In the process that leads: every word of one goes to all others. */
export function passWords() {
  cluster.on("message", (from, word: JobWord) => {
    for (const worker of Object.values(cluster.workers ?? {})) if (worker && worker !== from) worker.send(word);
  });
}
