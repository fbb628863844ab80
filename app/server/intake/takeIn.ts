import { today } from "~/app/server/http/clock";
import { type Column, guessColumns } from "~/core/lists/columns";
import { type DeviceRow, judgeRows, type ListWorld, quantityColumn, type RawRow } from "~/core/lists/deviceList";
import type { Table } from "~/core/lists/table";
import { readCatalogueRows } from "~/store/catalogue";
import type { Hand, Store } from "~/store/database";
import { tagsInUse } from "~/store/devices";
import {
  addImport,
  earlierByImei,
  earlierBySerial,
  findImport,
  forgetSource,
  type ImportRow,
  pendingRows,
  rememberedMapping,
  rememberMapping,
  takeRows,
} from "~/store/imports";
import { inTransaction } from "~/store/transaction";

/** Keeps a list as a draft, its columns guessed. @returns the draft's id */
export function draftList(
  store: Store,
  list: {
    readonly batch: string;
    readonly source: string;
    readonly file: string;
    readonly table: Table;
    readonly bytes?: Uint8Array;
  },
  hand: Hand,
  progress?: (done: number) => void,
): number {
  const { batch, source, file, table, bytes } = list;
  const guesses = guessColumns(table.header, table.rows, rememberedMapping(store, source));
  // What the cells look like is shown, and holds nothing before a person says so.
  const mapping = guesses.map((g) => (g.by === "content" ? null : g.column));
  return addImport(store, { batch, source, file, mapping, bytes, prefix: prefixOf(source), ...table }, hand, progress);
}

/** "Rivergate school" → "RS-": how tags begin where a list has none. */
export function prefixOf(source: string): string {
  const initials = source
    .normalize("NFKD")
    .split(/[^A-Za-z0-9]+/)
    .filter(Boolean)
    .slice(0, 3)
    .map((word) => word[0].toUpperCase())
    .join("");
  return `${initials || "D"}-`;
}

/** What rows are judged against as the database stands now. */
function worldOf(store: Store, list: Pick<ImportRow, "mapping" | "prefix" | "header" | "need" | "days">): ListWorld {
  const { needs } = readCatalogueRows(store);
  return {
    taken: tagsInUse(store),
    needs: new Map(needs.flatMap((n) => [[n.id, n.id] as const, [n.name.toLowerCase(), n.id] as const])),
    // One that was dropped in the meantime is nobody's.
    need: needs.some((n) => n.id === list.need) ? list.need : null,
    bySerial: (serial) => earlierBySerial(store, serial),
    byImei: (imei) => earlierByImei(store, imei),
    today: today(store),
    quantity: quantityColumn(list.header),
    days: list.days,
    numbered: (list.mapping as readonly (Column | null)[]).includes("tag") ? null : { prefix: list.prefix, from: 1 },
  };
}

export interface JudgedList {
  readonly list: ImportRow;
  readonly raw: readonly RawRow[];
  readonly good: readonly DeviceRow[];
  readonly bad: readonly DeviceRow[];
  /** Rows that a person chose to leave out. */
  readonly left: readonly DeviceRow[];
}

/** A draft as it stands: what can be taken in, what must be mended, what is left out. Rows left out take no tag. */
export function judgeList(store: Store, id: number): JudgedList | null {
  const list = findImport(store, id);
  if (!list) return null;
  const raw = pendingRows(store, id);
  const world = worldOf(store, list);
  const left = judgeRows(
    raw.filter((r) => r.choice === "leave"),
    list.mapping,
    world,
  );
  const rows = judgeRows(
    raw.filter((r) => r.choice !== "leave"),
    list.mapping,
    world,
  );
  return {
    list,
    raw,
    left,
    good: rows.filter((r) => r.problems.length === 0),
    bad: rows.filter((r) => r.problems.length > 0),
  };
}

/**
 * Takes the good rows of a draft in, all or nothing; the rest stays a draft to mend.
 *
 * @param check called now and then with the rows done; what it throws stops everything and leaves nothing behind
 * @returns how many devices were taken in
 */
export function takeList(store: Store, id: number, hand: Hand, check: (done: number, of: number) => void): number {
  return inTransaction(store, () => {
    const judged = judgeList(store, id);
    if (judged?.list.state !== "open") throw new RangeError("This list is not open any more. Reload the page");
    const { list, good } = judged;
    check(0, good.length);
    takeRows(store, list, good, hand, (done) => check(done, good.length));
    if (good.length > 0) rememberMapping(store, list, hand);
    forgetSource(store, id);
    return good.length;
  });
}
