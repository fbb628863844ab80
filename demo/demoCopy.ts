import Database from "better-sqlite3";
import { openStore, type Store } from "~/store/database";
import { loadDemo } from "./load";

let image: Buffer | null = null;

/** A demo database in memory, for tests: loaded once in a process, copied from then on. */
export function demoCopy(): Store {
  if (!image) {
    const store = openStore(":memory:");
    loadDemo(store);
    image = store.serialize();
    store.close();
  }
  const copy = new Database(image);
  copy.pragma("foreign_keys = ON");
  return copy;
}
