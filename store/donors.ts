import { z } from "zod";
import { Channel } from "~/core/clearance/case";
import { Language } from "~/core/clearance/signOut";
import { change, type Hand, query, queryOne, StaleEdit, type Store } from "./database";
import { inTransaction } from "./transaction";

/** How a donor or issuer is reached. */
export const Contact = z.strictObject({
  email: z.union([z.literal(""), z.email("This is not an e-mail address; write it like name@place.example")]),
  phone: z.string().trim().max(40),
  channel: Channel,
  language: Language,
  plain: z.boolean(),
});
export type Contact = z.infer<typeof Contact>;

export const NO_CONTACT: Contact = { email: "", phone: "", channel: "email", language: "en", plain: false };

export interface Donor extends Contact {
  readonly name: string;
  /** When the contact was erased; null while it stands. */
  readonly erased: string | null;
  /** 0 while nothing is written down. */
  readonly version: number;
}

interface Row extends Omit<Donor, "plain"> {
  readonly plain: 0 | 1;
}

const one = queryOne<{ name: string }, Row>(`
  SELECT name, email, phone, channel, language, plain, erased, version FROM donor WHERE name = @name
`);
const all = query<object, Row>(`
  SELECT name, email, phone, channel, language, plain, erased, version FROM donor ORDER BY name
`);
type Written = Omit<Contact, "plain"> & { name: string; plain: 0 | 1; version: number };
const insert = change<Written>(`
  INSERT INTO donor (name, email, phone, channel, language, plain)
  VALUES (@name, @email, @phone, @channel, @language, @plain)
`);
const update = change<Written>(`
  UPDATE donor
  SET    email = @email, phone = @phone, channel = @channel, language = @language, plain = @plain, erased = NULL,
         version = version + 1
  WHERE  name = @name AND version = @version
`);
const record = change<{ donor: string; was: string } & Hand>(`
  INSERT INTO donor_change (donor, was, at, by) VALUES (@donor, @was, @at, @by)
`);
const forget = change<{ donor: string }>(`UPDATE donor_change SET was = NULL WHERE donor = @donor`);
const erase = change<{ name: string; at: string }>(`
  UPDATE donor SET email = '', phone = '', erased = @at, version = version + 1 WHERE name = @name
`);
const changes = query<{ donor: string }, { was: string | null } & Hand>(`
  SELECT was, at, by FROM donor_change WHERE donor = @donor ORDER BY id
`);

const toDonor = (row: Row): Donor => ({ ...row, plain: row.plain === 1 });

/** A donor's contact; an empty one when nothing is written down. */
export function findDonor(store: Store, name: string): Donor {
  const row = one(store, { name });
  return row ? toDonor(row) : { ...NO_CONTACT, name, erased: null, version: 0 };
}

export const contactsByName = (store: Store): Map<string, Donor> =>
  new Map(all(store, {}).map((row) => [row.name.toLowerCase(), toDonor(row)]));

/** Saves a contact; what it was before is kept until the contact is erased. @throws StaleEdit */
export function saveDonor(store: Store, name: string, contact: Contact, version: number, hand: Hand) {
  const checked = Contact.parse(contact);
  const written = { ...checked, name, plain: checked.plain ? (1 as const) : (0 as const), version };
  inTransaction(store, () => {
    const { email, phone, channel, language, plain } = findDonor(store, name);
    if (version === 0 && !one(store, { name })) insert(store, written);
    else if (update(store, written).changes === 0) throw new StaleEdit(`The contact of ${name}`);
    record(store, { donor: name, was: JSON.stringify({ email, phone, channel, language, plain }), ...hand });
  });
}

export const changesOfDonor = (store: Store, name: string) => changes(store, { donor: name });

/** Erases a contact, and what it was before each change. */
export function eraseContact(store: Store, name: string, at: string) {
  erase(store, { name, at });
  forget(store, { donor: name });
}

/** Puts a contact back to what it was before the last change. @returns what is wrong in words, or null */
export function undoDonor(store: Store, name: string, hand: Hand): string | null {
  return inTransaction(store, () => {
    const was = changes(store, { donor: name }).at(-1)?.was;
    if (!was) return "There is no earlier contact to go back to";
    saveDonor(store, name, Contact.parse(JSON.parse(was)), findDonor(store, name).version, hand);
    return null;
  });
}
