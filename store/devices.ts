import type { ClearanceState } from "~/core/clearance/states";
import type { DangerKind } from "~/core/device/danger";
import type { Fact } from "~/core/device/fact";
import { normalSerial } from "~/core/device/serial";
import type { DeviceEnd } from "~/core/lane/station";
import { Way } from "~/core/upgrade/way";
import { change, type Hand, query, queryOne, StaleEdit, type Store } from "./database";
import { writeFacts } from "./facts";
import { inTransaction } from "./transaction";

export interface Batch {
  readonly id: string;
  readonly title: string;
  readonly received: string;
  readonly note: string;
}

/** A batch with how many of its devices are here. */
export interface CountedBatch extends Batch {
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
  /** Where it went, when it goes no further; null while it is on the lane. */
  readonly ended: DeviceEnd | null;
  readonly version: number;
  readonly revision: number;
  readonly clearance: ClearanceState;
  readonly decision: number | null;
  /** The accepted way as JSON; null when none is accepted. */
  readonly way: string | null;
  /** The facts the accepted way rests on, as JSON. */
  readonly rests: string | null;
  readonly run: number | null;
}

const batchRows = query<object, Batch>(`SELECT id, title, received, note FROM batch ORDER BY received DESC, id`);
const countedRows = query<object, CountedBatch>(`
  SELECT b.id, b.title, b.received, b.note, (SELECT count(*) FROM device WHERE batch = b.id AND withdrawn IS NULL) AS devices
  FROM   batch b
  ORDER  BY b.received DESC, b.id
`);
const oneBatch = queryOne<{ id: string }, Batch>(`SELECT id, title, received, note FROM batch WHERE id = @id`);
const insertBatch = change<{ id: string; title: string; received: string; note: string }>(`
  INSERT INTO batch (id, title, received, note) VALUES (@id, @title, @received, @note)
`);

/** All batches, the newest first. Counting their devices takes a look at every device: only where it is shown. */
export const listBatches = (store: Store) => batchRows(store, {});
export const countedBatches = (store: Store) => countedRows(store, {});
export const findBatch = (store: Store, id: string) => oneBatch(store, { id });
export const addBatch = (store: Store, batch: { id: string; title: string; received: string; note: string }) =>
  insertBatch(store, batch);

/** The way a person accepted for a device; null when none stands. */
export function acceptedWay(standing: Pick<Standing, "way">): Way | null {
  return standing.way === null ? null : Way.parse(JSON.parse(standing.way));
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

/** Numbers in the one form in which they are kept and compared, wherever they were typed. */
const kept = ({ serial }: { readonly serial: string | null }) => ({ serial: serial && normalSerial(serial) });

/** Takes devices in, all or none. @returns their row ids */
export function addDevices(store: Store, batch: string, devices: readonly NewDevice[], hand: Hand): number[] {
  return inTransaction(store, () =>
    devices.map(({ facts, ...device }) => {
      const id = Number(
        insertDevice(store, { import: null, returns: null, ...device, ...kept(device), batch, at: hand.at })
          .lastInsertRowid,
      );
      writeFacts(store, id, facts);
      return id;
    }),
  );
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
  inTransaction(store, () => {
    if (updateDevice(store, { id: was.id, ...pickOwn(next), ...kept(next), version: next.version }).changes === 0)
      throw new StaleEdit(`Device ${was.tag}`);
    recordDevice(store, { device: was.id, was: JSON.stringify(pickOwn(was)), ...hand });
  });
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
 * of tag or donor where fewer letters are given. The exact tag comes first. Numbers are found however they are written:
 * with blanks and dashes, a serial number with its label.
 */
export function searchDevices(store: Store, given: string): Found[] {
  const text = given.trim();
  if (text === "") return [];
  if ([...text].length < TRIGRAM) return byFewLetters(store, { text, start: `${text.replace(/[\\%_]/g, "\\$&")}%` });
  // Phrases in quotes: nothing in them is an operator of the index.
  const phrase = (words: string) => `"${words.replaceAll('"', '""')}"`;
  const number = normalSerial(text) ?? "";
  const words = [phrase(text)];
  if (number.length >= TRIGRAM && number !== text) words.push(`{serial imei} : ${phrase(number)}`);
  return byIndex(store, { text, words: words.join(" OR ") });
}
