/**
 * What is wrong with the name of an account, in words; null when it is taken.
 *
 * @example accountNameProblem("Ina Marsh") // null
 */
export const accountNameProblem = (name: string): string | null =>
  /^[\p{L}\p{N}][\p{L}\p{N} .'-]{1,59}$/u.test(name) ? null : "A name has 2 to 60 letters, digits, blanks and dashes";
