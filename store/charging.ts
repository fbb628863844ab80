import { change, type Hand, query, type Store } from "./database";

/** A device that hangs on a charger: since when, and at which bench (empty: nobody wrote that down). */
export interface ChargingRow {
  readonly device: number;
  readonly bench: string;
  readonly at: string;
}

const newest = query<object, ChargingRow>(`
  SELECT device, bench, at FROM charging WHERE id IN (SELECT max(id) FROM charging GROUP BY device)
`);
const insert = change<Omit<ChargingRow, "at"> & Hand>(`
  INSERT INTO charging (device, bench, at, by) VALUES (@device, @bench, @at, @by)
`);

/** Per device, when it was put on a charger last. */
export const lastCharging = (store: Store): ReadonlyMap<number, ChargingRow> =>
  new Map(newest(store, {}).map((row) => [row.device, row]));

/** A device was put on a charger. */
export const putOnCharger = (store: Store, device: number, bench: string, hand: Hand) =>
  insert(store, { device, bench, ...hand });
