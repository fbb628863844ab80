import { change, type Hand, query, queryOne, type Store } from "./database";
import { inTransaction } from "./transaction";

export interface CheckoutRow extends Hand {
  readonly item: string;
  readonly measured: string;
  readonly result: "ok" | "not-ok" | "not-tried";
}

const checkout = query<{ run: number }, CheckoutRow>(`
  SELECT item, measured, result, at, by FROM checkout_entry WHERE run = @run ORDER BY id
`);
const insertCheck = change<{ device: number; run: number; item: string; measured: string; result: string } & Hand>(`
  INSERT INTO checkout_entry (device, run, item, measured, result, at, by)
  VALUES (@device, @run, @item, @measured, @result, @at, @by)
`);
const ends = queryOne<{ run: number }, { result: "done" | "back"; note: string } & Hand>(`
  SELECT result, note, at, by FROM checkout_end WHERE run = @run ORDER BY id DESC LIMIT 1
`);
const insertEnd = change<{ device: number; run: number; result: string; note: string } & Hand>(`
  INSERT INTO checkout_end (device, run, result, note, at, by) VALUES (@device, @run, @result, @note, @at, @by)
`);

const everyEnd = query<object, { run: number; result: "done" | "back" }>(`
  SELECT run, result FROM checkout_end ORDER BY id
`);
/** How checkouts ended, all of them. */
export const allCheckoutEnds = (store: Store) => everyEnd(store, {});

/** Newest entry of each check item. */
export function checksOf(store: Store, run: number): Map<string, CheckoutRow> {
  return new Map(checkout(store, { run }).map((row) => [row.item, row]));
}

export const checkoutEnd = (store: Store, run: number) => ends(store, { run });

export function appendChecks(
  store: Store,
  device: number,
  run: number,
  checks: readonly { item: string; measured: string; result: string }[],
  hand: Hand,
) {
  inTransaction(store, () => {
    for (const check of checks) insertCheck(store, { device, run, ...check, ...hand });
  });
}

export function endCheckout(
  store: Store,
  device: number,
  run: number,
  end: { result: "done" | "back"; note: string },
  hand: Hand,
) {
  insertEnd(store, { device, run, ...end, ...hand });
}
