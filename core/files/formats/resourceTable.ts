import { Fields } from "../fields";
import { type Chunk, chunksIn, stringPool, type TypedValue, typedValue } from "./binaryXml";

const CHUNK = { strings: 0x0001, table: 0x0002, package: 0x0200, type: 0x0201 } as const;

/**
 * The text behind a resource reference in its default form, such as an app's name.
 *
 * @param bytes `resources.arsc`
 * @returns null when the table does not have it
 * @throws FileReadError when the table is damaged
 * @source AOSP `ResourceTypes.h`: ResTable_package, ResTable_type, ResTable_entry, Res_value
 */
export function resourceText(bytes: Uint8Array, id: number, depth = 0): string | null {
  if (depth > 5) return null;
  const f = new Fields(bytes, true, "the app's resources");
  if (f.u16(0) !== CHUNK.table) return null;
  let strings: (index: number) => string = () => "";
  const found: TypedValue[] = [];
  for (const chunk of chunksIn(f, f.u16(2), Math.min(f.u32(4), bytes.length))) {
    if (chunk.type === CHUNK.strings) strings = stringPool(f, chunk);
    if (chunk.type !== CHUNK.package || (f.u32(chunk.at + 8) & 0xff) !== id >>> 24) continue;
    for (const type of chunksIn(f, chunk.at + chunk.headerSize, chunk.end)) {
      if (type.type !== CHUNK.type || f.u8(type.at + 8) !== ((id >>> 16) & 0xff)) continue;
      const value = entryOf(f, type, id & 0xffff, strings);
      // The configuration without a language stands for "default"; it is taken before any translation.
      if (value) isDefault(f, type) ? found.unshift(value) : found.push(value);
    }
  }
  const value = found[0];
  if (value?.kind === "text") return value.text.slice(0, 400);
  return value?.kind === "reference" ? resourceText(bytes, value.id, depth + 1) : null;
}

/** Language and region of the configuration are empty. */
const isDefault = (f: Fields, type: Chunk) => f.u32(type.at + 20 + 8) === 0;

function entryOf(f: Fields, type: Chunk, index: number, strings: (i: number) => string): TypedValue | null {
  const flags = f.u8(type.at + 9);
  const [count, start] = [f.u32(type.at + 12), f.u32(type.at + 16)];
  const offsets = type.at + type.headerSize;
  let offset: number | null = null;
  if (flags & 1) {
    for (let i = 0; i < Math.min(count, 65_536) && offset === null; i++)
      if (f.u16(offsets + i * 4) === index) offset = f.u16(offsets + i * 4 + 2) * 4;
  } else if (index < count) {
    const at = flags & 2 ? f.u16(offsets + index * 2) : f.u32(offsets + index * 4);
    offset = flags & 2 ? (at === 0xffff ? null : at * 4) : at === 0xffffffff ? null : at;
  }
  if (offset === null) return null;
  const entry = type.at + start + offset;
  if (entry + 8 > type.end) return null;
  const entryFlags = f.u16(entry + 2);
  if (entryFlags & 8) return typedValue(entryFlags >>> 8, f.u32(entry + 4), strings);
  if (entryFlags & 1) return null;
  const value = entry + f.u16(entry);
  return typedValue(f.u8(value + 3), f.u32(value + 4), strings);
}
