/** What a verification file is made of; a plain one where nothing is said. */
export interface VbmetaParts {
  readonly properties?: Readonly<Record<string, string>>;
  /** Partitions with a hash descriptor. */
  readonly hashed?: readonly string[];
  /** Partitions with a hashtree descriptor. */
  readonly trees?: readonly string[];
  /** Partitions that have a chain of their own. */
  readonly chained?: readonly string[];
  readonly algorithm?: number;
  readonly rollbackIndex?: number;
  readonly flags?: number;
  readonly madeBy?: string;
  /** Bytes of a signature block, zeros: nothing is signed here. */
  readonly authentication?: number;
}

const encode = (text: string) => new TextEncoder().encode(text);

/** A descriptor: its tag, the fixed part behind the 16 common bytes, what follows; padded to 8 bytes. */
function descriptor(tag: number, fixed: (view: DataView) => void, fixedBytes: number, rest: Uint8Array): Uint8Array {
  const length = Math.ceil((16 + fixedBytes + rest.length) / 8) * 8;
  const bytes = new Uint8Array(length);
  const view = new DataView(bytes.buffer);
  view.setBigUint64(0, BigInt(tag), false);
  view.setBigUint64(8, BigInt(length - 16), false);
  fixed(view);
  bytes.set(rest, 16 + fixedBytes);
  return bytes;
}

function property(key: string, value: string): Uint8Array {
  const [k, v] = [encode(key), encode(value)];
  const fixed = (view: DataView) => {
    view.setBigUint64(16, BigInt(k.length), false);
    view.setBigUint64(24, BigInt(v.length), false);
  };
  return descriptor(0, fixed, 16, new Uint8Array([...k, 0, ...v, 0]));
}

const named = (tag: number, lengthAt: number, nameAt: number, name: string) =>
  descriptor(tag, (view) => view.setUint32(lengthAt, encode(name).length, false), nameAt - 16, encode(name));

/**
 * The bytes of a verification file, unsigned.
 *
 * @source AOSP Android Verified Boot 2.0 README and its headers, as in `parseVbmeta`
 *
 * @example writeVbmeta({ flags: 3 }).length % 64 // 0
 */
export function writeVbmeta(parts: VbmetaParts): Uint8Array {
  const descriptors = [
    ...Object.entries(parts.properties ?? {}).map(([k, v]) => property(k, v)),
    ...(parts.trees ?? []).map((name) => named(1, 104, 180, name)),
    ...(parts.hashed ?? []).map((name) => named(2, 56, 132, name)),
    ...(parts.chained ?? []).map((name) => named(4, 20, 92, name)),
  ];
  const size = descriptors.reduce((sum, d) => sum + d.length, 0);
  const auxiliary = Math.ceil(size / 64) * 64;
  const authentication = Math.ceil((parts.authentication ?? 0) / 64) * 64;
  const bytes = new Uint8Array(256 + authentication + auxiliary);
  const view = new DataView(bytes.buffer);
  bytes.set(encode("AVB0"));
  view.setUint32(4, 1, false);
  view.setBigUint64(12, BigInt(authentication), false);
  view.setBigUint64(20, BigInt(auxiliary), false);
  view.setUint32(28, parts.algorithm ?? 0, false);
  view.setBigUint64(104, BigInt(size), false);
  view.setBigUint64(112, BigInt(parts.rollbackIndex ?? 0), false);
  view.setUint32(120, parts.flags ?? 0, false);
  bytes.set(encode((parts.madeBy ?? "stand-in 1.0").slice(0, 47)), 128);
  let at = 256 + authentication;
  for (const d of descriptors) {
    bytes.set(d, at);
    at += d.length;
  }
  return bytes;
}

/** Bytes of header and blocks of a verification file: what stands behind it is not part of it. */
export function vbmetaSize(bytes: Uint8Array): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  return 256 + Number(view.getBigUint64(12, false)) + Number(view.getBigUint64(20, false));
}
