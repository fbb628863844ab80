/**
 * A sentence as part of another: its first letter small, the rest as it stands (names on the device's screen stay). A name
 * or an abbreviation in front stays too.
 *
 * @example asClause("Open Settings, About") // "open Settings, About"
 * @example asClause("CPU type") // "CPU type"
 */
export function asClause(sentence: string): string {
  return /^(?:Android\b|\S+?\p{Lu})/u.test(sentence) ? sentence : sentence.charAt(0).toLowerCase() + sentence.slice(1);
}
