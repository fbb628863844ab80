import { proxy, type Remote, releaseProxy, wrap } from "comlink";
import { useCallback, useEffect, useReducer, useRef } from "react";
import type { FileBench } from "~/app/workers/files";
import type { Digests } from "~/core/files/match";
import type { FileReport } from "~/core/files/report";

/** One dropped file and how far it is. */
export interface DroppedFile {
  readonly id: number;
  readonly file: File;
  readonly state: "waits" | "reads" | "digests" | "done" | "cancelled" | "failed";
  /** Bytes digested so far, and when that began (milliseconds of the page's clock). */
  readonly done: number;
  readonly began: number;
  /** Bytes per second over the whole time. */
  readonly speed: number;
  readonly report: FileReport | null;
  readonly digests: Digests;
  readonly failed: string | null;
}

type Change =
  | { readonly add: readonly DroppedFile[] }
  | { readonly id: number; readonly set: Partial<DroppedFile> }
  | { readonly drop: number | "all" };

function reduce(files: readonly DroppedFile[], change: Change): readonly DroppedFile[] {
  if ("add" in change) return [...files, ...change.add];
  if ("drop" in change) return change.drop === "all" ? [] : files.filter((f) => f.id !== change.drop);
  return files.map((f) => (f.id === change.id ? { ...f, ...change.set } : f));
}

interface Bench {
  readonly worker: Worker;
  readonly remote: Remote<FileBench>;
}

function startBench(): Bench {
  const worker = new Worker(new URL("../../workers/files.ts", import.meta.url), { type: "module" });
  return { worker, remote: wrap<FileBench>(worker) };
}

let lastId = 0;

/**
 * Dropped files, read and digested one after the other in two browser workers: one recognises and makes SHA-256, the other
 * makes MD5 at the same time. Nothing leaves the computer.
 *
 * @param onDone told of each file that is finished
 */
export function useFileBench(onDone: (file: DroppedFile) => void) {
  const [files, change] = useReducer(reduce, []);
  const benches = useRef<readonly [Bench, Bench] | null>(null);
  const queue = useRef<DroppedFile[]>([]);
  const gone = useRef(new Set<number>());
  const busy = useRef(false);
  const tell = useRef(onDone);
  tell.current = onDone;

  useEffect(
    () => () => {
      for (const bench of benches.current ?? []) {
        bench.remote[releaseProxy]();
        bench.worker.terminate();
      }
      benches.current = null;
    },
    [],
  );

  const work = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    benches.current ??= [startBench(), startBench()];
    const [first, second] = benches.current;
    for (let next = queue.current.shift(); next; next = queue.current.shift()) {
      const { id, file } = next;
      if (gone.current.has(id)) continue;
      const finish = (set: Partial<DroppedFile>) => {
        change({ id, set });
        return { ...next, ...set } as DroppedFile;
      };
      change({ id, set: { state: "reads" } });
      const read = await first.remote.recognise(file);
      if (!read.ok) {
        finish({ state: "failed", failed: read.says });
        continue;
      }
      const report = read.value;
      const began = performance.now();
      change({ id, set: { state: "digests", report, began } });
      const mark = report.content.kind === "tar" ? report.content.md5?.of : undefined;
      const onBytes = proxy((done: number) =>
        change({ id, set: { done, speed: (done / (performance.now() - began)) * 1000 } }),
      );
      const [sha256, md5] = await Promise.all([
        first.remote.digest(id, file, "sha256", undefined, onBytes),
        second.remote.digest(
          id,
          file,
          "md5",
          mark,
          proxy(() => {}),
        ),
      ]);
      if (!sha256.ok || !md5.ok) {
        const { problem, says } = !sha256.ok ? sha256 : (md5 as Exclude<typeof md5, { ok: true }>);
        finish({ state: problem === "cancelled" ? "cancelled" : "failed", failed: says });
        continue;
      }
      const digests = { sha256: sha256.value.digest, md5: md5.value.digest };
      tell.current(finish({ state: "done", report: withTrailer(report, md5.value.marked), digests, done: file.size }));
    }
    busy.current = false;
  }, []);

  const add = useCallback(
    (dropped: readonly File[]) => {
      const fresh = dropped.map(
        (file): DroppedFile => ({
          id: ++lastId,
          file,
          state: "waits",
          done: 0,
          began: 0,
          speed: 0,
          report: null,
          digests: { sha256: null, md5: null },
          failed: null,
        }),
      );
      change({ add: fresh });
      queue.current.push(...fresh);
      void work();
    },
    [work],
  );

  const cancel = useCallback((id: number) => {
    gone.current.add(id);
    change({ id, set: { state: "cancelled", failed: "Cancelled" } });
    for (const bench of benches.current ?? []) void bench.remote.cancel(id);
  }, []);

  const remove = useCallback((which: number | "all") => change({ drop: which }), []);

  const take = useCallback(async (file: File, partition: string) => {
    benches.current ??= [startBench(), startBench()];
    return benches.current[1].remote.take(file, partition);
  }, []);

  return { files, add, cancel, remove, take };
}

/** A tar package's own MD5, now that the bytes before its last line are digested. */
function withTrailer(report: FileReport, marked: string | null): FileReport {
  if (report.content.kind !== "tar" || !report.content.md5 || marked === null) return report;
  return {
    ...report,
    whole:
      marked === report.content.md5.expect
        ? { is: "yes", says: "The MD5 behind its end agrees" }
        : { is: "no", says: "The MD5 behind its end does not agree: the package is damaged. Fetch it again" },
  };
}
