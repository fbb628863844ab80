/** Things parted by a key, each part in its old order. */
export function groupedBy<T, K>(things: Iterable<T>, keyOf: (thing: T) => K): Map<K, T[]> {
  const parts = new Map<K, T[]>();
  for (const thing of things) {
    const key = keyOf(thing);
    const part = parts.get(key);
    if (part) part.push(thing);
    else parts.set(key, [thing]);
  }
  return parts;
}
