import type { ClearanceState } from "~/core/clearance/states";
import type { DangerKind } from "~/core/device/danger";
import { Fact, type FactKey, type FactValue } from "~/core/device/fact";
import type { Way } from "~/core/upgrade/way";
import { change, type Hand, query, queryOne, StaleEdit, type Store } from "./database";

export interface BatchRow {
  readonly id: string;
  readonly title: string;
  readonly received: string;
  readonly note: string;
  readonly devices: number;
}

/** A device as it stands, without its facts. */
export interface Standing {
  readonly id: number;
  readonly batch: string;
  readonly tag: string;
  readonly serial: string | null;
  readonly imei: string | null;
  readonly donor: string;
  readonly need: string | null;
  /** An earlier stay of the same device. */
  readonly returns: number | null;
  /** Why it was set aside; null when it was not. */
  readonly aside: DangerKind | null;
  readonly version: number;
  readonly revision: number;
  readonly clearance: ClearanceState;
  readonly decision: number | null;
  /** The accepted way as JSON; null when none is accepted. */
  readonly way: string | null;
  readonly run: number | null;
}

const batchRows = query<object, BatchRow>(`
  SELECT b.id, b.title, b.received, b.note, (SELECT count(*) FROM device WHERE batch = b.id AND withdrawn IS NULL) AS devices
  FROM   batch b
  ORDER  BY b.received DESC, b.id
`);
const oneBatch = queryOne<{ id: string }, BatchRow>(`
  SELECT b.id, b.title, b.received, b.note, (SELECT count(*) FROM device WHERE batch = b.id AND withdrawn IS NULL) AS devices
  FROM   batch b
  WHERE  b.id = @id
`);
const insertBatch = change<{ id: string; title: string; received: string; note: string }>(`
  INSERT INTO batch (id, title, received, note) VALUES (@id, @title, @received, @note)
`);

export const listBatches = (store: Store) => batchRows(store, {});
export const findBatch = (store: Store, id: string) => oneBatch(store, { id });
export const addBatch = (store: Store, batch: { id: string; title: string; received: string; note: string }) =>
  insertBatch(store, batch);

/** The way a person accepted for a device; null when none stands. */
export function acceptedWay(standing: Pick<Standing, "way">): Way | null {
  return standing.way === null ? null : (JSON.parse(standing.way) as Way);
}

const standingsOfBatch = query<{ batch: string }, Standing>(
  `SELECT * FROM device_standing WHERE batch = @batch ORDER BY tag`,
);
const allStandings = query<object, Standing>(`SELECT * FROM device_standing ORDER BY tag`);
const oneStanding = queryOne<{ tag: string }, Standing>(`
  SELECT s.* FROM device d JOIN device_standing s ON s.id = d.id WHERE d.tag = @tag
`);

export const standingsIn = (store: Store, batch: string | null) =>
  batch === null ? allStandings(store, {}) : standingsOfBatch(store, { batch });
export const findStanding = (store: Store, tag: string) => oneStanding(store, { tag });

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
  value: JSON.parse(row.value) as FactValue,
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

const insertFact = change<FactRow>(`
  INSERT INTO fact (device, key, value, source, at, by)
  VALUES (@device, @key, @value, @source, @at, @by)
`);

function writeFacts(store: Store, device: number, facts: readonly Fact[]) {
  for (const fact of facts) {
    const checked = Fact.parse(fact);
    insertFact(store, { device, ...checked, value: JSON.stringify(checked.value) });
  }
}

/** Appends facts, all or none. */
export function appendFacts(store: Store, device: number, facts: readonly Fact[]) {
  store.transaction(() => writeFacts(store, device, facts))();
}

export interface NewDevice {
  readonly tag: string;
  readonly serial: string | null;
  readonly imei: string | null;
  readonly donor: string;
  readonly need: string | null;
  readonly facts: readonly Fact[];
  /** The list it comes in with, and the earlier stay of the same device. */
  readonly import?: number | null;
  readonly returns?: number | null;
}

const insertDevice = change<{
  batch: string;
  tag: string;
  serial: string | null;
  imei: string | null;
  donor: string;
  need: string | null;
  import: number | null;
  returns: number | null;
  at: string;
}>(`
  INSERT INTO device (batch, tag, serial, imei, donor, need, import, returns, at)
  VALUES (@batch, @tag, @serial, @imei, @donor, @need, @import, @returns, @at)
`);

/** Takes devices in, all or none. @returns their row ids */
export function addDevices(store: Store, batch: string, devices: readonly NewDevice[], hand: Hand): number[] {
  return store.transaction(() =>
    devices.map(({ facts, ...device }) => {
      const id = Number(
        insertDevice(store, { import: null, returns: null, ...device, batch, at: hand.at }).lastInsertRowid,
      );
      writeFacts(store, id, facts);
      return id;
    }),
  )();
}

const takenTags = query<object, { tag: string }>(`SELECT tag FROM device`);

/** Tags in use, in lower case. */
export const tagsInUse = (store: Store) => new Set(takenTags(store, {}).map((r) => r.tag.toLowerCase()));

