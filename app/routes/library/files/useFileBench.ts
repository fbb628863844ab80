import { proxy, type Remote, releaseProxy, transfer, wrap } from "comlink";
import { useCallback, useEffect, useReducer, useRef } from "react";
import type { FileBench } from "~/app/workers/files";
import type { DigestServer } from "~/app/workers/sha256";
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
  readonly remote: Remote<FileBench>;
  readonly close: () => void;
}

/** Starts the worker that reads, and beside it the one that makes SHA-256, with a channel between them. */
function startBench(): Bench {
  const reader = new Worker(new URL("../../../workers/files.ts", import.meta.url), { type: "module" });
  const sha256 = new Worker(new URL("../../../workers/sha256.ts", import.meta.url), { type: "module" });
  const remote = wrap<FileBench>(reader);
  const server = wrap<DigestServer>(sha256);
  const { port1, port2 } = new MessageChannel();
  void server.serve(transfer(port1, [port1]));
  void remote.connect(transfer(port2, [port2]));
  return {
    remote,
    close() {
      remote[releaseProxy]();
      server[releaseProxy]();
      for (const worker of [reader, sha256]) worker.terminate();
    },
  };
}

let lastId = 0;

/**
 * Dropped files, read and digested one after the other in two browser workers: one reads, recognises and makes MD5, the
 * other makes SHA-256 at the same time. Nothing leaves the computer.
 *
 * @param onDone told of each file that is finished
 */
export function useFileBench(onDone: (file: DroppedFile) => void) {
  const [files, change] = useReducer(reduce, []);
  const bench = useRef<Bench | null>(null);
  const queue = useRef<DroppedFile[]>([]);
  const gone = useRef(new Set<number>());
  const busy = useRef(false);
  /** A list that was dropped holds SHA-512: it is made from then on, and made up for where it is missing. */
  const long = useRef(false);
  const without = useRef<DroppedFile[]>([]);
  const tell = useRef(onDone);
  tell.current = onDone;

  useEffect(
    () => () => {
      bench.current?.close();
      bench.current = null;
    },
    [],
  );

  const remote = useCallback(() => {
    bench.current ??= startBench();
    return bench.current.remote;
  }, []);

  const work = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    const reader = remote();
    for (let next = queue.current.shift(); next; next = queue.current.shift()) {
      const { id, file } = next;
      if (gone.current.has(id)) continue;
      const finish = (set: Partial<DroppedFile>) => {
        change({ id, set });
        return { ...next, ...set } as DroppedFile;
      };
      change({ id, set: { state: "reads" } });
      const read = await reader.recognise(file);
      if (!read.ok) {
        finish({ state: "failed", failed: read.says });
        continue;
      }
      const report = read.value;
      if (!long.current && asksForLong(report)) {
        long.current = true;
        queue.current.push(...without.current);
      }
      const began = performance.now();
      change({ id, set: { state: "digests", report, began } });
      const mark = report.content.kind === "tar" ? report.content.md5?.of : undefined;
      const onBytes = proxy((done: number) =>
        change({ id, set: { done, speed: (done / (performance.now() - began)) * 1000 } }),
      );
      const made = await reader.digests(id, file, mark, long.current, onBytes);
      if (!made.ok) {
        finish({ state: made.problem === "cancelled" ? "cancelled" : "failed", failed: made.says });
        continue;
      }
      const { sha256, md5, sha512, marked } = made.value;
      const digests = { sha256, md5, sha512 };
      tell.current(finish({ state: "done", report: withTrailer(report, marked), digests, done: file.size }));
      if (sha512 === null) without.current.push(next);
    }
    busy.current = false;
  }, [remote]);

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
      // Lists first: they say what the others are compared with, and by which digest.
      queue.current.push(...fresh.filter(isList), ...fresh.filter((f) => !isList(f)));
      void work();
    },
    [work],
  );

  const cancel = useCallback((id: number) => {
    gone.current.add(id);
    change({ id, set: { state: "cancelled", failed: "Cancelled" } });
    void bench.current?.remote.cancel(id);
  }, []);

  const remove = useCallback((which: number | "all") => change({ drop: which }), []);

  const take = useCallback((file: File, partition: string) => remote().take(file, partition), [remote]);

  return { files, add, cancel, remove, take };
}

/** What its name promises to be a list of digests. */
const isList = ({ file }: DroppedFile) =>
  file.size < 1_048_576 && /sums?$|sha\d|md5|digest|hash|\.(txt|asc)$/i.test(file.name);

const asksForLong = ({ content }: FileReport) =>
  content.kind === "digest-list" && content.lines.some((l) => l.algorithm === "sha512");

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
