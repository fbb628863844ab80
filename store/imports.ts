import { normalSerial } from "~/core/device/serial";
import type { DayOrder } from "~/core/lists/cellValue";
import type { Column, Mapping } from "~/core/lists/columns";
import {
  type Choice,
  type DeviceRow,
  type Earlier,
  quantityColumn,
  type RawRow,
  splitLine,
} from "~/core/lists/deviceList";
import type { Table } from "~/core/lists/table";
import { change, type Hand, query, queryOne, StaleEdit, type Store } from "./database";
import { addDevices, isTouched } from "./devices";
import { inTransaction } from "./transaction";

export interface ImportRow extends Hand {
  readonly id: number;
  readonly batch: string;
  /** Where the list comes from, as the person calls it: its mapping is remembered under this name. */
  readonly source: string;
  readonly file: string;
  readonly header: readonly string[];
  readonly mapping: Mapping;
  readonly prefix: string;
  /** Who waits for the rows that name nobody themselves; null where nobody was chosen. */
  readonly need: string | null;
  readonly remarks: readonly string[];
  /** By place of a column, which of two numbers of a day comes first, as somebody said. */
  readonly days: Readonly<Record<number, DayOrder>>;
  readonly state: "open" | "dropped";
  readonly version: number;
}

type Raw = Omit<ImportRow, "header" | "mapping" | "remarks" | "days"> &
  Readonly<Record<"header" | "mapping" | "remarks" | "days", string>>;

const columns = "id, batch, source, file, header, mapping, prefix, need, remarks, days, state, version, at, by";
const one = queryOne<{ id: number }, Raw>(`SELECT ${columns} FROM import WHERE id = @id`);
const newest = query<object, Raw & { rows: number; taken: number }>(`
  SELECT ${columns},
         (SELECT count(*) FROM import_row WHERE import = i.id)                          AS rows,
         (SELECT count(*) FROM import_row WHERE import = i.id AND device IS NOT NULL)   AS taken
  FROM   import i
  WHERE  state <> 'dropped'
  ORDER  BY id DESC
  LIMIT  20
`);
const insert = change<Omit<Raw, "id" | "state" | "version" | "need" | "days">>(`
  INSERT INTO import (batch, source, file, header, mapping, prefix, remarks, at, by)
  VALUES (@batch, @source, @file, @header, @mapping, @prefix, @remarks, @at, @by)
`);
const insertRow = change<{ import: number; line: number; cells: string }>(`
  INSERT INTO import_row (import, line, cells) VALUES (@import, @line, @cells)
`);
const update = change<{
  id: number;
  version: number;
  mapping: string;
  prefix: string;
  need: string | null;
  days: string;
}>(`
  UPDATE import SET mapping = @mapping, prefix = @prefix, need = @need, days = @days, version = version + 1
  WHERE  id = @id AND version = @version AND state = 'open'
`);
const setState = change<{ id: number; state: string }>(`
  UPDATE import SET state = @state, version = version + 1 WHERE id = @id
`);
const pending = query<{ id: number }, { line: number; cells: string; choice: Choice }>(`
  SELECT line, cells, choice FROM import_row WHERE import = @id AND device IS NULL ORDER BY line
`);
const cameIn = queryOne<{ device: number }, { mapping: string; line: number; cells: string }>(`
  SELECT i.mapping, r.line, r.cells
  FROM   device d
  JOIN   import i ON i.id = d.import
  JOIN   import_row r ON r.import = i.id AND r.device = d.id
  WHERE  d.id = @device
`);
const cellsOf = queryOne<{ id: number; line: number }, { cells: string }>(`
  SELECT cells FROM import_row WHERE import = @id AND line = @line AND device IS NULL
`);
const updateRow = change<{ id: number; line: number; cells: string; choice: Choice }>(`
  UPDATE import_row SET cells = @cells, choice = @choice WHERE import = @id AND line = @line AND device IS NULL
`);
const setDevice = change<{ id: number; line: number; device: number }>(`
  UPDATE import_row SET device = @device WHERE import = @id AND line = @line
`);
const intoIndex = change<{ import: number }>(`
  INSERT INTO device_search (rowid, tag, serial, imei, donor, model)
  SELECT d.id, d.tag, coalesce(d.serial, ''), coalesce(d.imei, ''), d.donor,
         coalesce((SELECT group_concat(json_extract(value, '$'), ' ') FROM fact
                   WHERE device = d.id AND key IN ('model.number', 'model.name')), '')
  FROM   device d
  WHERE  d.import = @import AND d.id NOT IN (SELECT rowid FROM device_search)
`);

