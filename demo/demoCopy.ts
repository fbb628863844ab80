import Database from "better-sqlite3";
import { openStore, type Store } from "~/store/database";
import { loadDemo } from "./load";

/** The shelf of the tests' environment (`testing/environment.cjs`), which outlives a file of tests. */
declare global {
  var keptByWorker: Map<string, Buffer> | undefined;
}

const images = globalThis.keptByWorker ?? new Map<string, Buffer>();

/** A demo database in memory, for tests: loaded once in a process, copied from then on. */
export const demoCopy = (): Store => copyOf("demo", loadDemo);

/** An empty database in memory, for tests: migrated once in a process, copied from then on. */
export const emptyCopy = (): Store => copyOf("empty", () => {});

function copyOf(name: string, fill: (store: Store) => void): Store {
  let image = images.get(name);
  if (!image) {
    const store = openStore(":memory:");
    fill(store);
    image = store.serialize();
    store.close();
    images.set(name, image);
  }
  const copy = new Database(image);
  copy.pragma("foreign_keys = ON");
  return copy;
}
