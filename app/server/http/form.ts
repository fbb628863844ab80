import { createHash } from "node:crypto";
import { asking } from "./asking";
import { db } from "./context";
import { claimForm } from "./once";
import { refused } from "./refused";
import { needRoom } from "./room";
import { turnToWrite } from "./turn";

/** Bytes of a form that brings no file. */
const MOST = 2_000_000;
/** Fields of one form: the largest of ours, a list to mend, has some thousands. */
const MAX_FIELDS = 20_000;
/** Longest text of a field that nothing else is said of, characters. */
const SHORT = 500;
/** Most of what is pasted, characters: read-outs, lists, packs. More comes as a file. */
export const MAX_PASTED = 2_000_000;
/**
 * Most of a refused text that is sent back to be mended, characters: it goes out twice, as page and as data, and each quote in it
 * as six letters. With scripts the box keeps what was pasted, however long.
 */
const MAX_GIVEN_BACK = 300_000;

/** What was pasted and refused, to be mended; nothing where that is too much to send. */
export const givenBack = (text: string): string => (text.length <= MAX_GIVEN_BACK ? text : "");
/** Fields of the house's forms that may be longer, or are shorter. */
const LENGTHS: Readonly<Record<string, number>> = {
  tag: 60,
  serial: 60,
  imei: 60,
  donor: 120,
  person: 60,
  note: 2_000,
  evidence: 2_000,
  reason: 2_000,
  collectionPoint: 2_000,
  text: MAX_PASTED,
  tags: 200_000,
  body: 20_000,
  history: 20_000,
  list: 200_000,
  packages: 200_000,
  source: 1_000,
};
/** Largest number in a field's name: beyond it an index is no row of a form. */
const MAX_INDEX = 2_000;
/** Rows of a list to mend go by their line in the file. */
const BY_LINE = /^(cell|choice)\.\d{1,6}(\.\d{1,3})?$/;
const MARK = "once";

export interface FormLimits {
  /** Bytes of the whole, where files or long texts are sent. */
  readonly most?: number;
  /** Fields with a length of their own, characters. */
  readonly long?: Readonly<Record<string, number>>;
}

/**
 * Reads a form that was sent: only as many bytes as it may have, only as many fields, each only as long as suits it.
 *
 * A form that bears a mark is taken once: sent a second time, with the same in it, it leads where it led the first time, and
 * nothing is done.
 *
 * @throws Response 400, 409, 413, 415 or 507, in words
 */
export async function readForm(request: Request, limits: FormLimits = {}): Promise<FormData> {
  const form = await readFormWithin(request, limits);
  if (form) return form;
  const mb = (limits.most ?? MOST) / 1e6;
  throw refused(413, `That is more than ${mb} MB at once. Send less; nothing was changed`);
}

/** The same, for pages that say themselves what is too large: null then. */
export async function readFormWithin(request: Request, limits: FormLimits): Promise<FormData | null> {
  const { type, isMultipart } = formTypeOf(request);
  const bytes = await readBytes(request, limits.most ?? MOST);
  if (!bytes) return null;
  if (countFields(bytes, isMultipart ? type : null) > MAX_FIELDS)
    throw refused(413, `A form has at most ${MAX_FIELDS.toLocaleString("en")} fields. Nothing was changed`);
  const form = await parsed(bytes, type);
  for (const [name, value] of form) checkField(name, value, limits.long ?? {});
  await readyToWrite(bytes.length);
  const mark = form.get(MARK);
  form.delete(MARK);
  if (typeof mark === "string" && /^[\w:-]{8,80}$/.test(mark)) {
    // The same form with other words in it is another wish: somebody went back and wrote the next one.
    const once = `${mark}.${await digestOfForm(form)}`;
    await claimForm(db(), once, request);
    const here = asking.getStore();
    if (here) here.once = once;
  }
  return form;
}

const parsed = (bytes: Uint8Array<ArrayBuffer>, type: string): Promise<FormData> =>
  new Response(bytes, { headers: { "content-type": type } }).formData().catch(() => {
    throw refused(400, "The form that was sent is broken. Go back, reload the page and send it again");
  });

function formTypeOf(request: Request) {
  const type = request.headers.get("content-type") ?? "";
  const isMultipart = /^multipart\/form-data\s*;/i.test(type);
  if (!isMultipart && !/^application\/x-www-form-urlencoded\s*(;|$)/i.test(type))
    throw refused(415, `A form is sent here, not ${type ? `“${type.slice(0, 60)}”` : "a body without a type"}`);
  return { type, isMultipart };
}

