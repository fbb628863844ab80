import type { PhoneState } from "./state";

/** What came of something done with fingers: null when it went well, else what the person sees. */
export type Seen = string | null;

/** Codes of what fingers do, each with what the phone does then; a code that ends in a dot takes a name behind it. */
export type Acts = readonly (readonly [string, (state: PhoneState, rest: string) => Seen])[];

export const only = (state: PhoneState, mode: PhoneState["mode"], what: string): Seen =>
  state.mode === mode ? null : `${what} is not on the screen: the device is in ${state.mode}`;
