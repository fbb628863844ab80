import { z } from "zod";

const Size = z.number().int().min(0).max(Number.MAX_SAFE_INTEGER);
const text = z.string().max(400);
const name = z.string().max(120);

/** A partition named in a file, with its size where the file tells it. */
export const NamedPart = z.strictObject({ name, bytes: Size.nullable() });
export type NamedPart = z.infer<typeof NamedPart>;

/** Partitions, groups and slots of a super partition. */
export const SuperContent = z.strictObject({
  kind: z.literal("super"),
  bytes: Size,
  slots: z.number().int().min(1).max(64),
  partitions: z.array(z.strictObject({ name, group: name, bytes: Size })).max(4096),
  groups: z.array(z.strictObject({ name, maximum: Size.nullable() })).max(4096),
});
export type SuperContent = z.infer<typeof SuperContent>;

/** What an app package asks for. */
export const ApkContent = z.strictObject({
  kind: z.literal("apk"),
  package: text,
  label: text.nullable(),
  versionName: text.nullable(),
  versionCode: z.number().int().min(0),
  minApi: z.number().int().min(1),
  targetApi: z.number().int().min(0).nullable(),
  maxApi: z.number().int().min(0).nullable(),
  /** CPU ABIs of its native code; none means it runs on every CPU. */
  abis: z.array(name).max(64),
  features: z.array(z.strictObject({ name: text, required: z.boolean() })).max(1000),
  permissions: z.array(text).max(2000),
  /** It names the services package: a guess from its manifest, not a proof that it needs it. */
  namesServices: z.boolean(),
  /** Name of the split; null for a base or only package. */
  split: text.nullable(),
  /** Other packages of a split-package archive. */
  splits: z.array(text).max(1000),
});
export type ApkContent = z.infer<typeof ApkContent>;

/** One row of a loader board's partition list. */
export const ListRow = z.strictObject({
  name,
  from: Size,
  /** Null for the last row, which takes the rest. */
  bytes: Size.nullable(),
  flags: name,
});
export type ListRow = z.infer<typeof ListRow>;

/** The rows of one flash in a partition list. */
export const DeviceRows = z.strictObject({
  device: text,
  rows: z.array(ListRow).max(200),
  /** Overlaps, gaps and rows that are no use, in words. */
  problems: z.array(text).max(400),
});
export type DeviceRows = z.infer<typeof DeviceRows>;

/** Partitions that an update payload brings. */
export const PayloadContent = z.strictObject({
  kind: z.literal("payload"),
  blockSize: Size,
  full: z.boolean(),
  partitions: z.array(z.strictObject({ name, bytes: Size, fetch: Size, digest: z.string(), takeable: z.boolean() })),
  groups: z.array(z.strictObject({ name, maximum: Size.nullable(), partitions: z.array(name) })),
});
export type PayloadContent = z.infer<typeof PayloadContent>;

const ScriptIn = z.strictObject({
  name: text,
  wipes: z.boolean(),
  locks: z.boolean(),
  slots: z.enum(["both", "one", "unknown"]),
  /** Partitions it writes, in its order. */
  flashes: z.array(name).max(500),
});

export const DigestLine = z.strictObject({
  algorithm: z.enum(["sha256", "sha512", "md5", "other"]),
  digest: z.string().regex(/^[0-9a-f]{8,128}$/),
  file: text.nullable(),
});
export type DigestLine = z.infer<typeof DigestLine>;

