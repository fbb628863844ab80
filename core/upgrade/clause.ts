/**
 * A sentence as part of another: its first letter small, the rest as it stands (names on the device's screen stay).
 *
 * @example asClause("Open Settings, About") // "open Settings, About"
 */
export function asClause(sentence: string): string {
  return sentence.charAt(0).toLowerCase() + sentence.slice(1);
}
