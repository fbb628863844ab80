import { groupedBy } from "./groupedBy";

/**
 * Works something out once for an object that never changes, and keeps it for as long as that is there.
 *
 * @example const counts = keptBy((devices: readonly Placed[]) => count(devices))
 */
export function keptBy<K extends object, V>(make: (key: K) => V): (key: K) => V {
  const kept = new WeakMap<K, { readonly value: V }>();
  return (key) => {
    let found = kept.get(key);
    if (!found) {
      found = { value: make(key) };
      kept.set(key, found);
    }
    return found.value;
  };
}

interface InBatch {
  readonly standing: { readonly batch: string };
}

/** A list of devices parted by their batch, each part the same list for as long as the whole is. */
export const byBatch = keptBy((devices: readonly InBatch[]) => groupedBy(devices, (d) => d.standing.batch)) as <
  D extends InBatch,
>(
  devices: readonly D[],
) => ReadonlyMap<string, readonly D[]>;
