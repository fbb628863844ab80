import { change, type Hand, query, type Store } from "./database";

/** A piece of work that somebody gave to hands, a bench and a time. */
export interface PiecePinRow {
  readonly device: number;
  /** Step of the sheet at which the piece ends; null for the look at the end. */
  readonly ends: number | null;
  readonly volunteer: string;
  readonly bench: string;
  /** On the house's own clock, YYYY-MM-DDTHH:MM. */
  readonly start: string;
}

/** The look at the end, as the table has it: two empty values would be two different pieces to it. */
const THE_END = -1;

const standing = query<object, PiecePinRow & { readonly ends: number }>(`
  SELECT device, ends, volunteer, bench, start FROM piece_pin
  WHERE  id IN (SELECT max(id) FROM piece_pin GROUP BY device, ends) AND volunteer <> ''
  ORDER  BY id
`);
const insert = change<PiecePinRow & { readonly ends: number } & Hand>(`
  INSERT INTO piece_pin (device, ends, volunteer, bench, start, at, by)
  VALUES (@device, @ends, @volunteer, @bench, @start, @at, @by)
`);

/** Pieces that stand where somebody put them. */
export const piecePins = (store: Store): PiecePinRow[] =>
  standing(store, {}).map((row) => ({ ...row, ends: row.ends === THE_END ? null : row.ends }));

/** Puts a piece where somebody wants it. */
export const pinPiece = (store: Store, pin: PiecePinRow, hand: Hand) =>
  insert(store, { ...pin, ends: pin.ends ?? THE_END, ...hand });

/** Lets a piece go where it fits best again. */
export const freePiece = (store: Store, { device, ends }: Pick<PiecePinRow, "device" | "ends">, hand: Hand) =>
  pinPiece(store, { device, ends, volunteer: "", bench: "", start: "" }, hand);
