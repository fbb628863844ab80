import type { Acts, Held, Seen } from "./acts";
import { androidHands } from "./android/hands";
import { bootloaderHands } from "./bootloader/hands";
import { cardHands } from "./card/hands";
import { downloadHands } from "./download/hands";
import { loaderHands } from "./loader/hands";
import { packageHands } from "./packages/hands";
import { recoveryHands } from "./recovery/hands";
import type { PhoneState } from "./state";

/** Everything fingers can do, interface by interface. */
export const ACTS: Acts = [
  ...androidHands,
  ...bootloaderHands,
  ...recoveryHands,
  ...packageHands,
  ...downloadHands,
  ...loaderHands,
  ...cardHands,
];

/**
 * Does with the phone what a person does with fingers.
 *
 * @param code a step code of the runbook, without its `#n`
 * @param held keys that were held, in order, for steps that say how long
 * @returns null when it worked, else what is wrong, in words
 */
export function actByHand(state: PhoneState, code: string, held: readonly Held[] = []): Seen {
  if (!state.alive && !code.startsWith("check.label")) return "The device shows nothing any more";
  for (const [prefix, act] of ACTS)
    if (code === prefix || (prefix.endsWith(".") && code.startsWith(prefix)))
      return act(state, code.slice(prefix.length), held);
  return `Nobody knows how to do “${code}”`;
}
