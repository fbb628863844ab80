import { note, type PhoneState } from "./state";

const SIZE = 4096;

/** What stands in an identity partition: who it belongs to. Null where this phone has no such partition. */
export function identityBytes(state: PhoneState, partition: string): Buffer | null {
  const owner = state.identity[partition];
  if (owner === undefined) return null;
  const bytes = Buffer.alloc(SIZE);
  // An erased one reads as zeros.
  if (owner !== "") bytes.write(`identity:${partition}:${owner}`, "utf8");
  return bytes;
}

/** Writes an identity partition; another device's takes this one's numbers away. @returns what is wrong, or null */
export function writeIdentity(state: PhoneState, partition: string, bytes: Uint8Array): string | null {
  const text = Buffer.from(bytes.subarray(0, 200)).toString("utf8").replace(/\0.*$/s, "");
  const [kind, of, owner] = text.split(":");
  if (kind !== "identity" || of !== partition) return "Invalid image";
  state.identity[partition] = owner;
  note(state, owner === state.serial ? `${partition} given back` : `${partition} of another device written`);
  return null;
}

/** Whether the phone still shows its own numbers. */
export const showsOwnIdentity = (state: PhoneState) => Object.values(state.identity).every((o) => o === state.serial);
