import type net from "node:net";
import type { PhoneState } from "~/phone/state";
import { answer } from "./fastboot";

/**
 * Serves the fastboot protocol over TCP.
 *
 * @source AOSP fastboot README, "TCP Protocol v1": 4-byte handshake `FB01`, then messages with an 8-byte big-endian length
 */
export function serveFastbootSocket(socket: net.Socket, state: PhoneState, restarted: () => void) {
  let buffer = Buffer.alloc(0);
  let shaken = false;
  let wanted = 0;
  let parts: Buffer[] = [];
  let download: Buffer | null = null;
  socket.on("error", () => socket.destroy());

  const send = (text: string) => {
    const body = Buffer.from(text.slice(0, 256), "utf8");
    const head = Buffer.alloc(8);
    head.writeBigUInt64BE(BigInt(body.length));
    socket.write(Buffer.concat([head, body]));
  };

  const command = (text: string) => {
    if (text.startsWith("download:")) {
      wanted = Number.parseInt(text.slice(9), 16);
      parts = [];
      if (!Number.isSafeInteger(wanted) || wanted <= 0 || wanted > state.maxDownload) {
        wanted = 0;
        send("FAILdata too large");
        return;
      }
      state.downloads++;
      if (state.tempers.dropsLeadAtDownload === state.downloads) {
        state.trail.push("the lead dropped out");
        socket.destroy();
        return;
      }
      send(`DATA${wanted.toString(16).padStart(8, "0")}`);
      return;
    }
    const reply = answer(state, text, download);
    for (const line of reply.info ?? []) send(`INFO${line}`);
    send(`${reply.ok ? "OKAY" : "FAIL"}${reply.text}`);
    if (reply.restarts) socket.end(restarted);
  };

  socket.on("data", (chunk) => {
    buffer = Buffer.concat([buffer, chunk]);
    if (!shaken) {
      if (buffer.length < 4) return;
      if (buffer.toString("latin1", 0, 2) !== "FB") {
        socket.destroy();
        return;
      }
      buffer = buffer.subarray(4);
      shaken = true;
      socket.write("FB01");
    }
    while (buffer.length >= 8) {
      const length = Number(buffer.readBigUInt64BE(0));
      if (length > state.maxDownload) {
        socket.destroy();
        return;
      }
      if (buffer.length < 8 + length) return;
      const body = buffer.subarray(8, 8 + length);
      buffer = buffer.subarray(8 + length);
      if (wanted > 0) {
        parts.push(Buffer.from(body));
        const have = parts.reduce((sum, p) => sum + p.length, 0);
        if (have >= wanted) {
          download = Buffer.concat(parts).subarray(0, wanted);
          wanted = 0;
          parts = [];
          send("OKAY");
        }
      } else command(body.toString("utf8"));
    }
  });
}
