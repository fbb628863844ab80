import { randomBytes } from "node:crypto";
import { hash, verify } from "@node-rs/argon2";

/** Shortest password that is taken, characters. @source NIST SP 800-63B, 5.1.1.2 wants 8 or more; the house takes 10 */
const SHORTEST = 10;
/** Longest: what is longer only makes the server work. */
const LONGEST = 200;

/** @source OWASP Password Storage Cheat Sheet: Argon2id with 19 MiB, two passes, one lane (the package's own kind is Argon2id) */
const OPTIONS = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

/** What is wrong with a password, in words; null when it is taken. */
export function passwordProblem(password: string, name: string): string | null {
  if (password.length < SHORTEST)
    return `A password has at least ${SHORTEST} characters: three or four words are easy to keep`;
  if (password.length > LONGEST) return `A password has at most ${LONGEST} characters`;
  if (password.toLowerCase().includes(name.toLowerCase()) && name.length > 2)
    return "The password holds the name. Choose another";
  if (new Set(password).size < 5) return "These are too few different characters. Choose another password";
  return null;
}

/** Argon2id, with a salt of its own, in the PHC string format. */
export const hashPassword = (password: string): Promise<string> => hash(password, OPTIONS);

/** Held against when there is no such account: both answers take the same time. */
const nobody = hashPassword(randomBytes(12).toString("hex"));

/** Whether a password is the one; an account that is not there costs as much time as a wrong password. */
export async function isPassword(stored: string | null, password: string): Promise<boolean> {
  if (password.length > LONGEST) return false;
  const same = await verify(stored ?? (await nobody), password);
  return stored !== null && same;
}
