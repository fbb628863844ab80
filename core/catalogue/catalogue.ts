import { z } from "zod";
import { Provenance, Slug } from "./common";
import { Image } from "./image";
import { inWords } from "./inWords";
import { Model } from "./model";
import { Need } from "./need";

/** Two images known not to work together. */
export const Incompatible = z.strictObject({
  a: Slug,
  b: Slug,
  says: z.string().min(3).max(200),
  ...Provenance,
});
export type Incompatible = z.infer<typeof Incompatible>;

/** The whole catalogue: in it, every name points at something. */
export interface Catalogue {
  readonly models: readonly Model[];
  readonly images: readonly Image[];
  readonly needs: readonly Need[];
  readonly incompatible: readonly Incompatible[];
}

/** What every pack begins with. */
export const PACK_HEAD = { format: "upshift-lane-catalogue", version: 1 } as const;

/**
 * A part of a catalogue, or the whole of it, as one document: the format of export and import. Its names may point at
 * entries that it does not hold. The JSON Schema made of it is published (docs/catalogue.schema.json).
 */
export const Pack = z.strictObject({
  $schema: z.string().optional(),
  format: z.literal(PACK_HEAD.format),
  version: z.literal(PACK_HEAD.version),
  /** What the pack goes by; another one of the same title is a later state of the same pack. */
  title: z.string().trim().min(1).max(80).default("Catalogue"),
  models: z.array(Model).default([]),
  images: z.array(Image).default([]),
  needs: z.array(Need).default([]),
  incompatible: z.array(Incompatible).default([]),
});
export type Pack = z.infer<typeof Pack>;

export interface CatalogueProblem {
  /** Where in the document, like `images[3].models[0]`. */
  readonly at: string;
  readonly says: string;
}

const pathText = (path: readonly PropertyKey[]) =>
  short(path.map((p, i) => (typeof p === "number" ? `[${p}]` : `${i ? "." : ""}${String(p)}`)).join(""));

/** A text that may quote what was sent, cut off where nobody reads on. */
const short = (text: string) => (text.length > LONGEST_SAYS ? `${text.slice(0, LONGEST_SAYS)}…` : text);

/** What is wrong with a document that was to be read. */
export interface Unreadable {
  readonly ok: false;
  readonly problems: readonly CatalogueProblem[];
}

/** Problems that are told at once: whoever mends these reads it again. */
const MOST_PROBLEMS = 50;
/** Entries of one kind; the largest catalogue that is planned with has some hundreds. */
const MOST_ENTRIES = 5_000;
/** Objects and lists in a pack, and how deep they lie in one another. */
const MOST_NODES = 400_000;
const DEEPEST = 24;
/** Values side by side in one object or list: more than the entries of one kind, and far more than any entry has. */
const MOST_BESIDE = 10_000;
/** Longest text of one problem: what was sent may be quoted in it. */
const LONGEST_SAYS = 400;

/** What makes a text too much to be parsed, told by one pass over it: nothing is built before that is known. */
function tooMuch(text: string): string | null {
  let depth = 0;
  let nodes = 0;
  let quoted = false;
  const beside = new Array<number>(DEEPEST + 1).fill(0);
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (quoted) {
      if (c === 92) i++;
      else if (c === 34) quoted = false;
    } else if (c === 34) quoted = true;
    else if (c === 123 || c === 91) {
      if (++depth > DEEPEST) return `Something in it lies more than ${DEEPEST} levels deep: that is no pack`;
      if (++nodes > MOST_NODES) return "It holds more entries than a catalogue has: that is no pack";
      beside[depth] = 0;
    } else if (c === 125 || c === 93) depth--;
    // A text that closes more than it opens is no JSON, and told as that.
    else if (c === 44 && depth >= 0 && ++beside[depth] > MOST_BESIDE)
      return `More than ${MOST_BESIDE.toLocaleString("en")} values stand side by side in it: that is no pack. Of one kind ${MOST_ENTRIES.toLocaleString("en")} entries at most are read`;
  }
  return null;
}

const ENTRIES = { models: Model, images: Image, needs: Need, incompatible: Incompatible } as const;

