import type { Piece } from "./pieces";
import type { Mode } from "./problem";

/** A volunteer with the places of their hands and their mind among the resources. */
export interface Person {
  readonly name: string;
  readonly hands: number;
  readonly mind: number;
}

/** A bench with the places of what it has among the resources; a card or a stick only where they are counted. */
export interface Place {
  readonly name: string;
  readonly chargers: number;
  readonly place: number;
  readonly lead: number;
  readonly charger: number;
  readonly card: readonly number[];
  readonly stick: readonly number[];
}

/** In which ways a piece can be done: what each holds, and by whom and where that is; the two lists go together. */
export interface Choice {
  readonly modes: readonly Mode[];
  readonly doers: readonly { readonly volunteer: string | null; readonly bench: string | null }[];
}

const NOBODY: Choice = { modes: [{ resources: [], amounts: [] }], doers: [{ volunteer: null, bench: null }] };

/** The choices of pieces: those that are the same are one list, which whoever works with them may count on. */
export class Choices {
  private readonly kept = new Map<string, Choice>();

  /** @param piece null: checkout */
  of(piece: Piece | null, able: readonly Person[], suit: readonly Place[]): Choice {
    const kind = piece?.kind ?? "hands";
    if (kind === "wait") return NOBODY;
    const people = able.map(({ hands }) => hands).join();
    const key = `${kind}|${piece?.lead ?? false}|${piece?.carrier ?? ""}|${people}|${suit.map(({ place }) => place).join()}`;
    let choice = this.kept.get(key);
    if (!choice) {
      choice = kind === "charge" ? onChargers(suit) : byHands(kind, piece, able, suit);
      this.kept.set(key, choice);
    }
    return choice;
  }
}

function onChargers(suit: readonly Place[]): Choice {
  const benches = suit.filter(({ chargers }) => chargers > 0);
  return {
    modes: benches.map(({ charger, place }) => ({ resources: [charger, place], amounts: [1, 1] })),
    doers: benches.map(({ name }) => ({ volunteer: null, bench: name })),
  };
}

/** The same pairs in the same order for every piece of a device: who began it can go on with it. */
function byHands(kind: Piece["kind"], piece: Piece | null, able: readonly Person[], suit: readonly Place[]): Choice {
  const pairs = able.flatMap((person) => suit.map((bench) => [person, bench] as const));
  return {
    modes: pairs.map(([person, bench]) => {
      const resources = [
        ...(kind === "hands" ? [person.hands] : []),
        person.mind,
        bench.place,
        ...(piece?.lead ? [bench.lead] : []),
        ...(piece?.carrier ? bench[piece.carrier] : []),
      ];
      return { resources, amounts: resources.map(() => 1) };
    }),
    doers: pairs.map(([person, bench]) => ({ volunteer: person.name, bench: bench.name })),
  };
}
