import type { Pin } from "~/core/allocate/question";
import { change, type Hand, query, queryOne, type Store } from "./database";
import { inTransaction } from "./transaction";

/** Where a device goes by an accepted division. */
export interface DividedRow {
  readonly device: number;
  readonly grp: number;
  readonly way: string;
  readonly chance: number;
  readonly was_need: string | null;
}
export interface DivisionRow extends Hand {
  readonly id: number;
  /** What was reached and proven, as JSON. */
  readonly doc: string;
}

const newest = queryOne<object, DivisionRow>(`
  SELECT id, doc, at, by FROM division
  WHERE  NOT EXISTS (SELECT 1 FROM division_back b WHERE b.division = division.id)
  ORDER  BY id DESC LIMIT 1
`);
const divided = query<{ division: number }, DividedRow>(`
  SELECT device, grp, way, chance, was_need FROM division_device WHERE division = @division ORDER BY device
`);
const insertDivision = change<{ doc: string } & Hand>(`INSERT INTO division (doc, at, by) VALUES (@doc, @at, @by)`);
const insertDevice = change<DividedRow & { division: number }>(`
  INSERT INTO division_device (division, device, grp, way, chance, was_need)
  VALUES (@division, @device, @grp, @way, @chance, @was_need)
`);
const insertBack = change<{ division: number } & Hand>(`
  INSERT INTO division_back (division, at, by) VALUES (@division, @at, @by)
`);
const pins = query<object, { device: number; grp: number; kind: Pin["kind"] | "free" }>(`
  SELECT device, grp, kind FROM pin
  WHERE  id IN (SELECT max(id) FROM pin GROUP BY device, grp) AND kind <> 'free'
  ORDER  BY id
`);
const insertPin = change<{ device: number; grp: number; kind: Pin["kind"] | "free" } & Hand>(`
  INSERT INTO pin (device, grp, kind, at, by) VALUES (@device, @grp, @kind, @at, @by)
`);

/** The division that stands; null when none was accepted, or the last one was taken back. */
export function standingDivision(store: Store): (DivisionRow & { readonly devices: readonly DividedRow[] }) | null {
  const row = newest(store, {});
  return row ? { ...row, devices: divided(store, { division: row.id }) } : null;
}

/** Appends an accepted division with its devices. @returns its id */
export function addDivision(store: Store, doc: string, devices: readonly DividedRow[], hand: Hand): number {
  return inTransaction(store, () => {
    const division = Number(insertDivision(store, { doc, ...hand }).lastInsertRowid);
    for (const row of devices) insertDevice(store, { ...row, division });
    return division;
  });
}

/** Notes that a division was taken back. */
export const addDivisionBack = (store: Store, division: number, hand: Hand) => insertBack(store, { division, ...hand });

const handedOver = query<object, { device: number; grp: number; at: string }>(`
  SELECT d.device, d.grp, e.at
  FROM   checkout_end e
  JOIN   run r ON r.id = e.run
  JOIN   division_device d ON d.device = r.device
  WHERE  e.result = 'done'
  AND    e.id = (SELECT max(f.id) FROM checkout_end f WHERE f.run = e.run)
  AND    r.id = (SELECT max(s.id) FROM run s WHERE s.device = r.device)
  AND    d.id = (
           SELECT max(x.id) FROM division_device x
           WHERE  x.device = d.device
           AND    NOT EXISTS (SELECT 1 FROM division_back b WHERE b.division = x.division)
         )
  ORDER  BY e.at
`);

/** Devices that were handed over, with the group to which the last division that counted gave them, and when. */
export const handedOverTo = (store: Store) => handedOver(store, {});

/** How many devices each group was given already. */
export function givenCounts(store: Store): ReadonlyMap<number, number> {
  const counts = new Map<number, number>();
  for (const { grp } of handedOverTo(store)) counts.set(grp, (counts.get(grp) ?? 0) + 1);
  return counts;
}

/** Pins that stand. */
export const standingPins = (store: Store) => pins(store, {});

/** Pins a device to a group, keeps it from it, or frees it. */
export const putPin = (store: Store, device: number, grp: number, kind: Pin["kind"] | "free", hand: Hand) =>
  insertPin(store, { device, grp, kind, ...hand });