const updateDevice = change<{
  id: number;
  version: number;
  serial: string | null;
  imei: string | null;
  donor: string;
  need: string | null;
}>(`
  UPDATE device
  SET    serial = @serial, imei = @imei, donor = @donor, need = @need, version = version + 1
  WHERE  id = @id AND version = @version
`);
const recordDevice = change<{ device: number; was: string } & Hand>(`
  INSERT INTO device_change (device, was, at, by) VALUES (@device, @was, @at, @by)
`);

/** What people edit of a device's own row. */
export type DeviceOwn = Pick<Standing, "serial" | "imei" | "donor" | "need">;

/** Saves a device's own row. @throws StaleEdit when it was saved by somebody else since */
export function saveDevice(store: Store, was: Standing, next: DeviceOwn & { readonly version: number }, hand: Hand) {
  store.transaction(() => {
    if (updateDevice(store, { id: was.id, ...pickOwn(next), version: next.version }).changes === 0)
      throw new StaleEdit(`Device ${was.tag}`);
    recordDevice(store, { device: was.id, was: JSON.stringify(pickOwn(was)), ...hand });
  })();
}

const touched = queryOne<{ device: number }, { n: 0 | 1 }>(`
  SELECT EXISTS (SELECT 1 FROM clearance_event WHERE device = @device)
      OR EXISTS (SELECT 1 FROM decision WHERE device = @device)
      OR EXISTS (SELECT 1 FROM run WHERE device = @device)
      OR EXISTS (SELECT 1 FROM set_aside WHERE device = @device)
      OR EXISTS (SELECT 1 FROM evidence WHERE device = @device)
      OR EXISTS (SELECT 1 FROM register_check WHERE device = @device AND state = 'hit') AS n
`);
const withdraw = change<{ device: number; at: string }>(`
  UPDATE device SET withdrawn = @at, tag = tag || '~undone-' || id WHERE id = @device
`);

/** Whether more was written about a device than that it came in and what it is. */
export const isTouched = (store: Store, device: number): boolean => touched(store, { device })?.n === 1;

/** Takes a device out of the lane that came in by mistake; its tag is free again. Call it only where it is not touched. */
export const withdrawDevice = (store: Store, device: number, hand: Hand) => withdraw(store, { device, at: hand.at });

const dropBatchRow = change<{ id: string }>(`
  DELETE FROM batch
  WHERE  id = @id AND NOT EXISTS (SELECT 1 FROM device WHERE batch = @id) AND NOT EXISTS (SELECT 1 FROM import WHERE batch = @id)
`);

/** Takes a batch back that never had a device. @returns false when it has one, or is not there */
export const dropBatch = (store: Store, id: string): boolean => dropBatchRow(store, { id }).changes === 1;

const returnsTo = change<{ id: number; returns: number }>(`UPDATE device SET returns = @returns WHERE id = @id`);

/** Notes that a device is the same as one that was here before. */
export const setReturns = (store: Store, id: number, returns: number) => returnsTo(store, { id, returns });

const tagOfDevice = queryOne<{ id: number }, { tag: string }>(`SELECT tag FROM device WHERE id = @id`);
export const tagOf = (store: Store, id: number): string | null => tagOfDevice(store, { id })?.tag ?? null;

const ofImport = query<{ import: number }, { tag: string }>(`
  SELECT tag FROM device WHERE import = @import AND withdrawn IS NULL ORDER BY tag
`);
export const tagsOfImport = (store: Store, list: number) => ofImport(store, { import: list }).map((r) => r.tag);

const pickOwn = ({ serial, imei, donor, need }: DeviceOwn): DeviceOwn => ({ serial, imei, donor, need });

const deviceChanges = query<{ device: number }, { was: string } & Hand>(`
  SELECT was, at, by FROM device_change WHERE device = @device ORDER BY id
`);
export const changesOfDevice = (store: Store, device: number) => deviceChanges(store, { device });

interface Found {
  readonly tag: string;
  readonly donor: string;
  readonly serial: string | null;
  readonly imei: string | null;
}

/** Fewest letters the index can look for. */
const TRIGRAM = 3;
const byIndex = query<{ words: string; text: string }, Found>(`
  SELECT d.tag, d.donor, d.serial, d.imei
  FROM   device_search x JOIN device d ON d.id = x.rowid
  WHERE  device_search MATCH @words AND d.withdrawn IS NULL
  ORDER  BY d.tag <> @text COLLATE NOCASE, d.id DESC
  LIMIT  30
`);
const byFewLetters = query<{ start: string; text: string }, Found>(`
  SELECT tag, donor, serial, imei
  FROM   device
  WHERE  (tag LIKE @start ESCAPE '\\' OR donor LIKE @start ESCAPE '\\') AND withdrawn IS NULL
  ORDER  BY tag <> @text COLLATE NOCASE, tag
  LIMIT  30
`);

/**
 * Devices by any part, three letters or more, of tag, serial number, IMEI, donor, model number or name; by the beginning
 * of tag or donor where fewer letters are given. The exact tag comes first.
 */
export function searchDevices(store: Store, given: string): Found[] {
  const text = given.trim();
  if (text === "") return [];
  if ([...text].length < TRIGRAM) return byFewLetters(store, { text, start: `${text.replace(/[\\%_]/g, "\\$&")}%` });
  // A phrase in quotes: nothing in it is an operator of the index.
  return byIndex(store, { text, words: `"${text.replaceAll('"', '""')}"` });
}