/** A form that is a button and nothing else. It writes nothing: it waits for nobody who does, and may come twice. */
export async function readButton(request: Request): Promise<void> {
  const { type } = formTypeOf(request);
  const bytes = await readBytes(request, SHORT);
  if (!bytes) throw refused(413, "A button sends no more than its name. Nothing was changed");
  await parsed(bytes, type);
}

/** What is in a form, whatever its parts are separated by. */
async function digestOfForm(form: FormData): Promise<string> {
  const hash = createHash("sha256");
  for (const [name, value] of form) {
    hash.update(`${JSON.stringify(name)} ${typeof value === "string" ? JSON.stringify(value) : value.size}\n`);
    if (typeof value !== "string") hash.update(new Uint8Array(await value.arrayBuffer()));
  }
  return hash.digest("hex").slice(0, 32);
}

/** The texts of a form by their field's name; files are left out. */
export function textFields(form: FormData): Record<string, string> {
  const texts: Record<string, string> = {};
  for (const [name, value] of form) if (typeof value === "string") texts[name] = value;
  return texts;
}

/** A body as text, cut off at its limit. @returns null when it is longer */
export async function readText(request: Request, most: number): Promise<string | null> {
  const bytes = await readBytes(request, most);
  await readyToWrite(bytes?.length ?? 0);
  return bytes && new TextDecoder().decode(bytes);
}

/** A body can take long to come: somebody may be writing by then, for whom nobody was when the request began. */
async function readyToWrite(sent: number) {
  if (!asking.getStore()) return;
  needRoom(sent);
  await turnToWrite(db());
}

/** Bytes of a body; null as soon as there are more than may be: what is too much is never held. */
async function readBytes(request: Request, most: number): Promise<Uint8Array<ArrayBuffer> | null> {
  const parts: Uint8Array[] = [];
  let length = 0;
  const reader = request.body?.getReader();
  try {
    while (reader) {
      const { done, value } = await reader.read();
      if (done) break;
      length += value.length;
      if (length <= most) parts.push(value);
      else {
        parts.length = 0;
        // A browser shows the answer only when it could send everything: some more is read away, not without end.
        if (length > most * 2 + MAX_READ_AWAY) return null;
      }
    }
  } catch {
    throw refused(400, "What was sent broke off on the way. Send it again; nothing was changed");
  }
  if (length > most) return null;
  const bytes = new Uint8Array(length);
  let at = length;
  // From its end, so that each piece can go as soon as it is copied.
  for (let part = parts.pop(); part; part = parts.pop()) {
    at -= part.length;
    bytes.set(part, at);
  }
  return bytes;
}
const MAX_READ_AWAY = 100_000_000;

/** Fields of a body, counted before anything is made of them. */
function countFields(bytes: Uint8Array, multipart: string | null): number {
  const separator = multipart ? `--${/boundary="?([^";]+)/i.exec(multipart)?.[1] ?? ""}` : "&";
  const needle = Buffer.from(separator);
  const hay = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length);
  let count = 0;
  for (let at = hay.indexOf(needle); at >= 0 && count <= MAX_FIELDS; at = hay.indexOf(needle, at + needle.length))
    count++;
  return count;
}

function checkField(name: string, value: FormDataEntryValue, long: Readonly<Record<string, number>>) {
  if (name.length > 200 || /(^|[.[\]])(__proto__|constructor|prototype)($|[.[\]])/.test(name))
    throw refused(400, "There is no such field in this form. Reload the page and send it again");
  if (!BY_LINE.test(name) && name.split(/[.[\]]/).some((part) => /^\d+$/.test(part) && Number(part) > MAX_INDEX))
    throw refused(400, `“${name.slice(0, 60)}” is no field of this form. Reload the page and send it again`);
  if (typeof value !== "string") return;
  const own = Object.hasOwn(long, name)
    ? long[name]
    : Object.hasOwn(LENGTHS, name)
      ? LENGTHS[name]
      : (long["*"] ?? SHORT);
  if (value.length > own)
    throw refused(
      413,
      `“${name.slice(0, 60)}” takes ${own.toLocaleString("en")} characters, and ${value.length.toLocaleString("en")} were sent. Go back and shorten it; nothing was changed`,
    );
}
