import { Fact, type FactKey } from "~/core/device/fact";
import { change, type Hand, query, type Store } from "./database";
import { inTransaction } from "./transaction";

interface FactRow {
  readonly device: number;
  readonly key: string;
  readonly value: string;
  readonly source: string;
  readonly at: string;
  readonly by: string;
}

const factsOfDevice = query<{ device: number }, FactRow>(`
  SELECT device, key, value, source, at, by
  FROM   fact f
  WHERE  device = @device AND NOT EXISTS (SELECT 1 FROM fact_undone WHERE fact = f.id)
  ORDER  BY id
`);
const factsOfBatch = query<{ batch: string }, FactRow>(`
  SELECT f.device, f.key, f.value, f.source, f.at, f.by
  FROM   device d JOIN fact f ON f.device = d.id
  WHERE  d.batch = @batch AND NOT EXISTS (SELECT 1 FROM fact_undone WHERE fact = f.id)
  ORDER  BY f.device, f.id
`);

const toFact = (row: FactRow): Fact => ({
  key: row.key as FactKey,
  value: JSON.parse(row.value) as Fact["value"],
  source: row.source as Fact["source"],
  at: row.at,
  by: row.by,
});

/** All facts of a device, oldest first. Rows were checked by {@link Fact} when they were written. */
export function factsOf(store: Store, device: number): Fact[] {
  return factsOfDevice(store, { device }).map(toFact);
}

export interface FactEntry extends Fact {
  /** When it was taken back, and by whom; null while it counts. */
  readonly undone: Hand | null;
}

const everyFact = query<{ device: number }, FactRow & { undoneAt: string | null; undoneBy: string | null }>(`
  SELECT f.device, f.key, f.value, f.source, f.at, f.by, u.at AS undoneAt, u.by AS undoneBy
  FROM   fact f LEFT JOIN fact_undone u ON u.fact = f.id
  WHERE  f.device = @device
  ORDER  BY f.id
`);

/** All facts that were ever written, with those that were taken back: for the history. */
export const factHistory = (store: Store, device: number): FactEntry[] =>
  everyFact(store, { device }).map((row) => ({
    ...toFact(row),
    undone: row.undoneAt === null ? null : { at: row.undoneAt, by: row.undoneBy ?? "" },
  }));

const undoFactsOf = change<{ device: number; source: string; writtenAt: string; writtenBy: string } & Hand>(`
  INSERT INTO fact_undone (fact, at, by)
  SELECT f.id, @at, @by
  FROM   fact f
  WHERE  f.device = @device AND f.source = @source AND f.at = @writtenAt AND f.by = @writtenBy
         AND NOT EXISTS (SELECT 1 FROM fact_undone WHERE fact = f.id)
`);

/** Takes back facts that were written together. @returns how many there were */
export function undoFacts(
  store: Store,
  device: number,
  written: Hand & { readonly source: Fact["source"] },
  hand: Hand,
): number {
  const { source, at, by } = written;
  return undoFactsOf(store, { device, source, writtenAt: at, writtenBy: by, ...hand }).changes;
}

/** Facts of a whole batch by device: one query for many devices. */
export function factsByDevice(store: Store, batch: string): Map<number, Fact[]> {
  const by = new Map<number, Fact[]>();
  for (const row of factsOfBatch(store, { batch })) {
    const list = by.get(row.device);
    if (list) list.push(toFact(row));
    else by.set(row.device, [toFact(row)]);
  }
  return by;
}

const insertFact = change<FactRow & { runStep: number | null }>(`
  INSERT INTO fact (device, key, value, source, run_step, at, by)
  VALUES (@device, @key, @value, @source, @runStep, @at, @by)
`);

/**
 * Writes facts inside the caller's transaction.
 *
 * @param runStep the step of a run that made them; they are taken back with it
 */
export function writeFacts(store: Store, device: number, facts: readonly Fact[], runStep: number | null = null) {
  for (const fact of facts) {
    const checked = Fact.parse(fact);
    insertFact(store, { device, ...checked, value: JSON.stringify(checked.value), runStep });
  }
}

const undoFactsOfStep = change<{ run: number; place: number } & Hand>(`
  INSERT INTO fact_undone (fact, at, by)
  SELECT f.id, @at, @by
  FROM   run_step s JOIN fact f ON f.run_step = s.id
  WHERE  s.run = @run AND s.place = @place AND NOT EXISTS (SELECT 1 FROM fact_undone WHERE fact = f.id)
`);

/** Takes back what a step of a run has made: the step itself was taken back. */
export const undoFactsOfRunStep = (store: Store, run: number, place: number, hand: Hand) =>
  undoFactsOfStep(store, { run, place, ...hand });

const madeByRun = query<{ run: number }, FactRow>(`
  SELECT f.device, f.key, f.value, f.source, f.at, f.by
  FROM   run_step s JOIN fact f ON f.run_step = s.id
  WHERE  s.run = @run AND NOT EXISTS (SELECT 1 FROM fact_undone WHERE fact = f.id)
  ORDER  BY f.id
`);

/** Facts that the steps of a run have made, in order. */
export const factsOfRun = (store: Store, run: number): Fact[] => madeByRun(store, { run }).map(toFact);

/** Appends facts, all or none. */
export function appendFacts(store: Store, device: number, facts: readonly Fact[]) {
  inTransaction(store, () => writeFacts(store, device, facts));
}
