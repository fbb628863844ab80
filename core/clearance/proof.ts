import { z } from "zod";

/** From this API level on a reset device asks for the earlier account (platform fact: Android 5.1). */
export const ACCOUNT_LOCK_FROM_API = 22;

/** What ties a device to somebody. */
export const LockKind = z.enum(["account", "organisation", "carrier"]);
export type LockKind = z.infer<typeof LockKind>;

/** What can show that a lock is gone. */
export const Proof = z.enum([
  "signed-out",
  "set-up-clean",
  "set-up-as-new",
  "maker-release",
  "organisation-release",
  "carrier-release",
]);
export type Proof = z.infer<typeof Proof>;

export const PROOF_WORDS: Record<Proof, string> = {
  "signed-out": "Signed out on the device, by its owner",
  "set-up-clean": "Started anew: the set-up showed no earlier account",
  "set-up-as-new": "Never signed in: set up as new to its end, no account was on it and none was asked for",
  "maker-release": "The maker released it in writing, on proof of purchase",
  "organisation-release": "The organisation released it in writing",
  "carrier-release": "The carrier released it in writing",
};

/** For each lock the sets of proof that settle it: one whole set is enough. */
export const SETTLED_BY: Record<LockKind, readonly (readonly Proof[])[]> = {
  account: [["signed-out", "set-up-clean"], ["maker-release"], ["set-up-as-new"]],
  organisation: [["organisation-release"]],
  carrier: [["carrier-release"]],
};

/** Sets of proof that count: where a lock was ever found, nobody can say that there was never an account. */
const setsFor = (lock: LockKind, everFound: boolean) =>
  SETTLED_BY[lock].filter((set) => !(everFound && set.includes("set-up-as-new")));

/**
 * Every proof that bears on these locks, in the order it is asked for.
 *
 * @param everFound whether an account or another lock was found on the device at any time
 * @example proofsAsked(["account"], true) // ["signed-out", "set-up-clean", "maker-release"]
 */
export function proofsAsked(locks: readonly LockKind[], everFound: boolean): Proof[] {
  const bearing = new Set(locks.flatMap((lock) => setsFor(lock, everFound).flat()));
  return Proof.options.filter((proof) => bearing.has(proof));
}

/**
 * What is still missing before these locks count as settled, in words; null when nothing is.
 *
 * @example missingProof(["account"], ["signed-out"], true) // "Started anew: the set-up showed no earlier account"
 */
export function missingProof(locks: readonly LockKind[], given: readonly Proof[], everFound: boolean): string | null {
  for (const lock of locks) {
    const sets = setsFor(lock, everFound);
    if (sets.some((set) => set.every((proof) => given.includes(proof)))) continue;
    const begun = sets.find((set) => set.some((proof) => given.includes(proof)));
    const wanted = begun ? [begun.filter((proof) => !given.includes(proof))] : sets;
    return wanted.map((set) => set.map((proof) => PROOF_WORDS[proof]).join(", and: ")).join("; or: ");
  }
  return null;
}

export type LockPossible =
  | { readonly possible: true; readonly says: string }
  | { readonly possible: false; readonly says: string }
  | { readonly possible: "unknown"; readonly says: string };

/**
 * Whether a device can have an account lock at all: three-valued, unknown never counts as no.
 *
 * @param api        API level that runs, null when not known
 * @param makerLock  the maker has an activation lock of its own; null when not known
 * @source platform fact: the reset lock exists from Android 5.1 (API 22)
 * @example lockPossible(21, null).possible // "unknown"
 */
export function lockPossible(api: number | null, makerLock: boolean | null): LockPossible {
  if (makerLock === true) return { possible: true, says: "The maker has a lock of its own, on every Android version" };
  if (api === null)
    return {
      possible: "unknown",
      says: "Write down the Android version first: the lock exists from Android 5.1 on",
    };
  if (api >= ACCOUNT_LOCK_FROM_API)
    return {
      possible: true,
      says: "This device runs Android 5.1 or later, so a lock is possible: look at the set-up screen",
    };
  if (makerLock === null)
    return {
      possible: "unknown",
      says: "Below Android 5.1 only the maker could have put a lock on it: write down whether this maker has one",
    };
  return { possible: false, says: "Below Android 5.1, and this maker has no lock of its own" };
}
