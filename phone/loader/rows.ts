import { readPartitionList } from "~/core/files/formats/partitionList";
import { readStandIn, type StandInLabel } from "~/core/files/standIn";
import { PRACTICE_BYTES } from "~/core/runbook/identityCopy";
import { writePartition } from "~/phone/boot";
import { type Content, note, type PhoneState } from "~/phone/state";

const DUMP = "UPSHIFT-BOARD ";

/** One partition as it is dumped: what stands in it, as bytes. The list is its own text with a binary head and tail, as boards keep it. */
export function readRow(state: PhoneState, row: string): Buffer | string {
  const { loader } = state;
  if (!loader) return "this device has no loader board";
  if (row === "parameter")
    return Buffer.concat([
      Buffer.from([0x50, 0x41, 0x52, 0x4d, 0x10, 0, 0, 0]),
      Buffer.from(loader.list, "utf8"),
      Buffer.from([0xff, 0x3a, 0x11, 0]),
    ]);
  if (row === "userdata" || !loader.rows.includes(row)) return `there is no row ${row} to dump`;
  if (loader.dumpBreaksAt === row) return "the lead dropped out";
  const content = state.partitions[row] ?? null;
  const bytes = Buffer.from(
    `${DUMP}${JSON.stringify({ row, chip: loader.chip, content })}\n`.padEnd(PRACTICE_BYTES, "\0"),
    "utf8",
  );
  return loader.dumpsHalfOf === row ? bytes.subarray(0, bytes.length / 2) : bytes;
}

/** Writes one row. A row that gets another row's content is written all the same: the board finds out at its next start. */
export function writeRow(state: PhoneState, row: string, bytes: Uint8Array): string | null {
  const { loader } = state;
  if (!loader) return "this device has no loader board";
  if (row === "loader") {
    state.alive = false;
    note(state, "the loader was written over: the board is dead");
    return null;
  }
  if (row === "parameter") return null;
  if (!loader.rows.includes(row)) return `there is no row ${row}`;
  const dumped = readDump(bytes);
  if (dumped) {
    const spoiled =
      dumped.row === row && dumped.chip === loader.chip ? null : `${row} holds what belongs to ${dumped.row}`;
    state.partitions[row] = dumped.content && { ...dumped.content, spoiled: spoiled ?? dumped.content.spoiled };
    note(state, `gave ${row} back`);
    return null;
  }
  const read = readStandIn(bytes);
  if (!read) return `${row}: no image`;
  const refused = writePartition(state, row, {
    ...read.label,
    size: read.size,
    verificationOff: false,
    spoiled: whyNotHere(state, row, read.label),
  });
  if (row === "system") state.fresh = true;
  return refused;
}

/** What an image says of the row it was packed for, and of the chip. */
function whyNotHere(state: PhoneState, row: string, label: StandInLabel): string | null {
  if (label.chip && label.chip !== state.loader?.chip) return `${row} is for the chip ${label.chip}`;
  return label.partition && label.partition !== row ? `${row} holds what belongs to ${label.partition}` : null;
}

function readDump(bytes: Uint8Array): { row: string; chip: string; content: Content | null } | null {
  const text = Buffer.from(bytes.subarray(0, 4096)).toString("utf8");
  return text.startsWith(DUMP) ? JSON.parse(text.slice(DUMP.length, text.indexOf("\n"))) : null;
}

/** Whether the board can read a partition list as it was sent: nothing before FIRMWARE, nothing behind the last bracket. */
export function takesList(state: PhoneState, text: string): string | null {
  const list = readPartitionList(text);
  if (!list || !text.startsWith("FIRMWARE") || !/\)$/.test(text)) return "the list can't be read: it is not cleaned";
  const names = list.rows.map((r) => r.name);
  return state.loader?.rows.join() === names.join() ? null : "the list is another board's";
}
