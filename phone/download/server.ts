import type net from "node:net";
import { readStandIn } from "~/core/files/standIn";
import { startSystem } from "~/phone/boot";
import { readRow, takesList, writeRow } from "~/phone/loader/rows";
import { note, type PhoneState } from "~/phone/state";
import { eraseEverything, writeInDownload, writePartitionTable } from "./write";

const MOST_BYTES = 64 * 1_048_576;

/**
 * What the stand-in flasher says to a phone in download or loader mode: JSON lines of our own, an image's bytes behind the line that
 * announces them (docs/phone.md). The phone answers each with one line.
 *
 * @param restarts is told when the phone leaves the mode
 */
export function serveFlasherSocket(socket: net.Socket, state: PhoneState, restarts: () => void) {
  let buffer: Buffer = Buffer.alloc(0);
  let awaits: { partition: string; bytes: number } | null = null;
  socket.on("error", () => socket.destroy());
  const say = (body: unknown) => socket.write(`${JSON.stringify(body)}\n`);
  const refuse = (says: string) => say({ ok: false, says });

  const hear = (line: string) => {
    let asked: { do?: unknown; partition?: unknown; list?: unknown; bytes?: unknown; restart?: unknown };
    try {
      asked = JSON.parse(line);
    } catch {
      return refuse("this is no JSON");
    }
    if (asked.do === "hello")
      return say({ ok: true, mode: state.mode, board: state.codename, chip: state.loader?.chip });
    if (asked.do === "list") {
      const refused = state.mode === "loader" ? takesList(state, String(asked.list)) : "not in loader mode";
      return refused ? refuse(refused) : say({ ok: true });
    }
    if (asked.do === "read" && state.mode === "loader") {
      const row = readRow(state, String(asked.partition));
      return typeof row === "string" ? refuse(row) : say({ ok: true, data: row.toString("base64") });
    }
    if (asked.do === "rows" && state.mode === "loader") return say({ ok: true, rows: state.loader?.rows ?? [] });
    if (asked.do === "partition-table") {
      writePartitionTable(state);
      return say({ ok: true });
    }
    if (asked.do === "erase-all") {
      eraseEverything(state);
      return say({ ok: true });
    }
    if (asked.do === "write" && typeof asked.partition === "string" && Number.isSafeInteger(asked.bytes)) {
      if ((asked.bytes as number) > MOST_BYTES || (asked.bytes as number) < 0)
        return refuse("too large for this phone");
      awaits = { partition: asked.partition, bytes: asked.bytes as number };
      return;
    }
    if (asked.do === "finish") {
      say({ ok: true });
      if (asked.restart !== true) return note(state, "written, and still in download mode");
      startSystem(state);
      setTimeout(restarts, 20);
      return;
    }
    refuse("this phone does not know that");
  };

  socket.on("data", (chunk: Buffer) => {
    buffer = Buffer.concat([buffer, chunk]);
    for (;;) {
      if (awaits) {
        if (buffer.length < awaits.bytes) return;
        const bytes = new Uint8Array(buffer.subarray(0, awaits.bytes));
        buffer = buffer.subarray(awaits.bytes);
        const refused = writeBytes(state, awaits.partition, bytes);
        awaits = null;
        if (refused) refuse(refused);
        else say({ ok: true });
      }
      const end = buffer.indexOf(10);
      if (end < 0) {
        if (buffer.length > 65_536) socket.destroy();
        return;
      }
      const line = buffer.toString("utf8", 0, end);
      buffer = buffer.subarray(end + 1);
      hear(line);
    }
  });
}

function writeBytes(state: PhoneState, partition: string, bytes: Uint8Array): string | null {
  if (state.mode === "loader") return writeRow(state, partition, bytes);
  const read = readStandIn(bytes);
  return read ? writeInDownload(state, partition, read) : "no image";
}
