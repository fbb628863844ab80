import { sha256 } from "hash-wasm";
import { Fields, hex } from "../fields";
import { FileReadError } from "../readError";
import { type Finding, type SuperContent, TELLS_NOTHING } from "../report";
import { readAll, type Source } from "../source";

const GEOMETRY = 0x616c4467;
const HEADER = 0x414c5030;
/** Bytes that are left free before the geometry on a device, and the room of each geometry block. */
const RESERVED = 4096;
const GEOMETRY_ROOM = 4096;
const SECTOR = 512;
const MAX_TABLES = 1_048_576;

/**
 * Where the geometry stands: 4096 on a device or in a full super image, 0 in a file that holds the layout only; null when
 * there is none.
 */
export async function geometryAt(source: Source): Promise<number | null> {
  for (const at of [RESERVED, 0, RESERVED + GEOMETRY_ROOM]) {
    const magic = await source.read(at, 4);
    if (magic.length === 4 && new DataView(magic.buffer, magic.byteOffset).getUint32(0, true) === GEOMETRY)
      return at === 0 ? 0 : RESERVED;
  }
  return null;
}

interface Table {
  readonly at: number;
  readonly count: number;
  readonly each: number;
}

/** A layout, and how far into the super partition what it promises reaches, bytes. */
interface Layout {
  readonly content: SuperContent;
  readonly reaches: number;
}

/** A layout, and whether it had to be read from its second copy. */
interface OpenSuper extends Layout {
  readonly fromBackup: boolean;
}

/**
 * Reads the layout of a super partition: groups, logical partitions with their sizes, slots. Checksums are checked; where the
 * first copy of geometry or metadata is damaged, the backup is read.
 *
 * @throws FileReadError when both copies are damaged: what is wrong with the first one
 * @source AOSP liblp, `metadata_format.h`, versions 10.0 to 10.2; `utility.cpp` for the places of the backups
 */
export async function openSuper(source: Source): Promise<OpenSuper> {
  const at = await geometryAt(source);
  if (at === null) throw new FileReadError("not-this", "This holds no layout of a super partition");
  // In a layout-only file: one geometry, one metadata.
  if (at === 0)
    return { ...(await metadataAt(source, await readGeometry(source, 0), RESERVED)), reaches: 0, fromBackup: false };
  let wrong: FileReadError | null = null;
  const attempt = async <T>(work: () => Promise<T>): Promise<T | null> => {
    try {
      return await work();
    } catch (error) {
      if (!(error instanceof FileReadError)) throw error;
      wrong ??= error;
      return null;
    }
  };
  const first = await attempt(() => readGeometry(source, RESERVED));
  const geometry = first ?? (await attempt(() => readGeometry(source, RESERVED + GEOMETRY_ROOM)));
  // On a device: geometry, its backup, the metadata of each slot, then the backup of each.
  const begin = RESERVED + 2 * GEOMETRY_ROOM;
  if (geometry)
    for (const [n, place] of [begin, begin + geometry.maxSize * geometry.slots].entries()) {
      const layout = await attempt(() => metadataAt(source, geometry, place));
      if (layout) return { ...layout, fromBackup: first === null || n > 0 };
    }
  throw wrong ?? new FileReadError("damaged", "The super metadata is damaged");
}

export const readSuper = async (source: Source): Promise<SuperContent> => (await openSuper(source)).content;

interface Geometry {
  readonly maxSize: number;
  readonly slots: number;
}

async function readGeometry(source: Source, at: number): Promise<Geometry> {
  const g = new Fields(await readAll(source, at, 52, "the super geometry"), true, "the super geometry");
  if (g.u32(0) !== GEOMETRY || g.u32(4) !== 52) throw new FileReadError("damaged", "The super geometry is damaged");
  const zeroed = g.bytes.slice();
  zeroed.fill(0, 8, 40);
  if ((await sha256(zeroed)) !== hex(g.part(8, 32)))
    throw new FileReadError("damaged", "The super geometry does not agree with its checksum: the file is damaged");
  const [maxSize, slots] = [g.u32(40), g.u32(44)];
  if (maxSize === 0 || maxSize > MAX_TABLES || slots === 0 || slots > 64)
    throw new FileReadError("damaged", "The super geometry says impossible sizes");
  return { maxSize, slots };
}

