import { BinaryReader, type WireType } from "@bufbuild/protobuf/wire";
import { sha256 } from "hash-wasm";
import { Fields, hasText, hex } from "../fields";
import { FileReadError } from "../readError";
import { type Finding, type PayloadContent, TELLS_NOTHING } from "../report";
import { readAll, type Source } from "../source";
import { unpackBzip2, unpackXz } from "./unpack";

/** The most that is taken out as one partition, bytes: verification files, boot and overlay images are far smaller. */
export const MAX_TAKEN = 100 * 1_048_576;
const MAX_MANIFEST = 64 * 1_048_576;
const HEADER = 24;

/** Operation types that need nothing but the payload itself. */
const ALONE: Record<number, "replace" | "bzip2" | "xz" | "zero"> = {
  0: "replace",
  1: "bzip2",
  6: "zero",
  7: "zero",
  8: "xz",
};

interface Operation {
  readonly type: number;
  readonly offset: number;
  readonly length: number;
  /** Where it writes: first block and count. */
  readonly to: readonly (readonly [number, number])[];
  readonly digest: string | null;
}

export interface PayloadPartition {
  readonly name: string;
  readonly bytes: number;
  readonly digest: string;
  readonly operations: readonly Operation[];
}

export interface Payload {
  readonly blockSize: number;
  /** Carries whole partitions; else only differences to what is installed. */
  readonly full: boolean;
  readonly partitions: readonly PayloadPartition[];
  readonly groups: readonly { readonly name: string; readonly maximum: number | null; readonly partitions: string[] }[];
  readonly patch: string | null;
  /** Where the data of the operations begins. */
  readonly dataAt: number;
}

export const isPayload = (head: Uint8Array): boolean => hasText(head, 0, "CrAU");

const whole = (value: bigint | string): number => {
  const number = Number(value);
  if (!Number.isSafeInteger(number) || number < 0)
    throw new FileReadError("damaged", "A number in the payload is impossible: the file is damaged");
  return number;
};

type Take = (reader: BinaryReader, wire: WireType) => void;

/** Walks the fields of one message; fields that are not asked for are skipped. */
function walk(bytes: Uint8Array, fields: Readonly<Record<number, Take>>) {
  const reader = new BinaryReader(bytes);
  while (reader.pos < reader.len) {
    const [field, wire] = reader.tag();
    const take = fields[field];
    if (take) take(reader, wire);
    else reader.skip(wire, field);
  }
}

function readOperation(bytes: Uint8Array): Operation {
  const o = { type: 0, offset: 0, length: 0, to: [] as [number, number][], digest: null as string | null };
  walk(bytes, {
    1: (r) => {
      o.type = r.int32();
    },
    2: (r) => {
      o.offset = whole(r.uint64());
    },
    3: (r) => {
      o.length = whole(r.uint64());
    },
    6: (r) => {
      const extent: [number, number] = [0, 0];
      walk(r.bytes(), {
        1: (e) => {
          extent[0] = whole(e.uint64());
        },
        2: (e) => {
          extent[1] = whole(e.uint64());
        },
      });
      o.to.push(extent);
    },
    8: (r) => {
      o.digest = hex(r.bytes());
    },
  });
  return o;
}

function readPartition(bytes: Uint8Array): PayloadPartition {
  const p = { name: "", bytes: 0, digest: "", operations: [] as Operation[] };
  walk(bytes, {
    1: (r) => {
      p.name = r.string().slice(0, 120);
    },
    7: (r) =>
      walk(r.bytes(), {
        1: (i) => {
          p.bytes = whole(i.uint64());
        },
        2: (i) => {
          p.digest = hex(i.bytes());
        },
      }),
    8: (r) => p.operations.push(readOperation(r.bytes())),
  });
  return p;
}

/**
 * Reads the manifest of an update payload: which partitions it brings and from where in the file.
 *
 * @throws FileReadError when it is none, damaged, or cut short inside the manifest
 * @source AOSP update_engine: `payload_metadata.cc` (major version 2: 24-byte big-endian header) and
 *         `update_metadata.proto` (DeltaArchiveManifest)
 */
export async function readPayload(source: Source): Promise<Payload> {
  const h = new Fields(await readAll(source, 0, HEADER, "the payload header"), false, "the payload header");
  if (!isPayload(h.bytes)) throw new FileReadError("not-this", "This is not an update payload");
  if (h.u64(4) !== 2) throw new FileReadError("not-supported", `The payload has version ${h.u64(4)}; 2 is known here`);
  const [size, signature] = [h.u64(12), h.u32(20)];
  if (size > MAX_MANIFEST) throw new FileReadError("damaged", "The payload says an impossible manifest");
  const manifest = await readAll(source, HEADER, size, "the payload's manifest");
  const found = {
    blockSize: 4096,
    minor: 0,
    partitions: [] as PayloadPartition[],
    groups: [] as { name: string; maximum: number | null; partitions: string[] }[],
    patch: null as string | null,
  };
  const readGroup: Take = (r) => {
    const group = { name: "", maximum: null as number | null, partitions: [] as string[] };
    walk(r.bytes(), {
      1: (g) => {
        group.name = g.string().slice(0, 120);
      },
      2: (g) => {
        group.maximum = whole(g.uint64());
      },
      3: (g) => group.partitions.push(g.string().slice(0, 120)),
    });
    found.groups.push(group);
  };
  try {
    walk(manifest, {
      3: (r) => {
        found.blockSize = r.uint32();
      },
      12: (r) => {
        found.minor = r.uint32();
      },
      13: (r) => found.partitions.push(readPartition(r.bytes())),
      15: (r) => walk(r.bytes(), { 1: readGroup }),
      18: (r) => {
        found.patch = r.string().slice(0, 20);
      },
    });
  } catch (error) {
    if (error instanceof FileReadError) throw error;
    throw new FileReadError("damaged", `The payload's manifest is damaged (${(error as Error).message})`);
  }
  const { blockSize, minor, ...rest } = found;
  if (blockSize < 512 || blockSize > 1_048_576)
    throw new FileReadError("damaged", "The payload's manifest is damaged: impossible block size");
  return { blockSize, full: minor === 0, ...rest, dataAt: HEADER + size + signature };
}

