import { emptyCopy } from "~/demo/demoCopy";
import type { Store } from "./database";
import { HISTORY, HISTORY_TABLES } from "./history";
import { verifyHistory } from "./seal";
import { inTransaction } from "./transaction";

const at = "2026-11-20T10:00:00Z";

function written() {
  const store = emptyCopy();
  inTransaction(store, () => {
    store.exec(`
      INSERT INTO batch (id, title, received) VALUES ('b', 'B', '2026-11-01');
      INSERT INTO device (id, batch, tag, at) VALUES (1, 'b', 'T-1', '${at}');
      INSERT INTO fact (device, key, value, source, at, by) VALUES (1, 'android.release', '"9"', 'typed', '${at}', 'Oda');
    `);
  });
  inTransaction(store, () => {
    store.exec(`
      INSERT INTO fact (device, key, value, source, at, by) VALUES (1, 'android.release', '"10"', 'read', '${at}', 'Oda');
      INSERT INTO fact_undone (fact, at, by) VALUES (1, '${at}', 'Oda');
      INSERT INTO letter (donor, kind, how, language, recipient, subject, body, tags, at, by)
      VALUES ('D', 'ask', 'copied', 'en', 'd@example.org', 'S', 'text', '[]', '${at}', 'Oda');
      INSERT INTO evidence (device, digest, name, type, bytes, at, by)
      VALUES (1, 'ab', 'a.png', 'image/png', 3, '${at}', 'Oda');
    `);
  });
  return store;
}
/** As somebody would who has the file and drops what guards it. */
function tamper(store: Store, sql: string, table: string) {
  for (const guard of ["kept", "stays", "once"]) store.exec(`DROP TRIGGER IF EXISTS ${table}_${guard}`);
  store.exec(sql);
}

test("what was appended is sealed, and stays as it was", () => {
  const seen = verifyHistory(written());
  expect(seen).toMatchObject({ ok: true, seals: 2, rows: 5, unsealed: 0 });
});

test.each([
  ["a row is changed", "UPDATE fact SET value = '\"12\"' WHERE id = 1", "fact"],
  ["its hand is changed", "UPDATE fact SET by = 'Somebody' WHERE id = 2", "fact"],
  ["a row is deleted in between", "DELETE FROM fact_undone; DELETE FROM fact WHERE id = 1", "fact"],
  ["what was taken back is put in again", "DELETE FROM fact_undone", "fact_undone"],
  ["the subject of a letter is changed", "UPDATE letter SET subject = 'X'", "letter"],
  ["a seal is deleted", "DELETE FROM seal WHERE id = 1", "seal"],
  ["a seal is rewritten", `UPDATE seal SET digest = '${"0".repeat(64)}' WHERE id = 1`, "seal"],
])("%s: it is seen", (_what, sql, table) => {
  const store = written();
  if (sql.includes("fact_undone;")) tamper(store, "SELECT 1", "fact_undone");
  tamper(store, sql, table);
  expect(verifyHistory(store)).toMatchObject({ ok: false, says: expect.any(String) });
});

test("erasing what may be erased breaks no seal", () => {
  const store = written();
  store.exec(`UPDATE letter SET recipient = '', body = '', erased = '${at}'; UPDATE evidence SET removed = '${at}'`);
  expect(verifyHistory(store)).toMatchObject({ ok: true });
});

test("what single statements append is sealed with the next transaction", () => {
  const store = written();
  store.exec(`INSERT INTO set_aside (device, kind, state, at, by) VALUES (1, 'hot', 'aside', '${at}', 'Oda')`);
  expect(verifyHistory(store)).toMatchObject({ ok: true, unsealed: 1 });
  inTransaction(store, () => {});
  expect(verifyHistory(store)).toMatchObject({ ok: true, unsealed: 0, seals: 3 });
});

test("a transaction that is taken back leaves no seal", () => {
  const store = written();
  expect(() =>
    inTransaction(store, () => {
      store.exec(`INSERT INTO set_aside (device, kind, state, at, by) VALUES (1, 'hot', 'aside', '${at}', 'Oda')`);
      throw new Error("no");
    }),
  ).toThrow("no");
  expect(verifyHistory(store)).toMatchObject({ ok: true, seals: 2, unsealed: 0 });
});

describe("history is closed on every side", () => {
  test.each(HISTORY_TABLES)("%s: no row is replaced", (table) => {
    const store = emptyCopy();
    const columns = store.pragma(`table_info(${table})`) as { name: string; type: string }[];
    store.pragma("foreign_keys = OFF");
    store.pragma("ignore_check_constraints = ON");
    const doc = (name: string, type: string) =>
      type === "INTEGER" || type === "REAL"
        ? 1
        : ["doc", "was", "value", "values", "way", "rests", "tags", "detail", "runbook", "upto"].includes(name)
          ? "{}"
          : "a".repeat(64);
    const write = (verb: string) =>
      store
        .prepare(
          `${verb} INTO ${table} (${columns.map((c) => `"${c.name}"`).join()}) VALUES (${columns.map(() => "?").join()})`,
        )
        .run(...columns.map((c) => doc(c.name, c.type)));
    write("INSERT");
    for (const verb of ["INSERT OR REPLACE", "REPLACE"]) expect(() => write(verb)).toThrow(/appended/);
    expect(() => store.prepare(`DELETE FROM ${table}`).run()).toThrow(/appended/);
    for (const column of HISTORY[table]) {
      const value = columns.find((c) => c.name === column)?.type.match(/INTEGER|REAL/) ? "7" : "'x'";
      expect(() => store.prepare(`UPDATE ${table} SET "${column}" = ${value}`).run()).toThrow(/appended/);
    }
  });

  test("an update that erases changes nothing else", () => {
    const store = written();
    const erase = (more: string) => () =>
      store.exec(`UPDATE letter SET recipient = '', body = '', erased = '${at}'${more}`);
    for (const more of [", subject = 'x'", ", by = 'x'", ", kind = 'x'", ", how = 'printed'", ", language = 'de'"])
      expect(erase(more)).toThrow(/erased/);
    erase("")();
    expect(() => store.exec("UPDATE letter SET erased = '2027-01-01'")).toThrow(/erased/);
    for (const more of [", name = 'x'", ", bytes = 1", ", type = 'x'", ", by = 'x'"])
      expect(() => store.exec(`UPDATE evidence SET removed = '${at}'${more}`)).toThrow(/removed/);
  });
});
