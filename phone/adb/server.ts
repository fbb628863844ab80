import type net from "node:net";
import { startSystem } from "~/phone/boot";
import { speaksFastboot } from "~/phone/bootloader/hands";
import { enterDownload } from "~/phone/download/hands";
import { streamedInstall } from "~/phone/packages/install";
import { enterRecovery } from "~/phone/recovery/hands";
import { contentOf, type PhoneState } from "~/phone/state";
import { shell } from "./shell";
import { sideloadReceiver } from "./sideload";
import { syncReceiver } from "./sync";

const CNXN = 0x4e584e43;
const OPEN = 0x4e45504f;
const OKAY = 0x59414b4f;
const WRTE = 0x45545257;
const CLSE = 0x45534c43;
const AUTH = 0x48545541;
const AUTH_TOKEN = 1;
const AUTH_SIGNATURE = 2;
const VERSION = 0x01000000;
const MAX_PAYLOAD = 262_144;

interface Stream {
  readonly remote: number;
  /** Called with what the client writes. */
  receive?: (data: Buffer) => void;
  /** Bytes waiting until the client has taken the last write. */
  queue: Buffer[];
  busy: boolean;
  closing: boolean;
}

/**
 * Serves the adb transport on one connection.
 *
 * @source AOSP adb `protocol.txt` (message header of six little-endian words, CNXN/OPEN/OKAY/WRTE/CLSE) and `SYNC.TXT`
 * @param restarted called when the device goes elsewhere and the connection has to drop
 */
export function serveAdbSocket(socket: net.Socket, state: PhoneState, restarted: () => void) {
  let buffer = Buffer.alloc(0);
  let next = 1;
  const streams = new Map<number, Stream>();
  socket.on("error", () => socket.destroy());

  const send = (command: number, arg0: number, arg1: number, data: Buffer = Buffer.alloc(0)) => {
    const head = Buffer.alloc(24);
    head.writeUInt32LE(command, 0);
    head.writeUInt32LE(arg0, 4);
    head.writeUInt32LE(arg1, 8);
    head.writeUInt32LE(data.length, 12);
    head.writeUInt32LE(
      data.reduce((sum, byte) => sum + byte, 0),
      16,
    );
    head.writeUInt32LE((command ^ 0xffffffff) >>> 0, 20);
    socket.write(Buffer.concat([head, data]));
  };

  const pump = (id: number, stream: Stream) => {
    if (stream.busy) return;
    const data = stream.queue.shift();
    if (data) {
      stream.busy = true;
      send(WRTE, id, stream.remote, data);
    } else if (stream.closing) {
      send(CLSE, id, stream.remote);
      streams.delete(id);
    }
  };
  const write = (id: number, stream: Stream, data: Buffer) => {
    stream.queue.push(data);
    pump(id, stream);
  };
  const close = (id: number, stream: Stream) => {
    stream.closing = true;
    pump(id, stream);
  };
  const restart = () => setTimeout(() => socket.end(restarted), 50);

  const open = (remote: number, service: string) => {
    const id = next++;
    const stream: Stream = { remote, queue: [], busy: false, closing: false };
    const accept = () => {
      streams.set(id, stream);
      send(OKAY, id, remote);
    };
    if (service.startsWith("shell")) {
      accept();
      const output = shell(state, service.replace(/^shell[^:]*:/, ""));
      if (output) write(id, stream, Buffer.from(output));
      close(id, stream);
    } else if (service.startsWith("exec:") && state.mode === "android") {
      const install = streamedInstall(
        state,
        service,
        (data) => write(id, stream, data),
        () => close(id, stream),
      );
      if (!install) return send(CLSE, 0, remote);
      stream.receive = install;
      accept();
    } else if (service.startsWith("reboot:")) {
      accept();
      reboot(state, service.slice(7));
      close(id, stream);
      restart();
    } else if (service === "sync:" && state.mode !== "sideload") {
      stream.receive = syncReceiver(
        state,
        (data) => write(id, stream, data),
        () => close(id, stream),
      );
      accept();
    } else if (service.startsWith("sideload-host:") && state.mode === "sideload") {
      const [, size, block] = service.split(":").map(Number);
      stream.receive = sideloadReceiver(
        state,
        size,
        block,
        (data) => write(id, stream, data),
        () => {
          close(id, stream);
          restart();
        },
      );
      accept();
      stream.receive(Buffer.alloc(0));
    } else send(CLSE, 0, remote);
  };

  const askForKey = () => send(AUTH, AUTH_TOKEN, 0, Buffer.alloc(20, 7));

  const message = (command: number, arg0: number, arg1: number, data: Buffer) => {
    if (command === CNXN) {
      if (state.mode === "android" && !state.authorised) askForKey();
      else send(CNXN, VERSION, MAX_PAYLOAD, Buffer.from(banner(state)));
    } else if (command === AUTH) {
      // A signature by a key this phone does not know: it asks again, until the client has no more and shows "unauthorized".
      if (arg0 === AUTH_SIGNATURE) askForKey();
    } else if (command === OPEN) open(arg0, data.toString("utf8").replace(/\0$/, ""));
    else if (command === OKAY) {
      const stream = streams.get(arg1);
      if (!stream) return;
      stream.busy = false;
      pump(arg1, stream);
    } else if (command === WRTE) {
      const stream = streams.get(arg1);
      if (!stream) return;
      send(OKAY, arg1, arg0);
      stream.receive?.(data);
    } else if (command === CLSE) streams.delete(arg1);
  };

  socket.on("data", (chunk) => {
    buffer = Buffer.concat([buffer, chunk]);
    while (buffer.length >= 24) {
      const length = buffer.readUInt32LE(12);
      if (length > 1_048_576 || buffer.readUInt32LE(20) !== (buffer.readUInt32LE(0) ^ 0xffffffff) >>> 0) {
        socket.destroy();
        return;
      }
      if (buffer.length < 24 + length) return;
      const [command, arg0, arg1] = [buffer.readUInt32LE(0), buffer.readUInt32LE(4), buffer.readUInt32LE(8)];
      const data = Buffer.from(buffer.subarray(24, 24 + length));
      buffer = buffer.subarray(24 + length);
      message(command, arg0, arg1, data);
    }
  });
}

/** Android takes a streamed app since 7.0; before, and in recoveries, the client pushes the file and has it installed. */
const streams = (state: PhoneState) => state.mode === "android" && (contentOf(state, "system")?.api ?? 0) >= 24;

function banner(state: PhoneState): string {
  const name = state.mode === "sideload" ? "sideload" : state.mode === "recovery" ? "recovery" : "device";
  return `${name}::ro.product.name=${state.codename};ro.product.model=${state.modelNumber};ro.product.device=${state.codename};${streams(state) ? "features=cmd;" : ""}\0`;
}

function reboot(state: PhoneState, where: string) {
  if (where === "bootloader" && speaksFastboot(state)) state.mode = "bootloader";
  else if (where === "recovery") enterRecovery(state);
  else if (where === "download" && state.download) enterDownload(state);
  else if (where === "sideload" || where === "sideload-auto-reboot") state.mode = "sideload";
  else if (where === "fastboot" && state.userspaceFastboot) state.mode = "userspace";
  else startSystem(state);
}
