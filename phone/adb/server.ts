import type net from "node:net";
import { readStandIn } from "~/core/files/standIn";
import { startSystem } from "~/phone/boot";
import { runningRecovery } from "~/phone/recovery/hands";
import { installPackage } from "~/phone/recovery/packages";
import { type Content, contentOf, note, type PhoneState } from "~/phone/state";

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

function banner(state: PhoneState): string {
  const name = state.mode === "sideload" ? "sideload" : state.mode === "recovery" ? "recovery" : "device";
  return `${name}::ro.product.name=${state.codename};ro.product.model=${state.modelNumber};ro.product.device=${state.codename};\0`;
}

/** The properties Android and the recovery tell. */
export function propertiesOf(state: PhoneState): Record<string, string> {
  const system = contentOf(state, "system");
  const boot = contentOf(state, "boot");
  return {
    "ro.serialno": state.serial,
    "ro.product.manufacturer": state.maker,
    "ro.product.model": state.modelNumber,
    "ro.product.device": state.codename,
    "ro.product.board": state.board,
    "ro.product.cpu.abi": state.cpu === "arm64" ? "arm64-v8a" : "armeabi-v7a",
    "ro.build.version.release": system?.release ?? "",
    "ro.build.version.sdk": system ? String(system.api) : "",
    "ro.build.display.id": system?.build ?? "",
    "ro.build.version.security_patch": system?.patch ?? "",
    "ro.treble.enabled": String(state.treble),
    "gsm.version.baseband": state.firmware,
    ...(state.launchApi ? { "ro.product.first_api_level": String(state.launchApi) } : {}),
    "ro.vendor.build.version.release": boot?.release ?? "",
    "ro.vendor.build.security_patch": boot?.patch ?? "",
    "ro.boot.flash.locked": state.locked ? "1" : "0",
    "ro.boot.vbmeta.device_state": state.locked ? "locked" : "unlocked",
    "ro.boot.verifiedbootstate": state.locked ? "green" : "orange",
    "ro.boot.veritymode": contentOf(state, "vbmeta")?.verificationOff ? "disabled" : "enforcing",
    "sys.oem_unlock_allowed": state.permission === "granted" ? "1" : "0",
    ...(state.slots ? { "ro.boot.slot_suffix": `_${state.slot}` } : {}),
  };
}

function shell(state: PhoneState, line: string): string {
  return line
    .split(/;\s*/)
    .map((command) => answer(state, command))
    .join("");
}

function answer(state: PhoneState, command: string): string {
  const properties = propertiesOf(state);
  if (command === "uname -m") return state.cpu === "arm64" ? "aarch64\n" : "armv7l\n";
  if (command === "dumpsys battery") {
    const level = state.battery;
    // The lead charges it a little with every minute that somebody asks.
    state.battery = Math.min(100, level + 1);
    return `Current Battery Service state:\n  AC powered: false\n  USB powered: true\n  status: 2\n  level: ${level}\n  scale: 100\n  voltage: ${3400 + level * 9}\n`;
  }
  if (command === "getprop") {
    return Object.entries(properties)
      .map(([key, value]) => `[${key}]: [${value}]\n`)
      .join("");
  }
  const one = /^getprop\s+'?([\w.]+)'?$/.exec(command);
  return one ? `${properties[one[1]] ?? ""}\n` : `/system/bin/sh: ${command.split(" ")[0]}: not found\n`;
}

function reboot(state: PhoneState, where: string) {
  if (where === "bootloader") state.mode = "bootloader";
  else if (where === "recovery") state.mode = "recovery";
  else if (where === "sideload" || where === "sideload-auto-reboot") state.mode = "sideload";
  else if (where === "fastboot" && state.userspaceFastboot) state.mode = "userspace";
  else startSystem(state);
}

/** Takes pushed files: STAT, SEND with DATA and DONE, QUIT. */
function syncReceiver(state: PhoneState, write: (data: Buffer) => void, close: () => void) {
  let buffer = Buffer.alloc(0);
  let file: { path: string; parts: Buffer[] } | null = null;
  const word = (id: string, value: number, rest = Buffer.alloc(0)) => {
    const head = Buffer.alloc(8);
    head.write(id, "latin1");
    head.writeUInt32LE(value, 4);
    return Buffer.concat([head, rest]);
  };
  return (data: Buffer) => {
    buffer = Buffer.concat([buffer, data]);
    while (buffer.length >= 8) {
      const id = buffer.toString("latin1", 0, 4);
      const value = buffer.readUInt32LE(4);
      if (id === "DONE" && file) {
        buffer = buffer.subarray(8);
        const content = readStandIn(Buffer.concat(file.parts));
        if (content)
          state.storage[file.path] = { ...content.label, size: content.size, verificationOff: false, spoiled: null };
        note(state, `received ${file.path}`);
        file = null;
        write(word("OKAY", 0));
        continue;
      }
      if (buffer.length < 8 + value) return;
      const body = buffer.subarray(8, 8 + value);
      buffer = buffer.subarray(8 + value);
      if (id === "STAT") {
        const path = body.toString("utf8");
        // /sdcard is a folder; everything else does not exist yet.
        const answer = Buffer.alloc(16);
        answer.write("STAT", "latin1");
        answer.writeUInt32LE(path === "/sdcard" || path === "/sdcard/" ? 0o040755 : 0, 4);
        write(answer);
      } else if (id === "SEND") file = { path: body.toString("utf8").replace(/,\d+$/, ""), parts: [] };
      else if (id === "DATA" && file) file.parts.push(Buffer.from(body));
      else if (id === "QUIT") close();
      else {
        const says = Buffer.from("not supported by this phone");
        write(word("FAIL", says.length, says));
      }
    }
  };
}

/** Asks the client for the package block by block, as a recovery does, then installs it. */
function sideloadReceiver(
  state: PhoneState,
  size: number,
  block: number,
  write: (data: Buffer) => void,
  done: () => void,
) {
  const blocks = Math.ceil(size / block);
  const parts: Buffer[] = [];
  let have = 0;
  let asked = -1;
  let finished = false;
  const ask = () => write(Buffer.from(String(++asked).padStart(8, "0")));
  return (data: Buffer) => {
    if (finished) return;
    if (data.length) {
      parts.push(data);
      have += data.length;
    }
    if (have < Math.min(size, (asked + 1) * block)) return;
    if (asked + 1 < blocks) {
      ask();
      return;
    }
    finished = true;
    const refused = installSideloaded(state, Buffer.concat(parts));
    state.mode = "recovery";
    note(state, refused ? `sideload refused: ${refused}` : "sideload: status 0");
    write(Buffer.from(refused ? "FAILFAIL" : "DONEDONE"));
    done();
  };
}

function installSideloaded(state: PhoneState, bytes: Buffer): string | null {
  const file = readStandIn(bytes);
  if (!file) return "this is not a package";
  const recovery = runningRecovery(state);
  const content: Content = { ...file.label, size: file.size, verificationOff: false, spoiled: null };
  if (recovery?.kind !== "recovery") return "signature verification failed";
  return installPackage(state, content, recovery);
}
