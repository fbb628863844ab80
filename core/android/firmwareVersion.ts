/**
 * Order of firmware versions within one model.
 *
 * Makers number firmware as they like, so the model's own list comes first: two versions on it are ordered by their
 * place. Otherwise dotted and dashed numbers are compared number by number; where letters differ nothing can be told.
 *
 * @param order the model's known versions, oldest first
 * @returns negative when `a` is older, 0 when equal, positive when newer, null when not comparable
 * @example compareFirmware([], "4.9.2", "4.10.0") // < 0
 */
export function compareFirmware(order: readonly string[], a: string, b: string): number | null {
  if (a === b) return 0;
  const x = order.indexOf(a);
  const y = order.indexOf(b);
  if (x >= 0 && y >= 0) return x - y;
  return compareDotted(a, b);
}

function compareDotted(a: string, b: string): number | null {
  const left = a.split(/[.\-_]/);
  const right = b.split(/[.\-_]/);
  for (let i = 0; i < Math.max(left.length, right.length); i++) {
    const l = left[i] ?? "0";
    const r = right[i] ?? "0";
    if (l === r) continue;
    if (!/^\d+$/.test(l) || !/^\d+$/.test(r)) return null;
    const difference = Number(l) - Number(r);
    if (difference !== 0) return difference;
  }
  return 0;
}

/**
 * Whether a version lies in a closed range; null when it can't be told.
 *
 * @example firmwareInRange(["1", "2", "3"], "2", { from: "2", to: "3" }) // true
 */
export function firmwareInRange(
  order: readonly string[],
  version: string,
  range: { readonly from?: string | null; readonly to?: string | null },
): boolean | null {
  const low = range.from ? compareFirmware(order, version, range.from) : 1;
  const high = range.to ? compareFirmware(order, version, range.to) : -1;
  if (low !== null && low < 0) return false;
  if (high !== null && high > 0) return false;
  return low === null || high === null ? null : true;
}
