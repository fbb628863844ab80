import type { Channel } from "~/core/clearance/case";
import { type LetterKind, LetterTemplate, TEMPLATE_IDS } from "~/core/clearance/letter";
import { SHIPPED_TEMPLATES } from "~/core/clearance/templates";
import { change, type Hand, query, queryOne, StaleEdit, type Store } from "./database";
import { inTransaction } from "./transaction";

/** How a letter left the house. */
export type LetterWay = "outbox" | "copied" | "printed";

export interface LetterRow extends Hand {
  readonly id: number;
  readonly donor: string;
  readonly kind: LetterKind;
  readonly how: LetterWay;
  readonly language: string;
  /** Address it went to; empty where there was none, or once it was erased. */
  readonly recipient: string;
  readonly subject: string;
  readonly body: string;
  readonly tags: readonly string[];
  readonly erased: string | null;
}

type Raw = Omit<LetterRow, "tags"> & { readonly tags: string };
const columns = "id, donor, kind, how, language, recipient, subject, body, tags, erased, at, by";
const one = queryOne<{ id: number }, Raw>(`SELECT ${columns} FROM letter WHERE id = @id`);
const newest = query<{ limit: number }, Raw>(`SELECT ${columns} FROM letter ORDER BY id DESC LIMIT @limit`);
const ofDonor = query<{ donor: string }, Raw>(`
  SELECT ${columns} FROM letter WHERE donor = @donor COLLATE NOCASE ORDER BY id DESC
`);
const insert = change<Omit<Raw, "id" | "erased">>(`
  INSERT INTO letter (donor, kind, how, language, recipient, subject, body, tags, at, by)
  VALUES (@donor, @kind, @how, @language, @recipient, @subject, @body, @tags, @at, @by)
`);
const erase = change<{ id: number; at: string }>(`
  UPDATE letter SET recipient = '', body = '', erased = @at WHERE id = @id
`);

const toLetter = (raw: Raw): LetterRow => ({ ...raw, tags: JSON.parse(raw.tags) as string[] });

export const findLetter = (store: Store, id: number): LetterRow | undefined => {
  const raw = one(store, { id });
  return raw && toLetter(raw);
};
export const newestLetters = (store: Store, limit: number) => newest(store, { limit }).map(toLetter);
export const lettersTo = (store: Store, donor: string) => ofDonor(store, { donor }).map(toLetter);

export function addLetter(store: Store, letter: Omit<LetterRow, "id" | "erased">): number {
  return Number(insert(store, { ...letter, tags: JSON.stringify(letter.tags) }).lastInsertRowid);
}

/** Takes address and text out of a letter; that it was written stays. */
export const eraseLetter = (store: Store, id: number, at: string) => erase(store, { id, at });

/** Letters that are not e-mail leave the house on paper or by voice. */
export const wayOfChannel = (channel: Channel): LetterWay =>
  channel === "email" ? "outbox" : channel === "post" ? "printed" : "copied";

export interface VersionedTemplate {
  readonly id: string;
  readonly template: LetterTemplate;
  /** 0 for the one that ships. */
  readonly version: number;
}

const saved = query<object, { id: string; doc: string; version: number }>(`
  SELECT id, doc, version FROM letter_template
`);
const putTemplate = change<{ id: string; doc: string; version: number }>(`
  INSERT INTO letter_template (id, doc) VALUES (@id, @doc)
  ON CONFLICT (id) DO UPDATE SET doc = excluded.doc, version = version + 1 WHERE version = @version
`);
const dropTemplate = change<{ id: string; version: number }>(`
  DELETE FROM letter_template WHERE id = @id AND version = @version
`);
const recordTemplate = change<{ template: string; doc: string | null } & Hand>(`
  INSERT INTO letter_template_change (template, doc, at, by) VALUES (@template, @doc, @at, @by)
`);
const templateChanges = query<{ template: string }, { doc: string | null } & Hand>(`
  SELECT doc, at, by FROM letter_template_change WHERE template = @template ORDER BY id DESC LIMIT 20
`);

/** Every template: the house's own where it was edited, else the one that ships. */
export function readTemplates(store: Store): Map<string, VersionedTemplate> {
  const own = new Map(saved(store, {}).map((row) => [row.id, row]));
  return new Map(
    TEMPLATE_IDS.map((id) => {
      const row = own.get(id);
      return [
        id,
        row
          ? { id, template: LetterTemplate.parse(JSON.parse(row.doc)), version: row.version }
          : { id, template: SHIPPED_TEMPLATES[id], version: 0 },
      ];
    }),
  );
}

/** Saves a template, or with null brings the one that ships back. @throws StaleEdit */
export function saveTemplate(store: Store, id: string, template: LetterTemplate | null, version: number, hand: Hand) {
  inTransaction(store, () => {
    const doc = template && JSON.stringify(LetterTemplate.parse(template));
    const stands = saved(store, {}).find((row) => row.id === id)?.version ?? 0;
    if (stands !== version) throw new StaleEdit("This letter");
    if (doc) putTemplate(store, { id, doc, version });
    else dropTemplate(store, { id, version });
    recordTemplate(store, { template: id, doc, ...hand });
  });
}

export const changesOfTemplate = (store: Store, id: string) => templateChanges(store, { template: id });
