import type { Runbook, Step } from "~/core/runbook/step";

/**
 * A stretch of a sheet that is done in one go.
 * - hands: somebody does it with their fingers, one step after the other
 * - watched: it runs by itself, but somebody has to be near: a lead that drops out in the middle kills the device
 * - alone: it runs by itself
 * - wait: days that a maker lets pass; it lies on the shelf
 * - charge: it hangs on a charger before anything is written
 */
export type Piece = {
  readonly kind: "hands" | "watched" | "alone" | "wait" | "charge";
  /** Steps of the sheet, from … up to, not including, `to`. */
  readonly from: number;
  readonly to: number;
  readonly minutes: number;
  readonly title: string;
  /** It hangs on a lead. */
  readonly lead: boolean;
  /** What carries a file into the device, and is with no other one meanwhile. */
  readonly carrier?: Carrier;
};

export type Carrier = "card" | "stick";

/** A carrier is free again behind the step that reads it. */
const READ_BY: Readonly<Record<Carrier, RegExp>> = { card: /^keys\.card-update/, stick: /^recovery\.install-image/ };

/** Per step, the card or stick that is with the device. */
function carriersOf(steps: Runbook["steps"]): (Carrier | undefined)[] {
  let here: Carrier | undefined;
  return steps.map(({ code, deed }) => {
    if (deed.kind === "gate" && (deed.gate.kind === "card" || deed.gate.kind === "stick")) here = deed.gate.kind;
    const held = here;
    if (here && READ_BY[here].test(code)) here = undefined;
    return held;
  });
}

/** A step that usually takes this long is not stood beside. Common practice, no source. */
const STOOD_BESIDE_SECONDS = 120;
/** Long, but done with fingers all the while. */
const BY_HAND =
  /^(android\.(finish-setup|skip-setup|remove-|enable-|allow-)|check\.(?!started|charged)|recovery\.backup)/;
/** Days that the maker lets pass. */
const WAITS = "android.wait-unlock";

/** What kind of work a step is. */
export function kindOf({ code, deed, usualSeconds }: Pick<Step, "code" | "deed" | "usualSeconds">): Piece["kind"] {
  if (code === WAITS || code.startsWith(`${WAITS}.`)) return "wait";
  if (usualSeconds < STOOD_BESIDE_SECONDS || deed.kind === "gate" || BY_HAND.test(code)) return "hands";
  const written = deed.kind === "flasher" || (deed.kind === "command" && deed.tool === "fastboot");
  return written ? "watched" : "alone";
}

/**
 * The sheet in pieces, from a step on. Steps done by hand one after the other are one piece; whatever runs by itself is a
 * piece of its own, begun by the hands before it.
 *
 * @param done     steps that are done already
 * @param waitDays days that the maker's waiting takes
 * @param pace     how long things take here against what the sheet says, 1 being as it says
 * @example piecesOf({ steps: [] }) // []
 */
export function piecesOf(
  { steps }: Pick<Runbook, "steps">,
  {
    done = 0,
    waitDays = 0,
    pace = 1,
  }: { readonly done?: number; readonly waitDays?: number; readonly pace?: number } = {},
): Piece[] {
  const carriers = carriersOf(steps);
  const pieces: (Omit<{ -readonly [K in keyof Piece]: Piece[K] }, "minutes"> & { seconds: number })[] = [];
  for (let k = done; k < steps.length; k++) {
    const step = steps[k];
    const kind = kindOf(step);
    const lead = step.deed.kind === "command" || step.deed.kind === "flasher";
    const last = pieces.at(-1);
    const carrier = carriers[k];
    if (kind === "hands" && last?.kind === "hands" && (!last.carrier || !carrier || last.carrier === carrier)) {
      last.to = k + 1;
      last.seconds += step.usualSeconds;
      last.lead ||= lead;
      if (carrier) last.carrier = carrier;
    } else
      pieces.push({
        kind,
        from: k,
        to: k + 1,
        seconds: step.usualSeconds,
        title: step.title,
        lead,
        ...(carrier ? { carrier } : {}),
      });
  }
  return pieces.map(({ seconds, ...piece }) => ({
    ...piece,
    // Whole minutes, so that a timetable can be read; nothing takes none.
    minutes:
      piece.kind === "wait" ? Math.max(1, Math.round(waitDays * 1440)) : Math.max(1, Math.ceil((seconds * pace) / 60)),
  }));
}

/** Minutes that a charger takes for one per cent. Common practice, no source. */
const MINUTES_PER_CENT = 1.2;

/**
 * Charging up to what the house wants before the first write; null where it has that, or nobody has read it.
 *
 * @example chargePiece(50, 60)?.kind // "charge"
 */
export function chargePiece(percent: number | null, floor: number): Piece | null {
  if (percent === null || percent >= floor) return null;
  const minutes = Math.ceil((floor - percent) * MINUTES_PER_CENT);
  return { kind: "charge", from: 0, to: 0, minutes, title: `Charge it from ${percent} to ${floor} %`, lead: false };
}