const toImport = (raw: Raw): ImportRow => ({
  ...raw,
  header: JSON.parse(raw.header) as string[],
  mapping: JSON.parse(raw.mapping) as Mapping,
  days: JSON.parse(raw.days) as ImportRow["days"],
  remarks: JSON.parse(raw.remarks) as string[],
});

export const findImport = (store: Store, id: number): ImportRow | undefined => {
  const raw = one(store, { id });
  return raw && toImport(raw);
};
export const listImports = (store: Store) =>
  newest(store, {}).map(({ rows, taken, ...raw }) => ({ ...toImport(raw), rows, taken }));

/** Rows that were not taken in yet, as they stand after what was mended. */
export const pendingRows = (store: Store, id: number): RawRow[] =>
  pending(store, { id }).map((r) => ({ line: r.line, cells: JSON.parse(r.cells) as string[], choice: r.choice }));

/** The line of the list that a device came in with; undefined for one that came without a list. */
export const lineOfDevice = (store: Store, device: number) => {
  const row = cameIn(store, { device });
  return row && { ...row, mapping: JSON.parse(row.mapping) as Mapping, cells: JSON.parse(row.cells) as string[] };
};

const keepSource = change<{ import: number; bytes: Uint8Array; found: string }>(`
  INSERT INTO import_source (import, bytes, found) VALUES (@import, @bytes, @found)
`);
const source = queryOne<{ id: number }, { bytes: Uint8Array; found: string }>(`
  SELECT bytes, found FROM import_source WHERE import = @id
`);
const found = queryOne<{ id: number }, { found: string }>(`SELECT found FROM import_source WHERE import = @id`);
const forget = change<{ id: number }>(`DELETE FROM import_source WHERE import = @id`);

/** The file of a list as it came; undefined once it was taken in or dropped. */
export const sourceOfImport = (store: Store, id: number): Uint8Array | undefined => source(store, { id })?.bytes;
/** What was taken for what when a list was read. */
export const foundInImport = (store: Store, id: number): Table["found"] => {
  const row = found(store, { id });
  return row ? (JSON.parse(row.found) as Table["found"]) : undefined;
};
/** Forgets the file of a list: its rows are what counts from then on. */
export const forgetSource = (store: Store, id: number) => forget(store, { id });

/** Keeps a list as a draft, all or nothing. */
export function addImport(
  store: Store,
  list: {
    batch: string;
    source: string;
    file: string;
    mapping: Mapping;
    prefix: string;
    bytes?: Uint8Array;
  } & Table,
  hand: Hand,
  progress: (done: number) => void = () => {},
): number {
  return inTransaction(store, () => {
    const { batch, source, file, prefix } = list;
    const id = Number(
      insert(store, {
        ...{ batch, source, file, prefix },
        header: JSON.stringify(list.header),
        mapping: JSON.stringify(list.mapping),
        remarks: JSON.stringify(list.remarks),
        ...hand,
      }).lastInsertRowid,
    );
    if (list.bytes && list.found)
      keepSource(store, { import: id, bytes: list.bytes, found: JSON.stringify(list.found) });
    list.rows.forEach((row, i) => {
      insertRow(store, { import: id, line: row.line, cells: JSON.stringify(row.cells) });
      if (i % 500 === 499) progress(i + 1);
    });
    return id;
  });
}

