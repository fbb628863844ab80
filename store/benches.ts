import { type BenchFields, byReach } from "~/core/lane/bench";
import { change, type Hand, query, queryOne, StaleEdit, type Store } from "./database";
import { inTransaction } from "./transaction";

export interface BenchRow extends BenchFields {
  readonly id: number;
  readonly closed: 0 | 1;
  readonly version: number;
}

const COLUMNS = "id, name, host, places, leads, chargers, cards, sticks, closed, version";
const all = query<object, BenchRow>(`SELECT ${COLUMNS} FROM bench ORDER BY closed, name`);
const one = queryOne<{ id: number }, BenchRow>(`SELECT ${COLUMNS} FROM bench WHERE id = @id`);
const named = queryOne<{ name: string }, { id: number }>(`SELECT id FROM bench WHERE name = @name`);
const insert = change<BenchFields>(`
  INSERT INTO bench (name, host, places, leads, chargers, cards, sticks)
  VALUES (@name, @host, @places, @leads, @chargers, @cards, @sticks)
`);
const update = change<BenchFields & { id: number; version: number; closed: 0 | 1 }>(`
  UPDATE bench
  SET    name = @name, host = @host, places = @places, leads = @leads, chargers = @chargers, cards = @cards,
         sticks = @sticks, closed = @closed,
         version = version + 1
  WHERE  id = @id AND version = @version
`);
const record = change<{ bench: number; doc: string } & Hand>(`
  INSERT INTO bench_change (bench, doc, at, by) VALUES (@bench, @doc, @at, @by)
`);
const insertRunBench = change<{ run: number; bench: number } & Hand>(`
  INSERT INTO run_bench (run, bench, at, by) VALUES (@run, @bench, @at, @by)
`);
const benchOf = queryOne<{ run: number }, { name: string; host: BenchFields["host"] }>(`
  SELECT bench.name, bench.host FROM run_bench JOIN bench ON bench.id = run_bench.bench WHERE run_bench.run = @run
`);

const last = queryOne<{ by: string }, { id: number; name: string }>(`
  SELECT bench.id, bench.name FROM run_bench JOIN bench ON bench.id = run_bench.bench
  WHERE run_bench.by = @by ORDER BY run_bench.id DESC LIMIT 1
`);

export const listBenches = (store: Store): BenchRow[] => all(store, {});
/** Those at which something may be begun; what takes the most ways first. */
export const openBenches = (store: Store): BenchRow[] =>
  all(store, {})
    .filter((b) => !b.closed)
    .sort(byReach);
export const findBench = (store: Store, id: number) => one(store, { id });
export const lastBenchOf = (store: Store, by: string): string | null => last(store, { by })?.name ?? null;
export const benchOfRun = (store: Store, run: number) => benchOf(store, { run });

/** Adds a bench. @returns what is wrong in words, or null */
export function addBench(store: Store, bench: BenchFields, hand: Hand): string | null {
  return inTransaction(store, () => {
    if (named(store, { name: bench.name })) return taken(bench.name);
    const id = Number(insert(store, bench).lastInsertRowid);
    record(store, { bench: id, doc: JSON.stringify(bench), ...hand });
    return null;
  });
}

/** Changes, closes or opens a bench. @returns what is wrong in words, or null @throws StaleEdit */
export function changeBench(
  store: Store,
  id: number,
  version: number,
  next: BenchFields & { readonly closed: boolean },
  hand: Hand,
): string | null {
  return inTransaction(store, () => {
    const other = named(store, { name: next.name });
    if (other && other.id !== id) return taken(next.name);
    const row = { ...next, closed: next.closed ? (1 as const) : (0 as const) };
    if (update(store, { ...row, id, version }).changes === 0) throw new StaleEdit("The bench");
    record(store, { bench: id, doc: JSON.stringify(row), ...hand });
    return null;
  });
}

const taken = (name: string) => `There is a bench ${name} already. Give this one another name`;

/** Writes down at which bench a run was begun. */
export const putRunAt = (store: Store, run: number, bench: number, hand: Hand) =>
  insertRunBench(store, { run, bench, ...hand });
