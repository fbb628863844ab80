import { FileReadError } from "./readError";

/** Numbers and texts at fixed places of a structure; a place outside is a typed error, never garbage. */
export class Fields {
  private readonly view: DataView;

  constructor(
    readonly bytes: Uint8Array,
    private readonly littleEndian: boolean,
    private readonly what: string,
  ) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  get length(): number {
    return this.bytes.length;
  }

  private check(at: number, length: number) {
    if (!Number.isSafeInteger(at) || at < 0 || at + length > this.bytes.length)
      throw new FileReadError("cut-short", `The file ends inside ${this.what}: it was cut short or is damaged`);
  }

  u8(at: number): number {
    this.check(at, 1);
    return this.view.getUint8(at);
  }

  u16(at: number): number {
    this.check(at, 2);
    return this.view.getUint16(at, this.littleEndian);
  }

  u32(at: number): number {
    this.check(at, 4);
    return this.view.getUint32(at, this.littleEndian);
  }

  /** An unsigned 64-bit number; one that JavaScript can't count exactly is no size or place of a real file. */
  u64(at: number): number {
    this.check(at, 8);
    const value = this.view.getBigUint64(at, this.littleEndian);
    if (value > BigInt(Number.MAX_SAFE_INTEGER))
      throw new FileReadError("damaged", `A number in ${this.what} is impossibly large: the file is damaged`);
    return Number(value);
  }

  /** Text up to the first NUL, of a field of fixed length. */
  text(at: number, length: number): string {
    this.check(at, length);
    const field = this.bytes.subarray(at, at + length);
    const end = field.indexOf(0);
    return new TextDecoder().decode(end < 0 ? field : field.subarray(0, end));
  }

  part(at: number, length: number): Uint8Array {
    this.check(at, length);
    return this.bytes.subarray(at, at + length);
  }
}

/** The bytes at a place, as lower-case hexadecimal. */
export const hex = (bytes: Uint8Array): string => Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("");

/** True when the bytes hold this text at this place. */
export function hasText(bytes: Uint8Array, at: number, text: string): boolean {
  if (at + text.length > bytes.length) return false;
  for (let i = 0; i < text.length; i++) if (bytes[at + i] !== text.charCodeAt(i)) return false;
  return true;
}
