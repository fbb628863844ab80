/** The largest file FAT32 holds, bytes. @source Microsoft FAT specification, directory entry DIR_FileSize (32 bits) */
export const FAT32_MAX_FILE = 2 ** 32 - 1;

const SECTOR = 512;
const MiB = 1_048_576;
const GiB = 1024 * MiB;

/** Cards below this are refused by card updates. Common practice, no source. */
const SMALLEST_CARD = 4e9;
/** Cards above this were refused by some phones where a smaller one worked. Common practice, no source. */
const LARGEST_SURE_CARD = 8.1e9;

/**
 * Cluster size that formatting tools take for a volume.
 *
 * @source Microsoft FAT specification, table DskTableFAT32 (up to 260 MB: 512 bytes; 8 GB: 4 KiB; 16 GB: 8 KiB; 32 GB: 16 KiB)
 */
export function fat32Cluster(volume: number): number {
  if (volume <= 260 * MiB) return SECTOR;
  if (volume <= 8 * GiB) return 4096;
  if (volume <= 16 * GiB) return 8192;
  return volume <= 32 * GiB ? 16_384 : 32_768;
}

/**
 * Clusters that a FAT32 volume has for data.
 *
 * @param volume bytes of the volume
 * @source Microsoft FAT specification, "FAT Volume Initialization": 32 reserved sectors, two tables of 4 bytes a cluster
 */
export function fat32Clusters(volume: number, cluster = fat32Cluster(volume)): number {
  const sectors = Math.floor(volume / SECTOR);
  const perCluster = cluster / SECTOR;
  const half = (256 * perCluster + 2) / 2;
  const table = Math.ceil((sectors - 32) / half);
  return Math.max(0, Math.floor((sectors - 32 - 2 * table) / perCluster));
}

export interface CardFile {
  /** Folder at the root of the card; empty for the root itself. */
  readonly folder: string;
  readonly name: string;
  readonly bytes: number;
}

export interface CardPlan {
  readonly clusterBytes: number;
  readonly usableBytes: number;
  /** Files by card, in the order they are copied; several cards where one is too small. */
  readonly cards: readonly { readonly files: readonly CardFile[]; readonly takes: number; readonly left: number }[];
  /** Files that go on no card, each with its reason. */
  readonly refused: readonly { readonly file: CardFile; readonly says: string }[];
  /** What to mind about the card itself. */
  readonly mind: readonly string[];
}

const RESERVED = /^(con|prn|aux|nul|com[1-9]|lpt[1-9])(\.|$)/i;

/** What is wrong with a name on FAT32; null when it is good. @source Microsoft FAT specification, "Long Directory Entries" */
export function fatNameProblem(name: string): string | null {
  if (name.length === 0 || name.length > 255) return "A name has 1 to 255 characters";
  const bad = [...name].find((c) => '"*/:<>?\\|'.includes(c) || c < " ");
  if (bad) return `The name holds ${bad < " " ? "a control character" : `“${bad}”`}`;
  if (/[. ]$/.test(name)) return "The name ends with a dot or a blank";
  return RESERVED.test(name) ? "The name is reserved for a device of old computers" : null;
}

/**
 * Plans files onto FAT32 cards of one size: folder at the root, whole clusters, the largest first.
 *
 * @param capacity bytes as printed on the card (8 GB are 8,000,000,000)
 * @example planCards([], 8_000_000_000).cards // []
 */
export function planCards(files: readonly CardFile[], capacity: number): CardPlan {
  const cluster = fat32Cluster(capacity);
  const usable = fat32Clusters(capacity, cluster) * cluster;
  const takes = (file: CardFile) => Math.ceil(file.bytes / cluster) * cluster;
  const refused: CardPlan["refused"][number][] = [];
  const taken = new Set<string>();
  const good = files.filter((file) => {
    const path = `${file.folder}/${file.name}`.toLowerCase();
    const says =
      file.bytes > FAT32_MAX_FILE
        ? `It is larger than a file on FAT32 can be (${FAT32_MAX_FILE.toLocaleString("en")} bytes)`
        : takes(file) + 2 * cluster > usable
          ? "It is larger than the card"
          : (fatNameProblem(file.name) ?? (file.folder && fatNameProblem(file.folder))) ||
            (taken.has(path)
              ? "Another file has this name; FAT32 does not tell letters of different case apart"
              : null);
    taken.add(path);
    if (says) refused.push({ file, says });
    return !says;
  });
  const cards: { files: CardFile[]; takes: number; folders: Set<string> }[] = [];
  for (const file of [...good].sort((a, b) => b.bytes - a.bytes || (a.name < b.name ? -1 : 1))) {
    // A folder takes a cluster of its own, once on each card; so does the root.
    const more = (card: (typeof cards)[number]) =>
      takes(file) + (file.folder && !card.folders.has(file.folder) ? cluster : 0);
    let card = cards.find((c) => c.takes + more(c) <= usable);
    if (!card) {
      card = { files: [], takes: cluster, folders: new Set() };
      cards.push(card);
    }
    card.takes += more(card);
    card.folders.add(file.folder);
    card.files.push(file);
  }
  return {
    clusterBytes: cluster,
    usableBytes: usable,
    cards: cards.map((c) => ({ files: c.files, takes: c.takes, left: usable - c.takes })),
    refused,
    mind: [
      ...(capacity < SMALLEST_CARD ? ["Card updates want a card of 4 GB or more"] : []),
      ...(capacity > LARGEST_SURE_CARD
        ? ["Some phones refuse cards of 16 GB and more: try one of 8 GB before giving up"]
        : []),
      "Format it as FAT32; the folder stands at the root of the card, not inside another",
    ],
  };
}