/** Reads entry by entry, and stops when there are problems enough. */
function readEntries(json: unknown): Pack | CatalogueProblem[] {
  const given = typeof json === "object" && json !== null && !Array.isArray(json) ? { ...json } : json;
  const lists = new Map<keyof typeof ENTRIES, readonly unknown[]>();
  if (typeof given === "object" && given !== null)
    for (const kind of Object.keys(ENTRIES) as (keyof typeof ENTRIES)[]) {
      const list = (given as Record<string, unknown>)[kind];
      if (!Array.isArray(list)) continue;
      if (list.length > MOST_ENTRIES)
        return [
          {
            at: kind,
            says: `${list.length.toLocaleString("en")} entries; ${MOST_ENTRIES.toLocaleString("en")} at most are read. Split the pack`,
          },
        ];
      lists.set(kind, list);
      (given as Record<string, unknown>)[kind] = [];
    }
  const problems: CatalogueProblem[] = [];
  const note = (error: z.ZodError, before: readonly PropertyKey[]) => {
    for (const { path, message } of error.issues)
      problems.push({
        at: pathText([...before, ...path]) || "document",
        says: short(message),
      });
  };
  const head = Pack.safeParse(given, { error: inWords });
  if (!head.success) note(head.error, []);
  const read: Record<string, unknown[]> = {};
  for (const [kind, list] of lists) {
    read[kind] = [];
    for (const [i, entry] of list.entries()) {
      const one = ENTRIES[kind].safeParse(entry, { error: inWords });
      if (one.success) read[kind].push(one.data);
      else note(one.error, [kind, i]);
      if (problems.length >= MOST_PROBLEMS) return problems.slice(0, MOST_PROBLEMS);
    }
  }
  return problems.length || !head.success ? problems : { ...head.data, ...read };
}

/**
 * Reads a pack.
 *
 * @param text JSON text, as written by the export
 * @returns the pack, or the first problems with their places; never throws
 * @example readPack("no JSON").ok // false
 */
export function readPack(text: string): { readonly ok: true; readonly pack: Pack } | Unreadable {
  const much = tooMuch(text);
  if (much) return { ok: false, problems: [{ at: "document", says: much }] };
  let json: unknown;
  try {
    json = JSON.parse(text.replace(/^\uFEFF/, ""));
  } catch (error) {
    const says = `This is not JSON (${short((error as Error).message)}). Choose a file made by the catalogue export`;
    return { ok: false, problems: [{ at: "document", says }] };
  }
  const read = readEntries(json);
  if (Array.isArray(read)) return { ok: false, problems: read };
  const problems = doubledIds(read).slice(0, MOST_PROBLEMS);
  return problems.length ? { ok: false, problems } : { ok: true, pack: read };
}

/** Entries that stand twice in a pack: nobody can say which of the two is meant. */
function doubledIds(pack: Pack): CatalogueProblem[] {
  const problems: CatalogueProblem[] = [];
  for (const kind of ["models", "images", "needs", "incompatible"] as const) {
    const seen = new Set<string>();
    pack[kind].forEach((entry, i) => {
      const id = entryId(entry);
      if (seen.has(id))
        problems.push({ at: `${kind}[${i}]`, says: `“${short(id)}” stands twice; every id is used once` });
      seen.add(id);
    });
  }
  return problems;
}

/**
 * What a pair goes by, whichever of the two stands first.
 *
 * @example pairId({ a: "recovery-b", b: "rom-a" }) // "recovery-b rom-a"
 */
export const pairId = ({ a, b }: Pick<Incompatible, "a" | "b">): string => [a, b].sort().join(" ");

/** What an entry of any kind goes by. */
export const entryId = (entry: Model | Image | Need | Incompatible): string =>
  "a" in entry ? pairId(entry) : entry.id;

/**
 * Names that point nowhere, and firmware that is not on the model's list.
 *
 * @example checkReferences({ models: [], images: [], needs: [], incompatible: [{ a: "rom-a", b: "rom-b", says: "" }] }).length // 2
 */
export function checkReferences(catalogue: Catalogue): CatalogueProblem[] {
  const problems: CatalogueProblem[] = [];
  const models = new Map(catalogue.models.map((m) => [m.id, m]));
  const images = new Map(catalogue.images.map((i) => [i.id, i]));
  catalogue.models.forEach((model, i) => {
    model.firmware.dangerous.forEach((range, j) => {
      for (const key of ["from", "to", "safe"] as const)
        if (!model.firmware.order.includes(range[key]))
          problems.push({
            at: `models[${i}].firmware.dangerous[${j}].${key}`,
            says: `“${range[key]}” is not in this model's firmware order`,
          });
    });
  });
  catalogue.images.forEach((image, i) => {
    image.models.forEach((id, j) => {
      if (!models.has(id))
        problems.push({
          at: `images[${i}].models[${j}]`,
          says: `There is no model “${id}”. Add the model or take the name out`,
        });
    });
    image.faults.forEach((fault, j) => {
      for (const id of fault.models)
        if (!models.has(id))
          problems.push({ at: `images[${i}].faults[${j}].models`, says: `There is no model “${id}”` });
    });
    const next = image.withdrawn?.successor;
    if (next && !images.has(next))
      problems.push({ at: `images[${i}].withdrawn.successor`, says: `There is no image “${next}”` });
  });
  catalogue.incompatible.forEach((pair, i) => {
    for (const key of ["a", "b"] as const)
      if (!images.has(pair[key]))
        problems.push({ at: `incompatible[${i}].${key}`, says: `There is no image “${pair[key]}”` });
  });
  return problems;
}