const isTakeable = (p: PayloadPartition) =>
  p.bytes > 0 && p.bytes <= MAX_TAKEN && p.operations.every((o) => ALONE[o.type] !== undefined);

/**
 * Takes one partition out of a payload; only the ranges it needs are read, and its digest is checked.
 *
 * @param onBytes told how many bytes of the partition are done
 * @throws FileReadError when the partition is not there, too large, kept as a difference, damaged or cut short
 * @example (await takePartition(source, payload, "boot")).length // 67108864 …
 */
export async function takePartition(
  source: Source,
  payload: Payload,
  name: string,
  onBytes: (done: number) => void = () => {},
): Promise<Uint8Array> {
  const partition = payload.partitions.find((p) => p.name === name);
  if (!partition) throw new FileReadError("not-this", `The payload has no partition ${name}`);
  if (partition.bytes > MAX_TAKEN)
    throw new FileReadError("too-large", `${name} has ${partition.bytes} bytes; ${MAX_TAKEN} are taken out at most`);
  const out = new Uint8Array(partition.bytes);
  let done = 0;
  for (const operation of partition.operations) {
    const kind = ALONE[operation.type];
    if (!kind)
      throw new FileReadError(
        "not-supported",
        `The payload carries ${name} only as a difference to the build before: take it from the full package`,
      );
    const room = operation.to.reduce((sum, [, blocks]) => sum + blocks, 0) * payload.blockSize;
    if (room > out.length + payload.blockSize)
      throw new FileReadError("damaged", `An operation of ${name} writes more than the partition holds`);
    if (kind !== "zero") put(out, await dataOf(source, payload, operation, kind, room), operation, payload.blockSize);
    done += room;
    onBytes(Math.min(done, out.length));
  }
  if (!partition.digest)
    throw new FileReadError(
      "damaged",
      `The payload has no digest for ${name}: it can't be checked, so it is not taken`,
    );
  if ((await sha256(out)) !== partition.digest)
    throw new FileReadError(
      "damaged",
      `${name} does not agree with its digest: the package is damaged. Fetch it again`,
    );
  return out;
}

async function dataOf(
  source: Source,
  payload: Payload,
  { offset, length, digest }: Operation,
  kind: "replace" | "bzip2" | "xz",
  room: number,
): Promise<Uint8Array> {
  const data = await readAll(source, payload.dataAt + offset, length, "the data of the payload");
  if (digest && (await sha256(data)) !== digest)
    throw new FileReadError("damaged", "A part of the payload does not agree with its digest: fetch the package again");
  return kind === "replace" ? data : kind === "xz" ? unpackXz(data, room) : unpackBzip2(data, room);
}

function put(out: Uint8Array, data: Uint8Array, { to }: Operation, blockSize: number) {
  let from = 0;
  for (const [block, count] of to) {
    const at = block * blockSize;
    const length = Math.min(count * blockSize, data.length - from, out.length - at);
    if (length < 0 || at > out.length)
      throw new FileReadError("damaged", "An operation of the payload writes outside its partition");
    out.set(data.subarray(from, from + length), at);
    from += length;
  }
}

/** The partitions as a report holds them. */
export function payloadContent(payload: Payload): PayloadContent {
  return {
    kind: "payload",
    blockSize: payload.blockSize,
    full: payload.full,
    partitions: payload.partitions.map((p) => ({
      name: p.name,
      bytes: p.bytes,
      fetch: p.operations.reduce((sum, o) => sum + o.length, 0),
      digest: p.digest,
      takeable: isTakeable(p),
    })),
    groups: payload.groups.map((g) => ({ ...g, partitions: [...g.partitions] })),
  };
}

/** Tells a payload and whether all its data is there. */
export async function tellPayload(source: Source): Promise<Finding> {
  const payload = await readPayload(source);
  const end =
    payload.dataAt +
    payload.partitions.flatMap((p) => p.operations).reduce((m, o) => Math.max(m, o.offset + o.length), 0);
  const bytes = payload.partitions.reduce((sum, p) => sum + p.bytes, 0);
  return {
    says: `Update payload with ${payload.partitions.length} partitions${payload.full ? "" : ", as differences to the build before"}.`,
    whole:
      end <= source.size
        ? { is: "unknown", says: "All data is there; it is checked by its digest when a partition is taken out" }
        : { is: "no", says: `Its data ends at byte ${end}, the file has ${source.size}: it was cut short` },
    expanded: bytes,
    told: { ...TELLS_NOTHING, patch: /^\d{4}-\d{2}-\d{2}$/.test(payload.patch ?? "") ? payload.patch : null },
    content: payloadContent(payload),
  };
}
