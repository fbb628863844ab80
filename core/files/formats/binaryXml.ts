import { Fields } from "../fields";
import { FileReadError } from "../readError";

const CHUNK = { strings: 0x0001, xml: 0x0003, ids: 0x0180, start: 0x0102, end: 0x0103 } as const;
const MAX_STRINGS = 500_000;

/** A value of an attribute or a resource: text, number, yes/no, or a reference to a resource. */
export type TypedValue =
  | { readonly kind: "text"; readonly text: string }
  | { readonly kind: "number"; readonly number: number }
  | { readonly kind: "boolean"; readonly is: boolean }
  | { readonly kind: "reference"; readonly id: number };

export interface XmlElement {
  readonly name: string;
  /** What it stands in; null for the outermost. */
  readonly parent: XmlElement | null;
  /** By the attribute's resource id where it has one, and by its name. */
  readonly attribute: (id: number, name: string) => TypedValue | undefined;
}

/** One chunk of a compiled resource: its type, where its header ends, where it ends. */
export interface Chunk {
  readonly type: number;
  readonly at: number;
  readonly headerSize: number;
  readonly end: number;
}

/** The chunks that stand one after the other between two places. */
export function* chunksIn(f: Fields, from: number, to: number): Generator<Chunk> {
  for (let at = from; at + 8 <= to; ) {
    const [type, headerSize, size] = [f.u16(at), f.u16(at + 2), f.u32(at + 4)];
    if (headerSize < 8 || size < headerSize || at + size > to)
      throw new FileReadError("damaged", "A compiled resource of the app package is damaged");
    yield { type, at, headerSize, end: at + size };
    at += size;
  }
}

/**
 * A string pool, strings decoded when they are asked for.
 *
 * @source AOSP `ResourceTypes.h`, ResStringPool_header: UTF-8 or UTF-16, each string with its length before it
 */
export function stringPool(f: Fields, { at, end }: Chunk): (index: number) => string {
  const [count, flags, start] = [f.u32(at + 8), f.u32(at + 16), f.u32(at + 20)];
  if (count > MAX_STRINGS) throw new FileReadError("damaged", "A compiled resource names too many texts");
  const utf8 = (flags & 0x100) !== 0;
  return (index) => {
    if (index >= count) return "";
    let from = at + start + f.u32(at + 28 + index * 4);
    const length8 = () => {
      const first = f.u8(from++);
      return first & 0x80 ? ((first & 0x7f) << 8) | f.u8(from++) : first;
    };
    if (utf8) {
      length8();
      const bytes = length8();
      return from + bytes <= end ? new TextDecoder().decode(f.part(from, bytes)) : "";
    }
    let units = f.u16(from);
    from += 2;
    if (units & 0x8000) {
      units = ((units & 0x7fff) << 16) | f.u16(from);
      from += 2;
    }
    return from + units * 2 <= end ? new TextDecoder("utf-16le").decode(f.part(from, units * 2)) : "";
  };
}

/** A Res_value: its type and its data. */
export function typedValue(type: number, data: number, strings: (index: number) => string): TypedValue | null {
  if (type === 0x03) return { kind: "text", text: strings(data) };
  if (type === 0x01) return { kind: "reference", id: data };
  if (type === 0x12) return { kind: "boolean", is: data !== 0 };
  if (type >= 0x10 && type <= 0x1f) return { kind: "number", number: data };
  return null;
}

/**
 * The elements of a compiled XML document, in their order, each with what it stands in.
 *
 * @throws FileReadError when the document is damaged
 * @source AOSP `ResourceTypes.h`, ResXMLTree_node, ResXMLTree_attrExt, ResXMLTree_attribute
 */
export function readBinaryXml(bytes: Uint8Array): XmlElement[] {
  const f = new Fields(bytes, true, "the app's manifest");
  if (f.u16(0) !== CHUNK.xml) throw new FileReadError("not-this", "The app's manifest is not compiled");
  const end = Math.min(f.u32(4), bytes.length);
  let strings: (index: number) => string = () => "";
  let ids: readonly number[] = [];
  const elements: XmlElement[] = [];
  const open: XmlElement[] = [];
  for (const chunk of chunksIn(f, f.u16(2), end)) {
    if (chunk.type === CHUNK.strings) strings = stringPool(f, chunk);
    else if (chunk.type === CHUNK.ids)
      ids = Array.from({ length: Math.min((chunk.end - chunk.at - 8) >> 2, 10_000) }, (_, i) =>
        f.u32(chunk.at + 8 + i * 4),
      );
    else if (chunk.type === CHUNK.end) open.pop();
    else if (chunk.type === CHUNK.start) {
      const element = elementAt(f, chunk, strings, ids, open.at(-1) ?? null);
      elements.push(element);
      open.push(element);
    }
    if (elements.length > 50_000) throw new FileReadError("damaged", "The app's manifest has too many elements");
  }
  return elements;
}

function elementAt(
  f: Fields,
  chunk: Chunk,
  strings: (index: number) => string,
  ids: readonly number[],
  parent: XmlElement | null,
): XmlElement {
  const body = chunk.at + chunk.headerSize;
  const [first, each, count] = [f.u16(body + 8), f.u16(body + 10), f.u16(body + 12)];
  if (each < 20 && count > 0) throw new FileReadError("damaged", "The app's manifest is damaged");
  const byId = new Map<number, TypedValue>();
  const byName = new Map<string, TypedValue>();
  for (let i = 0; i < count; i++) {
    const at = body + first + i * each;
    if (at + 20 > chunk.end) throw new FileReadError("damaged", "The app's manifest is damaged");
    const value = typedValue(f.u8(at + 15), f.u32(at + 16), strings);
    if (!value) continue;
    const name = f.u32(at + 4);
    if (ids[name] !== undefined) byId.set(ids[name], value);
    byName.set(strings(name), value);
  }
  return { name: strings(f.u32(body + 4)), parent, attribute: (id, name) => byId.get(id) ?? byName.get(name) };
}