export interface Mended {
  readonly mapping: Mapping;
  readonly prefix: string;
  readonly need: string | null;
  readonly days?: ImportRow["days"];
  readonly version: number;
  readonly cells: readonly { readonly line: number; readonly cell: number; readonly text: string }[];
  readonly choices: readonly { readonly line: number; readonly choice: Choice }[];
  /** Lines that stand for several devices and are made into one each. */
  readonly splits?: readonly number[];
}

/** Saves what was mended in a draft. @throws StaleEdit when somebody else mended it since */
export function mendImport(store: Store, id: number, mended: Mended) {
  inTransaction(store, () => {
    const { version, prefix, need, mapping, days = {} } = mended;
    const row = { id, version, prefix, need, mapping: JSON.stringify(mapping), days: JSON.stringify(days) };
    if (update(store, row).changes === 0) throw new StaleEdit("This list");
    const lines = new Set([...mended.cells, ...mended.choices].map((m) => m.line));
    for (const line of lines) {
      const row = cellsOf(store, { id, line });
      if (!row) continue;
      const cells = JSON.parse(row.cells) as string[];
      for (const edit of mended.cells.filter((c) => c.line === line)) {
        while (cells.length <= edit.cell) cells.push("");
        cells[edit.cell] = edit.text;
      }
      const choice = mended.choices.find((c) => c.line === line)?.choice ?? null;
      updateRow(store, { id, line, cells: JSON.stringify(cells), choice });
    }
    for (const line of mended.splits ?? []) splitRow(store, id, line, mended.mapping);
  });
}

const lastLine = queryOne<{ id: number }, { line: number }>(
  `SELECT coalesce(max(line), 0) AS line FROM import_row WHERE import = @id`,
);

/** Makes a row for each device that one stands for; the new ones come behind the last line of the list. */
function splitRow(store: Store, id: number, line: number, mapping: Mapping) {
  const row = cellsOf(store, { id, line });
  const list = one(store, { id });
  if (!row || !list) return;
  const column = quantityColumn(JSON.parse(list.header) as string[]);
  const [first, ...others] = splitLine(JSON.parse(row.cells) as string[], mapping, column);
  if (others.length === 0) return;
  updateRow(store, { id, line, cells: JSON.stringify(first), choice: null });
  let next = lastLine(store, { id })?.line ?? 0;
  for (const cells of others) insertRow(store, { import: id, line: ++next, cells: JSON.stringify(cells) });
}

/**
 * Takes judged rows in. Call it inside a transaction: a list is taken in all or nothing.
 *
 * @param check called after every hundred rows; what it throws stops and undoes everything
 */
export function takeRows(
  store: Store,
  list: ImportRow,
  rows: readonly DeviceRow[],
  hand: Hand,
  check: (done: number) => void,
) {
  const devices = rows.map(({ tag, serial, imei, donor, need, facts, earlier }) => ({
    ...{ tag, serial, imei, donor, need },
    facts: facts.map((f) => ({ ...f, source: "import" as const, ...hand })),
    import: list.id,
    returns: earlier?.device ?? null,
  }));
  for (let from = 0; from < rows.length; from += SLICE) {
    const ids = addDevices(store, list.batch, devices.slice(from, from + SLICE), hand);
    ids.forEach((device, i) => {
      setDevice(store, { id: list.id, line: rows[from + i].line, device });
    });
    check(Math.min(from + SLICE, rows.length));
  }
  intoIndex(store, { import: list.id });
}

/** Rows between two looks at whether to go on. */
const SLICE = 100;

export function dropImport(store: Store, id: number) {
  inTransaction(store, () => {
    setState(store, { id, state: "dropped" });
    forget(store, { id });
  });
}