/** What is inside a file, by its kind. */
export const FileContent = z.discriminatedUnion("kind", [
  z.strictObject({
    kind: z.literal("sparse"),
    blockSize: Size,
    blocks: Size,
    chunks: Size,
    raw: Size,
    fill: Size,
    skip: Size,
    /** Kind of image inside. */
    inside: z.enum(["ext4", "erofs", "super", "unknown"]),
  }),
  z.strictObject({ kind: z.literal("ext4"), label: text, used: Size, uuid: text, properties: z.record(text, text) }),
  z.strictObject({
    kind: z.literal("erofs"),
    label: text,
    uuid: text,
    packed: z.boolean(),
    properties: z.record(text, text),
  }),
  z.strictObject({
    kind: z.literal("boot"),
    vendor: z.boolean(),
    headerVersion: z.number().int(),
    pageSize: Size,
    kernel: Size,
    ramdisk: Size,
    commandLine: z.string().max(2200),
    board: text,
  }),
  z.strictObject({
    kind: z.literal("vbmeta"),
    algorithm: text,
    rollbackIndex: Size,
    flags: Size,
    verityOff: z.boolean(),
    verificationOff: z.boolean(),
    madeBy: text,
    partitions: z.array(name).max(1000),
    properties: z.record(text, text),
  }),
  SuperContent,
  z.strictObject({ kind: z.literal("dtbo"), entries: Size }),
  z.strictObject({
    kind: z.literal("ota"),
    type: text,
    metadata: z.record(text, text),
    /** What the package checks on the device before it installs, as its script says. */
    checks: z.array(text).max(200),
    downgrade: z.boolean(),
    wipes: z.boolean(),
    full: z.boolean().nullable(),
    /** What its payload brings, where it has one. */
    payload: PayloadContent.nullable(),
  }),
  PayloadContent,
  z.strictObject({
    kind: z.literal("factory"),
    scripts: z.array(ScriptIn).max(100),
    images: z.array(NamedPart).max(1000),
    requires: z.record(text, text),
  }),
  z.strictObject({ kind: z.literal("zip"), entries: Size, first: z.array(text).max(20) }),
  z.strictObject({
    kind: z.literal("tar"),
    images: z.array(NamedPart).max(1000),
    md5: z.strictObject({ of: Size, expect: z.string() }).nullable(),
  }),
  z.strictObject({ kind: z.literal("packed"), by: z.enum(["xz", "gzip"]), exact: z.boolean(), inner: text.nullable() }),
  DeviceRows.extend({
    kind: z.literal("partition-list"),
    unit: z.enum(["bytes", "sectors", "unknown"]),
    /** Further flashes, behind a semicolon. */
    more: z.array(DeviceRows).max(8).default([]),
    /** The list without what stood before and behind it. */
    cleaned: z.string().max(20_000),
  }),
  ApkContent,
  z.strictObject({ kind: z.literal("digest-list"), lines: z.array(DigestLine).max(5000) }),
  z.strictObject({ kind: z.literal("web-page"), title: text }),
  z.strictObject({ kind: z.literal("empty") }),
  z.strictObject({ kind: z.literal("unknown"), begins: text }),
]);
export type FileContent = z.infer<typeof FileContent>;
export type FileKind = FileContent["kind"];

/** What a file says about the build it carries or belongs to; null where it does not say. */
export const Told = z.strictObject({
  release: text.nullable().default(null),
  api: z.number().int().nullable().default(null),
  build: text.nullable().default(null),
  patch: z
    .string()
    .regex(/^\d{4}-\d{2}(-\d{2})?$/)
    .nullable()
    .default(null),
  /** Code names of devices it is made for; empty where it names none. */
  devices: z.array(text).max(200).default([]),
  cpu: z.enum(["arm", "arm64"]).nullable().default(null),
  /** The partition it is meant for. */
  partition: name.nullable().default(null),
});
export type Told = z.infer<typeof Told>;
export const TELLS_NOTHING: Told = Told.parse({});

/** Whether a file is whole, as far as its own structure tells. */
export const Whole = z.strictObject({ is: z.enum(["yes", "no", "unknown"]), says: text });
export type Whole = z.infer<typeof Whole>;

/** All that was found out about one file. */
export const FileReport = z.strictObject({
  name: z.string().max(400),
  size: Size,
  /** One sentence for the person who dropped it. */
  says: z.string().max(600),
  whole: Whole,
  /** Size on the partition or when unpacked, bytes; null where it is the file's own. */
  expanded: Size.nullable(),
  told: Told,
  content: FileContent,
});
export type FileReport = z.infer<typeof FileReport>;

/** What a reader finds; name and size are the source's own. */
export type Finding = Omit<FileReport, "name" | "size">;

/** A path inside a package, its end where it is long: what it is named by. */
export const pathInside = (path: string): string => (path.length > 120 ? `…${path.slice(-119)}` : path);
