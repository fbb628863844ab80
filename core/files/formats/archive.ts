import { hasText } from "../fields";
import { type Finding, TELLS_NOTHING } from "../report";

interface Archive {
  readonly name: string;
  /** What unpacks it on the computer. */
  readonly unpack: string;
  readonly is: (head: Uint8Array) => boolean;
}

const begins =
  (...bytes: number[]) =>
  (head: Uint8Array) =>
    bytes.every((b, i) => head[i] === b);

/**
 * LZMA alone has no mark of its own. What xz's own library takes for it: properties below 225, a dictionary of 2^n or
 * 2^n + 2^(n-1) bytes, and an unpacked size that is not told or below 256 GiB.
 *
 * @source liblzma, `alone_decoder.c` ("picky")
 */
function isLzma(head: Uint8Array): boolean {
  if (head.length < 13 || head[0] >= 225) return false;
  const view = new DataView(head.buffer, head.byteOffset, 13);
  const dictionary = view.getUint32(1, true);
  const ones = dictionary.toString(2).replace(/0+$/, "");
  if (dictionary < 4096 || (ones !== "1" && ones !== "11")) return false;
  const size = view.getBigUint64(5, true);
  return size === 0xffff_ffff_ffff_ffffn || (size > 0n && size < 1n << 38n);
}

/**
 * Ways of packing that are known by their first bytes, and not unpacked here.
 *
 * @source LZ4 Frame Format Description 1.6.4; RFC 8878 (Zstandard), section 3.1.1; 7-Zip, 7zFormat.txt; bzip2 and RAR: from memory
 */
const ARCHIVES: readonly Archive[] = [
  { name: "lz4", unpack: "lz4 -d", is: begins(0x04, 0x22, 0x4d, 0x18) },
  { name: "lz4, in the older form the kernel uses", unpack: "lz4 -d", is: begins(0x02, 0x21, 0x4c, 0x18) },
  { name: "Zstandard", unpack: "zstd -d", is: begins(0x28, 0xb5, 0x2f, 0xfd) },
  {
    name: "bzip2",
    unpack: "bunzip2",
    // "BZh", the block size, and the first block's own mark or the end's.
    is: (head) =>
      hasText(head, 0, "BZh") && head[3] >= 0x31 && head[3] <= 0x39 && (head[4] === 0x31 || head[4] === 0x17),
  },
  { name: "7z", unpack: "7z x", is: begins(0x37, 0x7a, 0xbc, 0xaf, 0x27, 0x1c) },
  { name: "LZMA, the older form of xz", unpack: "xz -d", is: isLzma },
  { name: "RAR", unpack: "a program for RAR", is: (head) => hasText(head, 0, "Rar!") && head[4] === 0x1a },
];

/** Tells a file that is packed in a way that is not unpacked here; null for all others. */
export function tellArchive(head: Uint8Array, name: string): Finding | null {
  const archive = ARCHIVES.find((a) => a.is(head)) ?? null;
  // Brotli has no mark of its own: only the name tells.
  const brotli = archive === null && /\.br$/i.test(name);
  if (!archive && !brotli) return null;
  const how = archive ? `with ${archive.name}` : "with Brotli, by its name";
  return {
    says: `Packed ${how}; what is inside is not looked at here. Unpack it on the computer (${archive?.unpack ?? "brotli -d"}) and drop what comes out.`,
    whole: { is: "unknown", says: "Only its digest or unpacking tells" },
    expanded: null,
    told: TELLS_NOTHING,
    content: {
      kind: "unknown",
      begins: Array.from(head.subarray(0, 16), (b) => b.toString(16).padStart(2, "0")).join(" "),
    },
  };
}