const taken = query<{ id: number }, { device: number; tag: string; touched: 0 | 1 }>(`
  SELECT d.id AS device,
         d.tag,
         EXISTS (SELECT 1 FROM device_change WHERE device = d.id)
           OR EXISTS (SELECT 1 FROM fact WHERE device = d.id AND source <> 'import') AS touched
  FROM   device d
  WHERE  d.import = @id AND d.withdrawn IS NULL
`);
const withdraw = change<{ device: number; at: string; import: number }>(`
  UPDATE device SET withdrawn = @at, tag = tag || '~undone-' || @import WHERE id = @device
`);
const freeRows = change<{ id: number }>(`UPDATE import_row SET device = NULL WHERE import = @id`);

/**
 * Undoes an import as a whole: its devices are withdrawn and their tags free again; the list is a draft as before.
 *
 * @returns how many devices, or what is wrong in words
 */
export function undoImport(store: Store, id: number, hand: Hand): number | string {
  return inTransaction(store, () => {
    const devices = taken(store, { id });
    if (devices.length === 0) return "No device of this list is in the lane";
    const touched = devices.filter((d) => d.touched || isTouched(store, d.device)).map((d) => d.tag);
    if (touched.length)
      return `Somebody has worked on ${touched.slice(0, 8).join(", ")}${touched.length > 8 ? ` and ${touched.length - 8} more` : ""} since: the list can't be undone as a whole any more`;
    for (const { device } of devices) withdraw(store, { device, at: hand.at, import: id });
    freeRows(store, { id });
    setState(store, { id, state: "open" });
    return devices.length;
  });
}

const memory = queryOne<{ source: string }, { mapping: string }>(`
  SELECT mapping FROM import_mapping WHERE source = @source
`);
const remember = change<{ source: string; mapping: string } & Hand>(`
  INSERT INTO import_mapping (source, mapping, at, by) VALUES (@source, @mapping, @at, @by)
  ON CONFLICT (source) DO UPDATE SET mapping = excluded.mapping, at = excluded.at, by = excluded.by
`);

/** What the columns of a source's lists held last time, by header name in lower case. */
export function rememberedMapping(store: Store, source: string): Map<string, Column | null> {
  const row = memory(store, { source });
  return new Map(Object.entries(row ? (JSON.parse(row.mapping) as Record<string, Column | null>) : {}));
}

/** Remembers a mapping; columns this list does not have keep what they held. */
export function rememberMapping(store: Store, list: ImportRow, hand: Hand) {
  const all = rememberedMapping(store, list.source);
  list.header.forEach((name, i) => {
    all.set(name.toLowerCase(), list.mapping[i] ?? null);
  });
  remember(store, { source: list.source, mapping: JSON.stringify(Object.fromEntries(all)), ...hand });
}

const LEFT = `(
  EXISTS (SELECT 1 FROM checkout_end e WHERE e.run = s.run AND e.result = 'done')
  OR s.clearance IN ('declined', 'unreachable', 'reported-lost')
  OR s.aside IS NOT NULL
  OR s.ended IS NOT NULL
)`;
const bySerial = queryOne<{ serial: string }, { device: number; tag: string; left: 0 | 1 }>(`
  SELECT s.id AS device, s.tag, ${LEFT} AS left
  FROM   device d JOIN device_standing s ON s.id = d.id
  WHERE  d.serial = @serial COLLATE NOCASE
  ORDER  BY d.id DESC LIMIT 1
`);
const byImei = queryOne<{ imei: string }, { device: number; tag: string; left: 0 | 1 }>(`
  SELECT s.id AS device, s.tag, ${LEFT} AS left
  FROM   device d JOIN device_standing s ON s.id = d.id
  WHERE  d.imei = @imei
  ORDER  BY d.id DESC LIMIT 1
`);
const toEarlier = (row: { device: number; tag: string; left: 0 | 1 } | undefined): Earlier | null =>
  row ? { device: row.device, tag: row.tag, left: row.left === 1 } : null;

/** The newest device with a serial number; null when there is none. */
export const earlierBySerial = (store: Store, serial: string) =>
  toEarlier(bySerial(store, { serial: normalSerial(serial) ?? "" }));
export const earlierByImei = (store: Store, imei: string) => toEarlier(byImei(store, { imei }));
