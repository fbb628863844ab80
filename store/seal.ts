import { createHash, type Hash } from "node:crypto";
import { type Store, statement } from "./database";
import { HISTORY, HISTORY_TABLES, type HistoryTable } from "./history";

/** How far a seal reaches: the last row number of each table. */
type Reach = Partial<Record<HistoryTable, number>>;

interface SealRow {
  readonly id: number;
  readonly upto: string;
  readonly digest: string;
  readonly at: string;
}

const START = "0".repeat(64);

const ROWS = Object.fromEntries(
  HISTORY_TABLES.map((table) => {
    const columns = HISTORY[table].map((c) => `"${c}"`).join(", ");
    return [table, `SELECT ${columns} FROM ${table} WHERE id > ? AND id <= ? ORDER BY id`];
  }),
) as Record<HistoryTable, string>;

/** The last row number of every table, in one go. */
const REACH = `SELECT ${HISTORY_TABLES.map((t) => `(SELECT coalesce(max(id), 0) FROM ${t}) AS ${t}`).join(", ")}`;

/**
 * Seals what was appended since the last seal: SHA-256 over the seal before and the rows between, table by table, each row
 * as JSON. Whoever changes a row later breaks every seal from there on. Call it inside the transaction that appended.
 *
 * @source FIPS 180-4 for SHA-256; chained digests as in RFC 5848 and RFC 9162 (common practice, the layout is our own)
 */
export function sealHistory(store: Store) {
  const reach = statement(store, REACH).get() as Required<Reach>;
  const upto = JSON.stringify(reach);
  const last = statement(store, "SELECT upto, digest FROM seal ORDER BY id DESC LIMIT 1").get() as SealRow | undefined;
  if (last ? last.upto === upto : Object.values(reach).every((n) => n === 0)) return;
  const digest = createHash("sha256").update(last?.digest ?? START);
  addRows(store, digest, last ? (JSON.parse(last.upto) as Reach) : {}, reach);
  statement(store, "INSERT INTO seal (upto, digest, at) VALUES (?, ?, ?)").run(
    upto,
    digest.digest("hex"),
    new Date().toISOString(),
  );
}

function addRows(store: Store, digest: Hash, from: Reach, upto: Reach) {
  for (const table of HISTORY_TABLES) {
    const first = from[table] ?? 0;
    const last = upto[table] ?? 0;
    if (last <= first) continue;
    for (const row of statement(store, ROWS[table]).raw().iterate(first, last))
      digest.update(`\n${table} ${JSON.stringify(row)}`);
  }
}

export type Verified =
  | {
      readonly ok: true;
      readonly seals: number;
      readonly rows: number;
      readonly digest: string;
      readonly unsealed: number;
    }
  | { readonly ok: false; readonly says: string };

/**
 * Works every seal out anew and compares.
 *
 * @returns the last digest, to be held against one that was written down elsewhere; or where the history was changed
 */
export function verifyHistory(store: Store): Verified {
  const seals = statement(store, "SELECT id, upto, digest, at FROM seal ORDER BY id").all() as SealRow[];
  let before: { digest: string; upto: Reach; at: string } = { digest: START, upto: {}, at: "the beginning" };
  let next = 1;
  for (const seal of seals) {
    if (seal.id !== next++) return { ok: false, says: `Seal ${next - 1} is missing: somebody deleted it` };
    const upto = JSON.parse(seal.upto) as Reach;
    const digest = createHash("sha256").update(before.digest);
    addRows(store, digest, before.upto, upto);
    if (digest.digest("hex") !== seal.digest)
      return {
        ok: false,
        says: `What was written between ${before.at} and ${seal.at} is not what it was: ${between(before.upto, upto)}`,
      };
    before = { digest: seal.digest, upto, at: seal.at };
  }
  const taken = statement(
    store,
    `SELECT (SELECT count(*) FROM fact_undone) + (SELECT count(*) FROM pack_undo) AS there, (SELECT count(*) FROM taken_back) AS noted`,
  ).get() as { there: number; noted: number };
  if (taken.there !== taken.noted)
    return { ok: false, says: `${taken.noted} things were taken back, and ${taken.there} stand there as taken back` };
  const reach = statement(store, REACH).get() as Required<Reach>;
  const sum = (of: Reach) => Object.values(of).reduce((a, b) => a + b, 0);
  const shrunk = HISTORY_TABLES.find((t) => reach[t] < (before.upto[t] ?? 0));
  if (shrunk) return { ok: false, says: `Rows at the end of ${shrunk} are gone` };
  return {
    ok: true,
    seals: seals.length,
    rows: sum(before.upto),
    digest: before.digest,
    unsealed: sum(reach) - sum(before.upto),
  };
}

const between = (from: Reach, upto: Reach) =>
  HISTORY_TABLES.filter((t) => (upto[t] ?? 0) > (from[t] ?? 0))
    .map((t) => `${t} ${(from[t] ?? 0) + 1} to ${upto[t]}`)
    .join(", ");
