import { change, type Hand, query, queryOne, type Store } from "./database";

const insert = change<{ device: number; what: string } & Hand>(`
  INSERT INTO shown_number (device, what, at, by) VALUES (@device, @what, @at, @by)
`);
const ofDevice = query<{ device: number }, { what: string } & Hand>(`
  SELECT what, at, by FROM shown_number WHERE device = @device ORDER BY id DESC LIMIT 20
`);

/** Keeps that somebody had whole numbers of a device shown to them. */
export const noteShown = (store: Store, device: number, what: string, hand: Hand) =>
  insert(store, { device, what, ...hand });
export const shownOf = (store: Store, device: number) => ofDevice(store, { device });

const addKey = change<{ digest: string; device: number } & Hand>(`
  INSERT INTO report_key (digest, device, at, by) VALUES (@digest, @device, @at, @by)
`);
const keys = query<{ digest: string; tag: string }, { by: string }>(`
  SELECT k.by FROM report_key k JOIN device d ON d.id = k.device WHERE k.digest = @digest AND d.tag = @tag
`);
/** Keeps the digest of a key with which a script of this device may report. */
export const addReportKey = (store: Store, digest: string, device: number, hand: Hand) =>
  addKey(store, { digest, device, ...hand });
const served = queryOne<{ script: string; device: number }, { found: 1 }>(`
  SELECT 1 AS found FROM report_key WHERE device = @device AND digest GLOB @script || '*'
`);
/** Whether this lane served a script of that name for a device. */
export const servedScript = (store: Store, script: string, device: number): boolean =>
  served(store, { script, device }) !== undefined;
/** Who had the script made whose key this is; null when it opens nothing for this device. */
export const reportKeyOf = (store: Store, digest: string, tag: string): string | null =>
  keys(store, { digest, tag })[0]?.by ?? null;
