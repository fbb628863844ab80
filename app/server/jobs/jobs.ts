import path from "node:path";
import { Worker } from "node:worker_threads";
import { db } from "~/app/server/http/context";
import { log } from "~/app/server/http/log";
import { planAhead } from "~/app/server/planning/planAhead";
import type { IntakeData, IntakeWord, IntakeWork } from "./intakeWorker";
import type { JobWord } from "./passWords";

/** Bundled by scripts/build.mjs; commands run in the project's root. */
const INTAKE_WORKER = path.resolve("build/workers/intakeWorker.mjs");

export interface Typed {
  readonly batch: string;
  readonly source: string;
  readonly text: string;
}

/** Work that goes on beside the pages. */
export interface Job {
  readonly id: number;
  readonly what: IntakeWork["what"];
  done: number;
  of: number;
  state: "running" | "done" | "refused";
  /** Why it was refused, in words. */
  says: string;
  /** The draft it made or worked on. */
  list: number;
  devices: number;
  /** What was typed for it, so that nothing is lost when it is refused late. */
  readonly typed: Typed | null;
  readonly finished: Promise<void>;
  readonly cancel: () => void;
}

/** Jobs that are remembered, so that a page that asks late still hears how it ended. */
const KEPT = 50;
const jobs = new Map<number, Job>();
/** Numbers of two processes never meet: the last three digits are the process. */
const OWN = Number(process.env.UPSHIFT_PROCESS ?? 0) % 1000;
let next = 1;

/** Tells the other processes, where there are any: the next page may ask one of them. */
const tell = (word: JobWord) => OWN > 0 && process.send?.(word);

const listen = (word: JobWord) => {
  if (word.about === "cancel") jobs.get(word.id)?.cancel();
  else if (word.about === "job") {
    const known = jobs.get(word.job.id);
    if (known) Object.assign(known, word.job);
    else
      remember({ ...(word.job as unknown as Job), finished: Promise.resolve(), cancel: cancelElsewhere(word.job.id) });
    afterwards(word.job as unknown as Job);
  }
};
if (OWN > 0) process.on("message", listen);
/** As many devices take long enough to plan that somebody would wait for it. */
const MANY = 200;

/** Many devices that came in are planned before somebody asks for them, in each process. */
function afterwards({ what, state, devices }: Pick<Job, "what" | "state" | "devices">) {
  if (what === "take" && state === "done" && devices >= MANY)
    void planAhead(db()).catch((error: unknown) => log.error(error, "planning ahead failed"));
}
const cancelElsewhere = (id: number) => () => tell({ about: "cancel", id });

function remember(job: Job) {
  jobs.set(job.id, job);
  for (const old of jobs.keys()) if (jobs.size > KEPT) jobs.delete(old);
}

export const findJob = (id: number): Job | undefined => jobs.get(id);

/** MB. The largest list that is taken needs some 180; with a gigabyte the collector would let it grow there first. */
const LIMITS = { maxOldGenerationSizeMb: 256, maxYoungGenerationSizeMb: 16 };

/** A buffer that holds these bytes alone: it is handed over instead of copied. Whoever starts the work has no more use for it. */
const ownBuffer = ({ buffer, byteLength }: Uint8Array): ArrayBuffer[] =>
  buffer instanceof ArrayBuffer && buffer.byteLength === byteLength ? [buffer] : [];

/** Starts work in a thread of its own. A thread that dies leaves nothing behind: its transaction is rolled back. */
export function startIntake(work: IntakeWork, typed: Typed | null = null): Job {
  const cancel = new SharedArrayBuffer(4);
  const data: IntakeData = { work, cancel };
  const transferList = "bytes" in work ? ownBuffer(work.bytes) : [];
  const worker = new Worker(INTAKE_WORKER, { workerData: data, transferList, resourceLimits: LIMITS });
  let end = () => {};
  const job: Job = {
    id: next++ * 1000 + OWN,
    what: work.what,
    done: 0,
    of: 0,
    state: "running",
    says: "",
    list: work.what === "take" ? work.list : 0,
    devices: 0,
    typed,
    finished: new Promise((resolve) => {
      end = resolve;
    }),
    cancel: () => Atomics.store(new Int32Array(cancel), 0, 1),
  };
  const refuse = (says: string) => {
    if (job.state !== "running") return;
    job.state = "refused";
    job.says = says;
    share();
  };
  // What was typed is long: it is passed on only where it is needed, for a list that is refused late.
  const share = () => {
    const { finished: _, cancel: __, typed: text, ...rest } = job;
    tell({ about: "job", job: { ...rest, typed: job.state === "refused" ? text : null } });
  };
  worker.on("message", (word: IntakeWord) => {
    if (word.is === "progress") Object.assign(job, { done: word.done, of: word.of });
    else if (word.is === "done") Object.assign(job, { state: "done", list: word.list, devices: word.devices });
    else refuse(word.says);
    share();
    afterwards(job);
  });
  worker.on("error", (error) => {
    log.error(error, "a thread failed");
    refuse(
      "This file could not be worked through (it needed too much memory, or broke the reader). Nothing was taken in",
    );
  });
  worker.on("exit", () => {
    refuse("The work broke off. Nothing was taken in; try again");
    end();
  });
  remember(job);
  share();
  return job;
}

/** What is larger takes a while anyway, bytes. */
const LARGE = 500_000;

/**
 * How long a file is waited for, ms. A small one is worth waiting for: its answer then stands on the page that it was chosen on,
 * even where the machine is busy.
 */
export const patienceFor = (bytes: number): number => (bytes > LARGE ? 600 : 8000);

/** Waits for a job, but not for long: what takes longer is shown with its progress. */
export function waitShortly(job: Job, ms = patienceFor(0)): Promise<void> {
  return Promise.race([job.finished, new Promise<void>((resolve) => setTimeout(resolve, ms).unref())]);
}