async function metadataAt(source: Source, { slots }: Geometry, metadata: number): Promise<Layout> {
  const fixed = new Fields(await readAll(source, metadata, 128, "the super metadata"), true, "the super metadata");
  if (fixed.u32(0) !== HEADER) throw new FileReadError("damaged", "The super metadata is missing behind its geometry");
  if (fixed.u16(4) !== 10)
    throw new FileReadError("not-supported", `The super metadata has version ${fixed.u16(4)}; 10 is known here`);
  const [headerSize, tablesSize] = [fixed.u32(8), fixed.u32(44)];
  if (headerSize < 128 || headerSize > 4096 || tablesSize > MAX_TABLES)
    throw new FileReadError("damaged", "The super metadata says impossible sizes");
  const header = (await readAll(source, metadata, headerSize, "the super metadata")).slice();
  const headerSum = hex(header.subarray(12, 44));
  header.fill(0, 12, 44);
  const tables = new Fields(
    await readAll(source, metadata + headerSize, tablesSize, "the super tables"),
    true,
    "the super tables",
  );
  if ((await sha256(header)) !== headerSum || (await sha256(tables.bytes)) !== hex(fixed.part(48, 32)))
    throw new FileReadError("damaged", "The super metadata does not agree with its checksum: the file is damaged");
  const table = (n: number): Table => {
    const from = 80 + n * 12;
    return { at: fixed.u32(from), count: fixed.u32(from + 4), each: fixed.u32(from + 8) };
  };
  return layoutOf(tables, [table(0), table(1), table(2), table(3)], slots);
}

function layoutOf(t: Fields, [partitions, extents, groups, devices]: Table[], slots: number): Layout {
  for (const { count, each } of [partitions, extents, groups, devices])
    if (count > 4096 || (count > 0 && each < 24)) throw new FileReadError("damaged", "The super tables are damaged");
  const row = (table: Table, i: number) => table.at + i * table.each;
  const groupNames = Array.from({ length: groups.count }, (_, i) => ({
    name: t.text(row(groups, i), 36),
    maximum: t.u64(row(groups, i) + 40) || null,
  }));
  let reaches = 0;
  for (let e = 0; e < extents.count; e++) {
    const from = row(extents, e);
    // Of the target types only the linear one (0) has a place; what lies on a second device is in another file.
    if (t.u32(from + 8) === 0 && t.u32(from + 20) === 0)
      reaches = Math.max(reaches, (t.u64(from + 12) + t.u64(from)) * SECTOR);
  }
  const content: SuperContent = {
    kind: "super",
    bytes: Array.from({ length: devices.count }, (_, i) => t.u64(row(devices, i) + 16)).reduce((a, b) => a + b, 0),
    slots,
    partitions: Array.from({ length: partitions.count }, (_, i) => {
      const from = row(partitions, i);
      const [first, many, group] = [t.u32(from + 40), t.u32(from + 44), t.u32(from + 48)];
      if (first + many > extents.count || group >= groups.count)
        throw new FileReadError("damaged", "A partition of the super metadata points nowhere");
      let bytes = 0;
      for (let e = first; e < first + many; e++) bytes += t.u64(row(extents, e)) * SECTOR;
      return { name: t.text(from, 36), group: groupNames[group].name, bytes };
    }),
    groups: groupNames,
  };
  return { content, reaches };
}

/** Tells a super image or layout file. */
export async function tellSuper(source: Source): Promise<Finding> {
  const { content, reaches, fromBackup } = await openSuper(source);
  const used = content.partitions.reduce((sum, p) => sum + p.bytes, 0);
  return {
    says: `Layout of a super partition: ${content.partitions.length} logical partitions, ${Math.round(used / 1_048_576)} of ${Math.round(content.bytes / 1_048_576)} MiB taken.${fromBackup ? " Its first copy is damaged: this was read from the backup." : ""}`,
    whole: fromBackup
      ? { is: "no", says: "The first copy of its layout is damaged; the backup agrees with its checksums" }
      : reaches > source.size
        ? {
            is: "no",
            says: `Its partitions reach to byte ${reaches}, the file has ${source.size}: it was cut short, or holds the layout of a device and not its content`,
          }
        : { is: "yes", says: "The layout agrees with its checksums; the partitions' own content is not checked" },
    expanded: null,
    told: { ...TELLS_NOTHING, partition: "super" },
    content,
  };
}
