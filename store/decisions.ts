import type { Way } from "~/core/upgrade/way";
import { change, type Hand, query, type Store } from "./database";

export interface DecisionRow extends Hand {
  readonly id: number;
  readonly way: string | null;
  readonly proposed: string | null;
  readonly reason: string;
}

const decisions = query<{ device: number }, DecisionRow>(`
  SELECT id, way, proposed, reason, at, by FROM decision WHERE device = @device ORDER BY id
`);
const insertDecision = change<
  { device: number; way: string | null; proposed: string | null; reason: string; rests: string | null } & Hand
>(`
  INSERT INTO decision (device, way, proposed, reason, rests, at, by)
  VALUES (@device, @way, @proposed, @reason, @rests, @at, @by)
`);

export const decisionsOf = (store: Store, device: number) => decisions(store, { device });

export interface NewDecision {
  /** null takes the standing one back. */
  readonly way: Way | null;
  readonly proposed: string | null;
  readonly reason: string;
  /** The facts the way rests on, by key. */
  readonly rests?: Readonly<Record<string, unknown>>;
}

/** Appends a decision. @returns its row id */
export function decide(store: Store, device: number, decision: NewDecision, hand: Hand): number {
  const { way, rests, proposed, reason } = decision;
  return Number(
    insertDecision(store, {
      device,
      proposed,
      reason,
      way: way ? JSON.stringify(way) : null,
      rests: rests ? JSON.stringify(rests) : null,
      ...hand,
    }).lastInsertRowid,
  );
}

/** Takes the standing decision back, with the reason. */
export const undecide = (store: Store, device: number, reason: string, hand: Hand) =>
  decide(store, device, { way: null, proposed: null, reason }, hand);
