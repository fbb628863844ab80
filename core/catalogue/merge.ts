import { dequal } from "dequal";

/** Which side a difference comes from: only the pack moved, only we did, or both did and not to the same. */
export type Moved = "pack" | "here" | "both";

export interface FieldDifference {
  /** Where in the entry, like `unlock.possible` or `apps[Messenger].minApi`. */
  readonly at: string;
  readonly moved: Moved;
  /** What stands here, and what the pack says; undefined where there is nothing. */
  readonly here: unknown;
  readonly pack: unknown;
}

/** Lists whose items are told apart by one of their fields; other lists of objects are taken as a whole. */
const KEYS: Readonly<Record<string, string>> = {
  apps: "name",
  files: "name",
  history: "on",
  "firmware.dangerous": "from",
};

/** Lists in which the order says something: they are taken as a whole. */
const ORDERED = new Set(["firmware.order"]);

const NOTHING = Symbol("nothing stood here before");
type Base = unknown | typeof NOTHING;
type Doc = Readonly<Record<string, unknown>>;

/**
 * Merges an entry as a pack has it with the entry that is here, against what the pack said the time before.
 *
 * What only one side changed is taken from that side. What both changed, and not to the same, is a conflict: `takesPack`
 * decides it by its place. Without a time before, every difference is one.
 *
 * @param base what the pack said before; null where it said nothing
 * @param takesPack whether a conflict at a place goes the pack's way
 * @returns the merged entry, not checked against its schema, and every difference between here and the pack
 */
export function mergeEntry(
  base: object | null,
  here: object,
  pack: object,
  takesPack: (at: string) => boolean,
): { readonly merged: object; readonly differences: readonly FieldDifference[] } {
  const differences: FieldDifference[] = [];
  const decide = (at: string, moved: Moved, ours: unknown, theirs: unknown) => {
    differences.push({ at, moved, here: ours, pack: theirs });
    return moved === "pack" || (moved === "both" && takesPack(at)) ? theirs : ours;
  };
  const merge = (at: string, path: string, was: Base, ours: unknown, theirs: unknown): unknown => {
    if (dequal(ours, theirs)) return ours;
    if (isDoc(ours) && isDoc(theirs)) {
      const before = isDoc(was) ? was : {};
      const merged = mergeKeys(before, ours, theirs, (key, b, o, t) =>
        merge(at ? `${at}.${key}` : key, path ? `${path}.${key}` : key, was === NOTHING ? NOTHING : b, o, t),
      );
      return Object.fromEntries(merged);
    }
    if (Array.isArray(ours) && Array.isArray(theirs)) {
      const keyOf = keyOfItems(path, [ours, theirs, was === NOTHING ? [] : was]);
      if (keyOf) {
        const merged = mergeKeys(
          byKey(Array.isArray(was) ? was : [], keyOf),
          byKey(ours, keyOf),
          byKey(theirs, keyOf),
          (key, b, o, t) => merge(`${at}[${key}]`, `${path}[]`, was === NOTHING ? NOTHING : b, o, t),
        );
        return merged.map(([, value]) => value);
      }
    }
    if (was !== NOTHING && dequal(was, ours)) return decide(at, "pack", ours, theirs);
    if (was !== NOTHING && dequal(was, theirs)) return decide(at, "here", ours, theirs);
    return decide(at, "both", ours, theirs);
  };
  const merged = merge("", "", base ?? NOTHING, here, pack) as object;
  return { merged, differences };
}

const isDoc = (value: unknown): value is Doc => typeof value === "object" && value !== null && !Array.isArray(value);

/** Merges key by key, in our order and then in the pack's; a key whose merged value is undefined is gone. */
function mergeKeys(
  was: Doc,
  ours: Doc,
  theirs: Doc,
  merge: (key: string, was: unknown, ours: unknown, theirs: unknown) => unknown,
): [string, unknown][] {
  return [...new Set([...Object.keys(ours), ...Object.keys(theirs)])]
    .map((key): [string, unknown] => [key, merge(key, was[key], ours[key], theirs[key])])
    .filter(([, value]) => value !== undefined);
}

type KeyOf = (item: unknown) => string;

/** How the items of a list are told apart; null where the list is taken as a whole. */
function keyOfItems(path: string, lists: readonly unknown[]): KeyOf | null {
  if (ORDERED.has(path)) return null;
  const items = lists.flatMap((list) => (Array.isArray(list) ? list : []));
  const field = KEYS[path];
  const keyOf: KeyOf | null = items.every((i) => typeof i === "string")
    ? String
    : field
      ? (item) => String((item as Doc)[field])
      : null;
  const unique = (list: unknown) => !keyOf || !Array.isArray(list) || new Set(list.map(keyOf)).size === list.length;
  // Twice the same key: nobody can say which of the two was changed.
  return keyOf && lists.every(unique) ? keyOf : null;
}

/** Items under their key. A list's order is that of its items, which an object keeps for all keys but whole numbers. */
const byKey = (list: readonly unknown[], keyOf: KeyOf): Doc =>
  Object.fromEntries(list.map((item) => [keyOf(item), item]));
