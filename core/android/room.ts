import { z } from "zod";

const Bytes = z.number().int().min(0).max(Number.MAX_SAFE_INTEGER);

/** Partitions of one device with their sizes, as far as its own words tell. */
export const PartitionRoom = z.strictObject({
  from: z.enum(["getvar", "layout-text", "super-file"]),
  partitions: z
    .array(
      z.strictObject({
        name: z.string().max(80),
        bytes: Bytes,
        /** Inside the super partition, so that it can be resized. */
        logical: z.boolean(),
        group: z.string().max(80).nullable(),
      }),
    )
    .max(500),
  groups: z.array(z.strictObject({ name: z.string().max(80), maximum: Bytes.nullable() })).max(100),
  /** Size of the super partition; null where there is none, or it is not told. */
  superBytes: Bytes.nullable(),
});
export type PartitionRoom = z.infer<typeof PartitionRoom>;

const SECTOR = 512;
/** What the layout itself takes at the beginning of the super partition. @source AOSP liblp, `LP_PARTITION_RESERVED_BYTES` and metadata slots; a megabyte covers it */
const LAYOUT = 1_048_576;

/** Sizes are hexadecimal, with or without 0x. */
const sizeOf = (text: string) => Number.parseInt(text, 16);

/**
 * Sizes out of `fastboot getvar all`.
 *
 * @source AOSP fastboot README: `partition-size:<name>` in hexadecimal, `is-logical:<name>`
 */
function readGetvar(text: string): PartitionRoom | null {
  const sizes = new Map<string, number>();
  const logical = new Set<string>();
  for (const [, kind, name, value] of text.matchAll(
    /^(?:\(bootloader\)|INFO|[>\s])*\s*(partition-size|is-logical):([\w-]{1,80}):\s*(\w{1,20})\s*$/gm,
  )) {
    if (kind === "is-logical") {
      if (value === "yes") logical.add(name);
    } else if (Number.isSafeInteger(sizeOf(value))) sizes.set(name, sizeOf(value));
  }
  if (sizes.size === 0) return null;
  return {
    from: "getvar",
    partitions: [...sizes]
      .filter(([name]) => name !== "super")
      .slice(0, 500)
      .map(([name, bytes]) => ({ name, bytes, logical: logical.has(name), group: null })),
    groups: [],
    superBytes: sizes.get("super") ?? null,
  };
}

/**
 * Sizes out of the text that the platform's layout tool prints.
 *
 * @source AOSP `lpdump`: sections "Partition table", "Block device table", "Group table"; extents in sectors of 512 bytes
 */
function readLayoutText(text: string): PartitionRoom | null {
  const room: PartitionRoom = { from: "layout-text", partitions: [], groups: [], superBytes: null };
  let section = "";
  for (const original of text.split(/\r?\n/).slice(0, 20_000)) {
    const line = original.trim();
    const head = /^(Partition table|Super partition layout|Block device table|Group table):?$/.exec(line);
    if (head) section = head[1];
    const [, key, value] = /^([A-Z][\w ]*): +(.+)$/.exec(line) ?? [];
    if (section === "Partition table") {
      const last = room.partitions.at(-1);
      const extent = /^(\d+) \.\. (\d+) \w+/.exec(line);
      if (key === "Name") room.partitions.push({ name: value.slice(0, 80), bytes: 0, logical: true, group: null });
      else if (key === "Group" && last) last.group = value.slice(0, 80);
      else if (extent && last) last.bytes += (Number(extent[2]) - Number(extent[1]) + 1) * SECTOR;
    } else if (section === "Block device table" && key === "Size") {
      room.superBytes = (room.superBytes ?? 0) + (Number.parseInt(value, 10) || 0);
    } else if (section === "Group table") {
      if (key === "Name") room.groups.push({ name: value.slice(0, 80), maximum: null });
      const last = room.groups.at(-1);
      if (key === "Maximum size" && last) last.maximum = Number.parseInt(value, 10) || null;
    }
  }
  const read = PartitionRoom.safeParse(room);
  return read.success && room.partitions.length > 0 ? read.data : null;
}

/**
 * Reads pasted text of either kind; null when it tells no size of a partition.
 *
 * @example readRoom("(bootloader) partition-size:system_a: 0x10000000")?.partitions[0].bytes // 268435456
 */
export function readRoom(text: string): PartitionRoom | null {
  return /^Partition table:?\s*$/m.test(text) ? readLayoutText(text) : readGetvar(text);
}

/**
 * Room told by a super layout.
 *
 * @example roomOfSuper({ bytes: 100, partitions: [], groups: [] }).partitions // []
 */
export function roomOfSuper(layout: {
  readonly bytes: number;
  readonly partitions: readonly { readonly name: string; readonly group: string; readonly bytes: number }[];
  readonly groups: readonly { readonly name: string; readonly maximum: number | null }[];
}): PartitionRoom {
  return {
    from: "super-file",
    partitions: layout.partitions.slice(0, 500).map((p) => ({ ...p, logical: true })),
    groups: layout.groups.slice(0, 100).map((g) => ({ ...g })),
    superBytes: layout.bytes,
  };
}

