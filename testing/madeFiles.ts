import { sha256 } from "hash-wasm";

/*
 * Files made byte by byte from the published formats, for the tests: what no Debian program writes.
 */

const bytesOfHex = (text: string) => Uint8Array.from(text.match(/../g) ?? [], (b) => Number.parseInt(b, 16));

export interface SuperToMake {
  readonly bytes: number;
  readonly groups: readonly { readonly name: string; readonly maximum: number }[];
  /** Sizes in whole sectors of 512 bytes. */
  readonly partitions: readonly { readonly name: string; readonly group: number; readonly bytes: number }[];
}

/**
 * Layout of a super partition: with the room before it as on a device, or as a file that holds the layout only.
 *
 * @source AOSP liblp, `metadata_format.h`, version 10.0
 */
export async function makeSuper({ bytes, groups, partitions }: SuperToMake, layoutOnly = false): Promise<Uint8Array> {
  const geometry = new Uint8Array(52);
  const g = new DataView(geometry.buffer);
  g.setUint32(0, 0x616c4467, true);
  g.setUint32(4, 52, true);
  g.setUint32(40, 65_536, true);
  g.setUint32(44, 2, true);
  g.setUint32(48, 4096, true);
  geometry.set(bytesOfHex(await sha256(geometry)), 8);

  const [extents, sizes] = [partitions.filter((p) => p.bytes > 0), { p: 52, e: 24, g: 48, d: 64 }];
  const at = {
    p: 0,
    e: partitions.length * sizes.p,
    g: partitions.length * sizes.p + extents.length * sizes.e,
    d: partitions.length * sizes.p + extents.length * sizes.e + groups.length * sizes.g,
  };
  const tables = new Uint8Array(at.d + sizes.d);
  const t = new DataView(tables.buffer);
  const name = (text: string, to: number) => tables.set(new TextEncoder().encode(text).subarray(0, 36), to);
  let sector = 2048;
  partitions.forEach((p, i) => {
    const from = at.p + i * sizes.p;
    name(p.name, from);
    t.setUint32(from + 40, Math.max(0, extents.indexOf(p)), true);
    t.setUint32(from + 44, p.bytes > 0 ? 1 : 0, true);
    t.setUint32(from + 48, p.group, true);
  });
  extents.forEach((p, i) => {
    const from = at.e + i * sizes.e;
    t.setBigUint64(from, BigInt(p.bytes / 512), true);
    t.setBigUint64(from + 12, BigInt(sector), true);
    sector += p.bytes / 512;
  });
  groups.forEach(({ name: text, maximum }, i) => {
    name(text, at.g + i * sizes.g);
    t.setBigUint64(at.g + i * sizes.g + 40, BigInt(maximum), true);
  });
  t.setBigUint64(at.d, 2048n, true);
  t.setBigUint64(at.d + 16, BigInt(bytes), true);
  name("super", at.d + 24);

  const header = new Uint8Array(128);
  const h = new DataView(header.buffer);
  h.setUint32(0, 0x414c5030, true);
  h.setUint16(4, 10, true);
  h.setUint32(8, 128, true);
  h.setUint32(44, tables.length, true);
  header.set(bytesOfHex(await sha256(tables)), 48);
  [
    [at.p, partitions.length, sizes.p],
    [at.e, extents.length, sizes.e],
    [at.g, groups.length, sizes.g],
    [at.d, 1, sizes.d],
  ].forEach((row, i) => {
    row.forEach((value, j) => {
      h.setUint32(80 + i * 12 + j * 4, value, true);
    });
  });
  header.set(bytesOfHex(await sha256(header)), 12);

  const begin = layoutOnly ? 0 : 4096;
  const metadata = layoutOnly ? 4096 : 12_288;
  const out = new Uint8Array(metadata + 65_536);
  out.set(geometry, begin);
  if (!layoutOnly) out.set(geometry, 8192);
  out.set(header, metadata);
  out.set(tables, metadata + 128);
  return out;
}

/** A boot image of header version 4: 4096 bytes of header, kernel, ramdisk, signature. */
export function makeBoot4(kernel: number, ramdisk: number, signature: number, osVersion: number): Uint8Array {
  const page = (n: number) => Math.ceil(n / 4096) * 4096;
  const bytes = new Uint8Array(4096 + page(kernel) + page(ramdisk) + page(signature));
  const view = new DataView(bytes.buffer);
  bytes.set(new TextEncoder().encode("ANDROID!"));
  view.setUint32(8, kernel, true);
  view.setUint32(12, ramdisk, true);
  view.setUint32(16, osVersion, true);
  view.setUint32(20, 1584, true);
  view.setUint32(40, 4, true);
  bytes.set(new TextEncoder().encode("quiet"), 44);
  view.setUint32(1580, signature, true);
  return bytes;
}

/** A partition image with a verification footer at its end. */
export function withFooter(image: Uint8Array, vbmeta: Uint8Array, total: number): Uint8Array {
  const bytes = new Uint8Array(total);
  bytes.set(image);
  const at = Math.ceil(image.length / 4096) * 4096;
  bytes.set(vbmeta, at);
  const footer = new DataView(bytes.buffer, total - 64);
  bytes.set(new TextEncoder().encode("AVBf"), total - 64);
  footer.setUint32(4, 1, false);
  footer.setBigUint64(12, BigInt(image.length), false);
  footer.setBigUint64(20, BigInt(at), false);
  footer.setBigUint64(28, BigInt(vbmeta.length), false);
  return bytes;
}

/** A device-tree overlay table with entries and no data. */
export function makeDtbo(entries: number, total: number): Uint8Array {
  const bytes = new Uint8Array(total);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, 0xd7b7ab1e, false);
  view.setUint32(4, total, false);
  view.setUint32(16, entries, false);
  return bytes;
}
