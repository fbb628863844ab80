import { change, type Hand, query, queryOne, type Store } from "./database";
import { findStanding, isTouched, saveDevice, withdrawDevice } from "./devices";
import { inTransaction } from "./transaction";

export interface ScanRow extends Hand {
  readonly id: number;
  readonly tag: string;
  readonly what: "device" | "imei" | "serial";
  readonly text: string;
  readonly was: string | null;
  readonly undone: string | null;
}

const insert = change<{ device: number; what: string; text: string; was: string | null } & Hand>(`
  INSERT INTO scan (device, what, text, was, at, by) VALUES (@device, @what, @text, @was, @at, @by)
`);
const newest = query<{ by: string; limit: number }, ScanRow>(`
  SELECT s.id, d.tag, s.what, s.text, s.was, s.undone, s.at, s.by
  FROM   scan s JOIN device d ON d.id = s.device
  WHERE  s.by = @by
  ORDER  BY s.id DESC
  LIMIT  @limit
`);
const one = queryOne<{ id: number }, ScanRow & { device: number }>(`
  SELECT s.id, s.device, d.tag, s.what, s.text, s.was, s.undone, s.at, s.by
  FROM   scan s JOIN device d ON d.id = s.device
  WHERE  s.id = @id
`);
const later = queryOne<{ device: number; what: string; id: number }, { n: number }>(`
  SELECT count(*) AS n FROM scan WHERE device = @device AND what = @what AND id > @id AND undone IS NULL
`);
const mark = change<{ id: number; undone: string }>(`UPDATE scan SET undone = @undone WHERE id = @id`);
const numbers = queryOne<{ device: number }, { n: number }>(`
  SELECT count(*) AS n FROM scan WHERE device = @device AND what <> 'device' AND undone IS NULL
`);

export const recordScan = (
  store: Store,
  scan: { device: number; what: ScanRow["what"]; text: string; was: string | null },
  hand: Hand,
) => insert(store, { ...scan, ...hand });

/** A person's newest scans. */
export const newestScans = (store: Store, by: string, limit: number) => newest(store, { by, limit });

/** Undoes one scan: a number goes back to what it was, a new device is withdrawn. @returns what is wrong, or null */
export function undoScan(store: Store, id: number, hand: Hand): string | null {
  return inTransaction(store, () => {
    const scan = one(store, { id });
    if (!scan || scan.undone) return "This was undone already";
    if (scan.what === "device") {
      if (isTouched(store, scan.device) || numbers(store, { device: scan.device })?.n)
        return `Something else was written about ${scan.tag} since: undo that first, or leave it`;
      withdrawDevice(store, scan.device, hand);
    } else {
      const standing = findStanding(store, scan.tag);
      if (!standing) return `${scan.tag} is not in the lane any more`;
      if (later(store, { device: scan.device, what: scan.what, id })?.n || standing[scan.what] !== scan.text)
        return `The ${scan.what === "imei" ? "IMEI" : "serial number"} of ${scan.tag} was changed since: undo the newer entry first`;
      saveDevice(store, standing, { ...standing, [scan.what]: scan.was }, hand);
    }
    mark(store, { id, undone: hand.at });
    return null;
  });
}
