import { z } from "zod";
import { IdentityCopy } from "~/core/runbook/identityCopy";
import { change, type Hand, query, type Store } from "./database";

export type IdentityCopyRow = IdentityCopy & Hand;

const newest = query<{ device: number }, IdentityCopyRow>(`
  SELECT partition, file, bytes, sha256, at, by FROM identity_copy
  WHERE id IN (SELECT max(id) FROM identity_copy WHERE device = @device GROUP BY partition)
  ORDER BY id
`);
const ofRun = query<{ run: number }, IdentityCopyRow>(`
  SELECT partition, file, bytes, sha256, at, by FROM identity_copy WHERE run = @run ORDER BY id
`);
const insert = change<{ device: number; run: number } & IdentityCopy & Hand>(`
  INSERT INTO identity_copy (device, run, partition, file, bytes, sha256, at, by)
  VALUES (@device, @run, @partition, @file, @bytes, @sha256, @at, @by)
`);

/** The newest copy of each identity partition of a device. */
export const identityCopies = (store: Store, device: number) => newest(store, { device });

/** What was saved in a run. */
export const identityCopiesOfRun = (store: Store, run: number) => ofRun(store, { run });

export function appendIdentityCopies(
  store: Store,
  device: number,
  run: number,
  copies: readonly IdentityCopy[],
  hand: Hand,
) {
  for (const copy of z.array(IdentityCopy).parse(copies)) insert(store, { device, run, ...copy, ...hand });
}
