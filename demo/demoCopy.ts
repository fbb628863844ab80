import Database from "better-sqlite3";
import { openStore, type Store } from "~/store/database";
import { loadDemo } from "./load";

/** The shelf of the tests' environment (`testing/environment.cjs`), which outlives a file of tests. */
declare global {
  var keptByWorker: Map<string, Buffer> | undefined;
}

const images = globalThis.keptByWorker ?? new Map<string, Buffer>();

/** A demo database in memory, for tests: loaded once in a process, copied from then on. */
export function demoCopy(): Store {
  let image = images.get("demo");
  if (!image) {
    const store = openStore(":memory:");
    loadDemo(store);
    image = store.serialize();
    store.close();
    images.set("demo", image);
  }
  const copy = new Database(image);
  copy.pragma("foreign_keys = ON");
  return copy;
}
