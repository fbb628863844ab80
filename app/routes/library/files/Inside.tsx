import type { ReactNode } from "react";
import { Notice } from "~/app/ui/Notice";
import { Pairs } from "~/app/ui/Pairs";
import { bytesText } from "~/app/ui/words";
import { describeRelease } from "~/core/android/releases";
import type { FileContent, FileReport } from "~/core/files/report";
import { sparseParts } from "~/core/files/sparseParts";
import { PartitionRows } from "./PartitionRows";
import { Table } from "./Table";

const exact = (bytes: number) => `${bytes.toLocaleString("en")} bytes`;

const properties = (found: Readonly<Record<string, string>>) =>
  Object.entries(found).map(([name, value]) => [name, <code key={name}>{value}</code>] as const);

type Shown = {
  readonly [K in FileContent["kind"]]?: (content: Extract<FileContent, { kind: K }>, all: Around) => ReactNode;
};

/** What the details need from around the file. */
export interface Around {
  readonly report: FileReport;
  readonly maxDownload: number | null;
  /** Other files that were dropped, by name and size: rows of a partition list take them. */
  readonly files: readonly { readonly name: string; readonly bytes: number }[];
  readonly take: (partition: string) => void;
  readonly taking: string | null;
}

const SHOWN: Shown = {
  sparse: (c, { report, maxDownload }) => (
    <Pairs
      pairs={[
        ["On the partition", exact(report.expanded ?? 0)],
        ["Chunks", `${c.chunks} (${c.raw} with data, ${c.fill} filled, ${c.skip} left out)`],
        [
          "Parts over the lead",
          maxDownload
            ? `${sparseParts(report.expanded ?? 1, maxDownload)} at ${bytesText(maxDownload)} each`
            : "Choose a model: it depends on what the phone takes at once",
        ],
        ["Inside", c.inside === "unknown" ? "not known here" : c.inside],
      ]}
    />
  ),
  ext4: (c) => (
    <Pairs
      pairs={[
        ["Label", c.label || "—"],
        ["Used", exact(c.used)],
        ["Identifier", <code key="u">{c.uuid}</code>],
        ...properties(c.properties),
      ]}
    />
  ),
  erofs: (c) => (
    <Pairs
      pairs={[
        ["Label", c.label || "—"],
        ["Files in it", c.packed ? "may be packed; those are not read here" : "plain"],
        ["Identifier", <code key="u">{c.uuid}</code>],
        ...properties(c.properties),
      ]}
    />
  ),
  boot: (c) => (
    <Pairs
      pairs={[
        ["Header version", c.headerVersion],
        ["Kernel", c.kernel ? exact(c.kernel) : "none"],
        ["Ramdisk", exact(c.ramdisk)],
        ["Board", c.board || "—"],
        [
          "Command line",
          <code key="c" className="text-sm break-all">
            {c.commandLine || "—"}
          </code>,
        ],
      ]}
    />
  ),
  vbmeta: (c) => (
    <Pairs
      pairs={[
        ["Signed with", c.algorithm],
        ["Rollback index", c.rollbackIndex.toLocaleString("en")],
        ["Verity", c.verityOff ? "switched off" : "on"],
        ["Verification", c.verificationOff ? "switched off" : "on"],
        ["Speaks of", c.partitions.join(", ") || "no partition"],
        ["Made by", c.madeBy || "—"],
        ...properties(c.properties),
      ]}
    />
  ),
  super: (c) => (
    <>
      <Pairs
        pairs={[
          ["Size", exact(c.bytes)],
          ["Slots of the layout", c.slots],
        ]}
      />
      <Table
        label="Logical partitions"
        head={["Partition", "Group", "#Bytes"]}
        rows={c.partitions.map((p) => [p.name, p.group, p.bytes.toLocaleString("en")])}
      />
      <Table
        label="Groups"
        head={["Group", "#Room, bytes"]}
        rows={c.groups.map((g) => [g.name, g.maximum?.toLocaleString("en") ?? "no limit of its own"])}
      />
    </>
  ),
  ota: (c, around) => (
    <>
      {c.wipes && (
        <Notice kind="caution">Installing it wipes the device{c.downgrade ? ", and goes down a release" : ""}.</Notice>
      )}
      <Pairs
        pairs={[
          ["Kind", c.type],
          ["Checks on the device", c.checks.join("; ") || "none that is written in it"],
          ...properties(c.metadata),
        ]}
      />
      {c.payload && <PayloadParts content={c.payload} around={around} />}
    </>
  ),
  payload: (c, around) => <PayloadParts content={c} around={around} />,
  factory: (c) => (
    <>
      {c.scripts.some((s) => s.locks) && (
        <Notice kind="caution">
          {c.scripts
            .filter((s) => s.locks)
            .map((s) => s.name)
            .join(", ")}{" "}
          locks the bootloader. On a device that is not wholly stock that is the end of it.
        </Notice>
      )}
      <Table
        label="Scripts"
        head={["Script", "Data", "Bootloader", "Slots", "Writes"]}
        rows={c.scripts.map((s) => [
          s.name,
          s.wipes ? "wipes" : "kept",
          s.locks ? "LOCKS" : "left as it is",
          s.slots,
          s.flashes.join(", "),
        ])}
      />
      <Pairs pairs={properties(c.requires)} />
      <Table
        label="Images"
        head={["Image", "#Bytes"]}
        rows={c.images.map((i) => [i.name, i.bytes?.toLocaleString("en")])}
      />
    </>
  ),
  tar: (c) => (
    <Table
      label="Files in the package"
      head={["File", "#Bytes"]}
      rows={c.images.map((i) => [i.name, i.bytes?.toLocaleString("en")])}
    />
  ),
  packed: (c, { report }) => (
    <Pairs
      pairs={[
        ["Packed with", c.by],
        [
          "Unpacked",
          report.expanded === null ? "the format does not tell: unpack it and look" : exact(report.expanded),
        ],
        ["Name when unpacked", c.inner ?? "—"],
      ]}
    />
  ),
  "partition-list": (c, { files }) => <PartitionRows content={c} files={files} />,
  apk: (c) => (
    <Pairs
      pairs={[
        ["Package", <code key="p">{c.package}</code>],
        ["Lowest release", describeRelease(c.minApi)],
        ["Made for", c.targetApi ? describeRelease(c.targetApi) : "not said"],
        ["Processors", c.abis.join(", ") || "any"],
        [
          "Hardware it can't do without",
          c.features
            .filter((f) => f.required)
            .map((f) => f.name)
            .join(", ") || "none named",
        ],
        ["Services package", c.namesServices ? "named in its manifest: a guess that it needs it" : "not named"],
        ["Parts", c.splits.join(", ") || "one package"],
        [
          "Permissions",
          <span key="s" className="text-sm">
            {c.permissions.join(", ") || "none"}
          </span>,
        ],
      ]}
    />
  ),
  "digest-list": (c) => (
    <Table
      label="Digests"
      head={["Kind", "File", "Digest"]}
      rows={c.lines.map((l) => [
        { sha256: "SHA-256", sha512: "SHA-512", md5: "MD5", other: "another" }[l.algorithm],
        l.file ?? "no name",
        <code key="d" className="text-xs break-all">
          {l.digest}
        </code>,
      ])}
    />
  ),
  unknown: (c) => (c.begins ? <Pairs pairs={[["Begins with", <code key="b">{c.begins}</code>]]} /> : null),
};

function PayloadParts({
  content,
  around: { take, taking },
}: {
  content: Extract<FileContent, { kind: "payload" }>;
  around: Around;
}) {
  return (
    <Table
      label="Partitions of the payload"
      head={["Partition", "#Bytes", "#Packed", "Take out"]}
      rows={content.partitions.map((p) => [
        p.name,
        p.bytes.toLocaleString("en"),
        p.fetch.toLocaleString("en"),
        p.takeable ? (
          <button
            type="button"
            key="take"
            className="btn px-2 py-0.5 text-sm"
            disabled={taking !== null}
            onClick={() => take(p.name)}
          >
            {taking === p.name ? "Taking it out…" : `Save ${p.name}.img`}
          </button>
        ) : (
          <span key="no" className="hint">
            {content.full ? "too large to be taken out here" : "only a difference to the build before"}
          </span>
        ),
      ])}
    />
  );
}

/** What is inside a file, by its kind. */
export function Inside(around: Around) {
  const { content } = around.report;
  const show = SHOWN[content.kind] as ((c: FileContent, all: Around) => ReactNode) | undefined;
  return <>{show?.(content, around)}</>;
}