/** What may be removed to make room for a generic image, the least missed first. Common practice, no source. */
export const REMOVABLE = ["product", "system_ext"] as const;

const find = (room: PartitionRoom, name: string) => room.partitions.find((p) => p.name === name);

/**
 * Ending of the partition names of a slot: "" where there is one slot.
 *
 * @param current the device's current slot; where it is not known, the slot whose system is the larger
 * @example slotEnding({ from: "getvar", partitions: [{ name: "system_a", bytes: 1, logical: true, group: null }], groups: [], space: null }, "b") // "_b"
 */
export function slotEnding(room: PartitionRoom, current: "a" | "b" | null): string {
  if (find(room, "system")) return "";
  if (current) return `_${current}`;
  return (find(room, "system_b")?.bytes ?? 0) > (find(room, "system_a")?.bytes ?? 0) ? "_b" : "_a";
}

/**
 * Bytes the system partition can grow to.
 *
 * @param without partitions that are removed first
 * @returns null when the text does not tell of a system partition
 * @example systemRoom({ from: "getvar", partitions: [{ name: "system", bytes: 5, logical: false, group: null }], groups: [], space: null }, "") // 5
 */
export function systemRoom(room: PartitionRoom, ending: string, without: readonly string[] = []): number | null {
  const system = find(room, `system${ending}`);
  if (!system) return null;
  if (!system.logical) return system.bytes;
  const rest = room.partitions.filter((p) => p.logical && p !== system && !without.includes(p.name));
  const sum = (list: readonly { readonly bytes: number }[]) => list.reduce((total, p) => total + p.bytes, 0);
  const limits: number[] = [];
  const maximum = room.groups.find((g) => g.name === system.group)?.maximum;
  if (maximum) limits.push(maximum - sum(rest.filter((p) => p.group === system.group)));
  if (room.superBytes) limits.push(room.superBytes - LAYOUT - sum(rest));
  // Neither group nor super is told: what is there now, and what is removed, is what can be counted on.
  if (limits.length === 0)
    limits.push(system.bytes + sum(room.partitions.filter((p) => p.logical && without.includes(p.name))));
  return Math.max(0, Math.min(...limits));
}

export interface RoomAnswer {
  readonly is: "fits" | "fits-after" | "does-not-fit" | "unknown";
  /** Partitions to remove first, with the slot's ending. */
  readonly remove: readonly string[];
  /** Room after that, bytes. */
  readonly room: number;
  /** Bytes that are missing even then; 0 when it fits. */
  readonly missing: number;
  readonly says: string;
}

// Rounded against us: what is missing up, what is to spare down.
const mib = (bytes: number) => `${Math.ceil(bytes / 1_048_576).toLocaleString("en")} MiB`;
const spare = (bytes: number) => `${Math.floor(bytes / 1_048_576).toLocaleString("en")} MiB to spare`;

/**
 * Does an image fit the system partition: as it is, after something is removed, or not by how much.
 *
 * @param expanded size of the image on the partition, bytes
 * @example fitRoom({ from: "getvar", partitions: [{ name: "system", bytes: 5, logical: false, group: null }], groups: [], space: null }, "", 4).is // "fits"
 */
export function fitRoom(room: PartitionRoom, ending: string, expanded: number): RoomAnswer {
  const now = systemRoom(room, ending);
  if (now === null)
    return { is: "unknown", remove: [], room: 0, missing: 0, says: "The read-out tells no system partition" };
  if (expanded <= now) return { is: "fits", remove: [], room: now, missing: 0, says: `Fits, ${spare(now - expanded)}` };
  const remove: string[] = [];
  let best = now;
  for (const name of REMOVABLE) {
    const partition = find(room, `${name}${ending}`);
    if (!partition?.logical || partition.bytes === 0) continue;
    remove.push(partition.name);
    best = systemRoom(room, ending, remove) ?? best;
    if (expanded <= best)
      return {
        is: "fits-after",
        remove,
        room: best,
        missing: 0,
        says: `Fits after removing ${remove.join(" and ")}, ${spare(best - expanded)}`,
      };
  }
  return {
    is: "does-not-fit",
    remove: [],
    room: best,
    missing: expanded - best,
    says: `Does not fit by ${mib(expanded - best)}${remove.length ? `, even after removing ${remove.join(" and ")}` : ""}`,
  };
}

/**
 * What to mind about a layout, beside its sizes.
 *
 * @example roomCautions({ from: "getvar", partitions: [], groups: [], space: null }) // []
 */
export function roomCautions(room: PartitionRoom): string[] {
  const has = (ending: string) => room.partitions.some((p) => p.name.endsWith(ending) && p.bytes > 0 && p.logical);
  return [
    ...(room.partitions.some((p) => /-cow$/.test(p.name))
      ? [
          "An update over the air is not merged yet (partitions that end with -cow): start the phone, let it finish, read again",
        ]
      : []),
    ...(has("_a") && has("_b") ? ["Both slots hold a system: each takes its share of the super partition"] : []),
    ...(room.from === "getvar" && room.superBytes === null && room.partitions.some((p) => p.logical)
      ? ["The bootloader does not tell the size of super: only what is there now is counted. A layout file tells more"]
      : []),
  ];
}
