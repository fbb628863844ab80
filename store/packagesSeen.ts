import type { PackageSeen } from "~/core/runbook/packagesSeen";
import { change, type Hand, query, type Store } from "./database";

export type PackageSeenRow = PackageSeen & { readonly list: string } & Hand;

const newest = query<{ device: number }, PackageSeenRow>(`
  SELECT list, name, outcome, at, by FROM package_seen
  WHERE id IN (SELECT max(id) FROM package_seen WHERE device = @device GROUP BY list, name)
  ORDER BY id
`);
const insert = change<{ device: number; list: string } & PackageSeen & Hand>(`
  INSERT INTO package_seen (device, list, name, outcome, at, by) VALUES (@device, @list, @name, @outcome, @at, @by)
`);

/** The newest word on each package of a device, by the list that names it. */
export const packagesSeen = (store: Store, device: number) => newest(store, { device });

export function appendPackagesSeen(
  store: Store,
  device: number,
  list: string,
  seen: readonly PackageSeen[],
  hand: Hand,
) {
  for (const { name, outcome } of seen) insert(store, { device, list, name, outcome, ...hand });
}
