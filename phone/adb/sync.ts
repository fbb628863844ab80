import { readStandIn } from "~/core/files/standIn";
import { identityBytes } from "~/phone/identity";
import { runningRecovery, storageClosed } from "~/phone/recovery/hands";
import { note, type PhoneState } from "~/phone/state";

const BLOCK_DEVICES = "/dev/block/by-name/";
const [FOLDER, BLOCK] = [0o040755, 0o060600];
/** Most bytes in one DATA. */
const PIECE = 65_536;

function word(id: string, value: number, rest = Buffer.alloc(0)) {
  const head = Buffer.alloc(8);
  head.write(id, "latin1");
  head.writeUInt32LE(value, 4);
  return Buffer.concat([head, rest]);
}

/** What a recovery with root lets a client read: the identity partitions, byte for byte. */
function readable(state: PhoneState, path: string): Buffer | null {
  if (!path.startsWith(BLOCK_DEVICES) || state.mode !== "recovery") return null;
  const recovery = runningRecovery(state);
  if (recovery?.kind !== "recovery" || recovery.flavour !== "custom") return null;
  return identityBytes(state, path.slice(BLOCK_DEVICES.length));
}

function modeOf(state: PhoneState, path: string): number {
  if (path === "/sdcard" || path === "/sdcard/") return FOLDER;
  return readable(state, path) ? BLOCK : 0;
}

/**
 * The sync service: STAT, SEND with DATA and DONE, RECV, QUIT.
 *
 * @source AOSP adb `SYNC.TXT`
 */
export function syncReceiver(state: PhoneState, write: (data: Buffer) => void, close: () => void) {
  let buffer: Buffer = Buffer.alloc(0);
  let file: { path: string; parts: Buffer[] } | null = null;
  const fail = (says: string) => write(word("FAIL", Buffer.byteLength(says), Buffer.from(says)));
  const received = (path: string, bytes: Uint8Array) => {
    // The words of a file system whose keys are missing (ENOKEY).
    const closed = state.mode === "recovery" ? storageClosed(state) : null;
    if (closed) return fail("couldn't create file: Required key not available");
    const content = readStandIn(bytes);
    if (content) state.storage[path] = { ...content.label, size: content.size, verificationOff: false, spoiled: null };
    note(state, `received ${path}`);
    write(word("OKAY", 0));
  };
  const send = (path: string) => {
    const bytes: Uint8Array | null = readable(state, path);
    if (!bytes) return fail("Permission denied");
    for (let at = 0; at < bytes.length; at += PIECE) {
      const piece = Buffer.from(bytes.subarray(at, at + PIECE));
      write(word("DATA", piece.length, piece));
    }
    write(word("DONE", 0));
    note(state, `read ${path}`);
  };
  return (data: Buffer) => {
    buffer = Buffer.concat([buffer, data]);
    while (buffer.length >= 8) {
      const id = buffer.toString("latin1", 0, 4);
      const value = buffer.readUInt32LE(4);
      if (id === "DONE" && file) {
        buffer = buffer.subarray(8);
        received(file.path, Buffer.concat(file.parts));
        file = null;
        continue;
      }
      if (buffer.length < 8 + value) return;
      const body = buffer.subarray(8, 8 + value);
      buffer = buffer.subarray(8 + value);
      if (id === "STAT") {
        const answer = Buffer.alloc(16);
        answer.write("STAT", "latin1");
        answer.writeUInt32LE(modeOf(state, body.toString("utf8")), 4);
        write(answer);
      } else if (id === "SEND") file = { path: body.toString("utf8").replace(/,\d+$/, ""), parts: [] };
      else if (id === "DATA" && file) file.parts.push(Buffer.from(body));
      else if (id === "RECV") send(body.toString("utf8"));
      else if (id === "QUIT") close();
      else fail("not supported by this phone");
    }
  };
}
