import fs from "node:fs";
import path from "node:path";
import Database from "better-sqlite3";

export type Store = Database.Database;

/** How long a connection waits for another one's writing, ms. */
export const BUSY_TIMEOUT = 5000;

/** Folder of the numbered migrations; commands run in the project's root. */
const MIGRATIONS = path.resolve("store/migrations");

/**
 * Opens the database, makes it if it is not there, and brings it up to date.
 *
 * @throws Error when the file was written by a newer version of the product
 */
export function openStore(file: string, migrations = MIGRATIONS): Store {
  if (file !== ":memory:") fs.mkdirSync(path.dirname(path.resolve(file)), { recursive: true });
  const store = new Database(file);
  store.pragma("journal_mode = WAL");
  store.pragma("synchronous = FULL");
  store.pragma("foreign_keys = ON");
  store.pragma(`busy_timeout = ${BUSY_TIMEOUT}`);
  migrate(store, migrations);
  return store;
}

/** Opens a copy of a database as it is, for looking: no migration, and one file without a journal beside it. */
export function openCopy(file: string): Store {
  const store = new Database(file);
  store.pragma("journal_mode = DELETE");
  return store;
}

/** Runs the migrations that have not run yet, each in a transaction of its own. */
export function migrate(store: Store, folder: string) {
  const files = fs
    .readdirSync(folder)
    .filter((f) => /^\d{3}_.+\.sql$/.test(f))
    .sort();
  const done = store.pragma("user_version", { simple: true }) as number;
  const newest = Number(files.at(-1)?.slice(0, 3) ?? 0);
  if (done > newest)
    throw new Error(
      `This database was written by a newer version (${done}; this one knows ${newest}). Start the newer version`,
    );
  for (const file of files) {
    const number = Number(file.slice(0, 3));
    if (number <= done) continue;
    store
      .transaction(() => {
        // Another process may have been faster.
        if ((store.pragma("user_version", { simple: true }) as number) >= number) return;
        store.exec(fs.readFileSync(path.join(folder, file), "utf8"));
        store.pragma(`user_version = ${number}`);
      })
      .immediate();
  }
}

const prepared = new WeakMap<Store, Map<string, Database.Statement>>();

/** Prepares a statement once per database. */
export function statement(store: Store, sql: string): Database.Statement {
  let statements = prepared.get(store);
  if (!statements) {
    statements = new Map();
    prepared.set(store, statements);
  }
  let found = statements.get(sql);
  if (!found) {
    found = store.prepare(sql);
    statements.set(sql, found);
  }
  return found;
}

/** A query with typed parameters and rows. */
export function query<P extends object, R>(sql: string): (store: Store, params: P) => R[] {
  return (store, params) => statement(store, sql).all(params) as R[];
}

/** A query that gives one row or none. */
export function queryOne<P extends object, R>(sql: string): (store: Store, params: P) => R | undefined {
  return (store, params) => statement(store, sql).get(params) as R | undefined;
}

/** A statement that changes rows. */
export function change<P extends object>(sql: string): (store: Store, params: P) => Database.RunResult {
  return (store, params) => statement(store, sql).run(params);
}

/** Who does something, and when: written beside everything that is appended. */
export interface Hand {
  readonly by: string;
  readonly at: string;
}

/** An edit that rests on an older version of a row: somebody was faster. */
export class StaleEdit extends Error {
  constructor(what: string) {
    super(
      `${what} was changed by somebody else in the meantime. What you typed is still here: look at the new values, then save again`,
    );
    this.name = "StaleEdit";
  }
}
