import { z } from "zod";
import type { Policy } from "~/core/policy/policy";
import { SCHOOLS } from "~/core/policy/schools";

/** What a bench works with: the sides of the house's own choice, told of one bench. */
export const HOSTS = SCHOOLS.host.sides;
export type Host = Policy["host"];

const count = (least: number) =>
  z
    .string()
    .trim()
    .regex(/^\d{1,3}$/, "Write a whole number")
    .transform(Number)
    .refine((n) => n >= least && n <= 200, `Between ${least} and 200`);

const counted = z
  .union([z.literal("").transform(() => null), count(0)])
  .nullish()
  .transform((n) => n ?? null);

/** A bench, and what stands at it. */
export const BenchFields = z.strictObject({
  name: z.string().trim().min(1, "Give the bench a name").max(60, "At most 60 characters"),
  host: z.enum(["computer", "second-phone", "none"], "Choose what it works with"),
  /** Devices that can lie there at once. */
  places: count(1),
  /** Leads between host and device, and chargers. */
  leads: count(0),
  chargers: count(0),
  /** Cards and sticks, each with one device at a time; null where nobody wrote down how many. */
  cards: counted,
  sticks: counted,
});
export type BenchFields = z.infer<typeof BenchFields>;

/** From what takes the fewest ways to what takes them all. */
const REACH: Readonly<Record<Host, number>> = { none: 0, "second-phone": 1, computer: 2 };

/**
 * What the house as a whole works with: the best of its benches. A way is open when one bench can go it.
 *
 * @param otherwise what the house policy says, for a house that has written down no bench
 * @example hostOfHouse([{ host: "none" }, { host: "second-phone" }], "computer") // "second-phone"
 */
export function hostOfHouse(benches: readonly Pick<BenchFields, "host">[], otherwise: Host): Host {
  return (
    benches.reduce<Host | null>((best, b) => (best && REACH[best] >= REACH[b.host] ? best : b.host), null) ?? otherwise
  );
}

/**
 * Benches that take more ways come first.
 *
 * @example byReach({ host: "computer" }, { host: "computer" }) // 0
 */
export const byReach = (a: Pick<BenchFields, "host">, b: Pick<BenchFields, "host">) => REACH[b.host] - REACH[a.host];

/**
 * The host in words.
 *
 * @example hostWords("computer") // "a computer"
 */
export const hostWords = (host: Host): string => HOSTS.find((s) => s.value === host)?.says ?? host;
