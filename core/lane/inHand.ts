/** After this without a word a device has been put down, minutes: unattended steps are rarely longer. */
const PUT_DOWN = 90;

/** Who has a device in hand. */
export interface InHand {
  readonly by: string;
  readonly since: string;
}

/**
 * Who has a device in hand at the bench: whoever wrote the last word of a run that goes on.
 *
 * @param steps the run's beginning and its steps, in order; @param done how many of its steps are done, of how many
 * @param now the time, ISO
 * @returns null when nobody has: not begun, finished, or put down long ago
 * @example inHand([{ by: "Oda", at: "2026-11-27T18:00:00Z" }], { done: 0, steps: 9 }, "2026-11-27T18:05:00Z") // { by: "Oda", since: "2026-11-27T18:00:00Z" }
 */
export function inHand(
  steps: readonly { readonly at: string; readonly by: string }[],
  run: { readonly done: number; readonly steps: number },
  now: string,
): InHand | null {
  const last = steps.at(-1);
  if (!last || run.done >= run.steps) return null;
  if (Date.parse(now) - Date.parse(last.at) > PUT_DOWN * 60_000) return null;
  let since = last.at;
  for (let i = steps.length - 1; i >= 0 && steps[i].by === last.by; i--) since = steps[i].at;
  return { by: last.by, since };
}
