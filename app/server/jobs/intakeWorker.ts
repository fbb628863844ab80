import { parentPort, workerData } from "node:worker_threads";
import { draftList, takeList } from "~/app/server/intake/takeIn";
import { isOldXls, isXlsx, readXlsx, sayOfOldXls } from "~/app/server/intake/xlsx";
import { readKnownDevices } from "~/core/lists/knownDevices";
import type { Reading } from "~/core/lists/reading";
import { decodeList, readList, type TableReading } from "~/core/lists/table";
import { type Hand, openStore } from "~/store/database";
import { replaceKnown } from "~/store/known";

/** What this worker is asked for. */
export type IntakeWork =
  | {
      readonly what: "read";
      readonly db: string;
      readonly bytes: Uint8Array;
      readonly file: string;
      readonly batch: string;
      readonly source: string;
      /** What a person said of how it is to be read. */
      readonly reading?: Reading;
      readonly hand: Hand;
    }
  | {
      readonly what: "known";
      readonly db: string;
      readonly bytes: Uint8Array;
      readonly file: string;
      readonly hand: Hand;
    }
  | { readonly what: "take"; readonly db: string; readonly list: number; readonly hand: Hand };

export type IntakeWord =
  | { readonly is: "progress"; readonly done: number; readonly of: number }
  | { readonly is: "done"; readonly list: number; readonly devices: number }
  | { readonly is: "refused"; readonly says: string };

/** Set to 1 by the other side to cancel; looked at between rows. */
export interface IntakeData {
  readonly work: IntakeWork;
  readonly cancel: SharedArrayBuffer;
}

class Cancelled extends Error {}

async function readTable(bytes: Uint8Array, reading: Reading): Promise<TableReading> {
  if (isOldXls(bytes)) return { ok: false, says: sayOfOldXls(bytes) };
  if (isXlsx(bytes)) return readXlsx(bytes, reading);
  const decoded = decodeList(bytes);
  if (!decoded.ok) return decoded;
  const table = readList(decoded.text, reading);
  return table.ok && decoded.remark ? { ...table, remarks: [decoded.remark, ...table.remarks] } : table;
}

/** Does the work with a connection of its own, so that pages are answered meanwhile. */
async function run({ work, cancel }: IntakeData, say: (word: IntakeWord) => void) {
  const flag = new Int32Array(cancel);
  const check = (done: number, of: number) => {
    if (Atomics.load(flag, 0) === 1) throw new Cancelled();
    say({ is: "progress", done, of });
  };
  const store = openStore(work.db);
  try {
    if (work.what === "take") {
      const devices = takeList(store, work.list, work.hand, check);
      say({ is: "done", list: work.list, devices });
      return;
    }
    if (work.what === "known") {
      const decoded = decodeList(work.bytes);
      const known = decoded.ok ? readKnownDevices(decoded.text) : decoded;
      if (!known.ok) {
        say({ is: "refused", says: known.says });
        return;
      }
      check(0, known.devices.length);
      replaceKnown(store, work.file, known.devices, work.hand);
      say({ is: "done", list: 0, devices: known.devices.length });
      return;
    }
    const table = await readTable(work.bytes, work.reading ?? {});
    if (!table.ok) {
      say({ is: "refused", says: table.says });
      return;
    }
    const { batch, source, file, hand } = work;
    const list = draftList(store, { batch, source, file, table, bytes: work.bytes }, hand, (done) =>
      check(done, table.rows.length),
    );
    say({ is: "done", list, devices: 0 });
  } catch (error) {
    if (error instanceof Cancelled) say({ is: "refused", says: "Cancelled. Nothing was taken in" });
    else if (error instanceof RangeError) say({ is: "refused", says: error.message });
    else throw error;
  } finally {
    store.close();
  }
}

const port = parentPort;
if (port) void run(workerData as IntakeData, (word) => port.postMessage(word));
