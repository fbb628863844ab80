import { Fields, hasText } from "../fields";
import { FileReadError } from "../readError";
import type { Finding } from "../report";
import { TELLS_NOTHING } from "../report";
import { readAll, type Source } from "../source";

export const isBoot = (head: Uint8Array): boolean => hasText(head, 0, "ANDROID!");
export const isVendorBoot = (head: Uint8Array): boolean => hasText(head, 0, "VNDRBOOT");

/**
 * Release and patch month out of the `os_version` field.
 *
 * @param field 11 bits of release (three times 7 bits, highest first), 11 bits of patch (7 of years since 2000, 4 of month)
 * @example osVersion((11 << 25) | (21 << 4) | 5) // { release: "11", patch: "2021-05" }
 */
export function osVersion(field: number): { readonly release: string | null; readonly patch: string | null } {
  const version = field >>> 11;
  const [a, b, c] = [version >>> 14, (version >>> 7) & 127, version & 127];
  const month = field & 15;
  // From Android 10 on the release is one number; before, Settings shows as many parts as are not zero.
  const release = a === 0 ? null : c ? `${a}.${b}.${c}` : a < 9 ? `${a}.${b}` : `${a}`;
  return {
    release,
    patch: month >= 1 && month <= 12 ? `${2000 + ((field >>> 4) & 127)}-${`${month}`.padStart(2, "0")}` : null,
  };
}

const pages = (bytes: number, page: number) => Math.ceil(bytes / page) * page;

/**
 * Reads the header of a boot or recovery image, versions 0 to 4.
 *
 * @source AOSP "Boot image header", and `bootimg.h`
 */
export async function readBoot(source: Source): Promise<Finding> {
  const h = new Fields(await readAll(source, 0, 1660, "the boot header"), true, "the boot header");
  // Before versions, some makers kept the size of a device tree in that place: it stands behind the other parts.
  const field = h.u32(40);
  const tree = field > 4 && field <= source.size && h.u32(8) < source.size ? field : 0;
  const version = tree ? 0 : field;
  if (version > 4)
    throw new FileReadError("not-supported", `The boot header has version ${version}; 0 to 4 are known here`);
  const late = version >= 3;
  const pageSize = late ? 4096 : h.u32(36);
  if (![2048, 4096, 8192, 16_384].includes(pageSize))
    throw new FileReadError("damaged", `The boot header is damaged: pages of ${pageSize} bytes`);
  const kernel = h.u32(8);
  const ramdisk = late ? h.u32(12) : h.u32(16);
  const os = osVersion(late ? h.u32(16) : h.u32(44));
  const more = late
    ? version === 4
      ? [h.u32(1580)]
      : []
    : [h.u32(24), tree, version >= 1 ? h.u32(1632) : 0, version >= 2 ? h.u32(1648) : 0];
  const commandLine = late ? h.text(44, 1536) : h.text(64, 512) + h.text(608, 1024);
  return {
    says: `Boot or recovery image, header version ${version}${os.release ? `, Android ${os.release}` : ""}${os.patch ? `, security patch ${os.patch}` : ""}.`,
    whole: wholeness(source.size, pageSize, [kernel, ramdisk, ...more], pageSize),
    expanded: null,
    told: { ...TELLS_NOTHING, release: os.release, patch: os.patch, partition: kernel === 0 ? "init_boot" : "boot" },
    content: {
      kind: "boot",
      vendor: false,
      headerVersion: version,
      pageSize,
      kernel,
      ramdisk,
      commandLine,
      board: late ? "" : h.text(48, 16),
    },
  };
}

/** Reads the header of a vendor_boot image, versions 3 and 4. */
export async function readVendorBoot(source: Source): Promise<Finding> {
  const h = new Fields(await readAll(source, 0, 2112, "the vendor boot header"), true, "the vendor boot header");
  const version = h.u32(8);
  const pageSize = h.u32(12);
  if (version !== 3 && version !== 4)
    throw new FileReadError("not-supported", `The vendor boot header has version ${version}; 3 and 4 are known here`);
  if (![2048, 4096, 8192, 16_384].includes(pageSize))
    throw new FileReadError("damaged", `The vendor boot header is damaged: pages of ${pageSize} bytes`);
  const ramdisk = h.u32(24);
  const parts = [h.u32(2096), ramdisk, h.u32(2100)];
  if (version === 4) {
    const v4 = new Fields(await readAll(source, 2112, 16, "the vendor boot header"), true, "the vendor boot header");
    parts.push(v4.u32(0), v4.u32(12));
  }
  return {
    says: `Vendor boot image, header version ${version}. It tells neither release nor patch: it must come from the same build as the boot image.`,
    whole: wholeness(source.size, 0, parts, pageSize),
    expanded: null,
    told: { ...TELLS_NOTHING, partition: "vendor_boot" },
    content: {
      kind: "boot",
      vendor: true,
      headerVersion: version,
      pageSize,
      kernel: 0,
      ramdisk,
      commandLine: h.text(28, 2048),
      board: h.text(2080, 16),
    },
  };
}

/**
 * Every byte that the header names must be there. Padding behind the last part holds nothing, but who writes such images writes
 * it: a file that ends inside it may have been cut short.
 *
 * @param begin where the first part begins, bytes
 * @param parts their sizes in their order, bytes; 0 for one that is not there
 */
function wholeness(size: number, begin: number, parts: readonly number[], pageSize: number): Finding["whole"] {
  let needs = begin;
  let at = begin;
  for (const bytes of parts) {
    if (bytes > 0) needs = at + bytes;
    at += pages(bytes, pageSize);
  }
  if (size < needs)
    return { is: "no", says: `The header names parts of ${needs} bytes, the file has ${size}: it was cut short` };
  if (size < at)
    return {
      is: "unknown",
      says: `Every part that the header names is there, but the last page ends ${at - size} bytes early: cut short, or made without padding. A digest can tell`,
    };
  return { is: "yes", says: "Every part that the header names is there" };
}
