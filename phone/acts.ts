import type { PhoneState } from "./state";

/** What came of something done with fingers: null when it went well, else what the person sees. */
export type Seen = string | null;

/** Keys held together, and how long. */
export interface Held {
  readonly keys: readonly string[];
  readonly seconds: number;
}

/** Reads `volume-down_power:7,volume-up_power:7`. */
export function readHolds(text: string | null): readonly Held[] {
  return (text ?? "").split(",").flatMap((part) => {
    const found = /^([a-z_-]+):(\d+(?:\.\d+)?)$/.exec(part.trim());
    return found ? [{ keys: found[1].split("_").sort(), seconds: Number(found[2]) }] : [];
  });
}

/** Codes of what fingers do, each with what the phone does then; a code that ends in a dot takes a name behind it. */
export type Acts = readonly (readonly [string, (state: PhoneState, rest: string, held: readonly Held[]) => Seen])[];

export const only = (state: PhoneState, mode: PhoneState["mode"], what: string): Seen =>
  state.mode === mode ? null : `${what} is not on the screen: the device is in ${state.mode}`;
