import { readStandIn } from "~/core/files/standIn";
import { runningRecovery } from "~/phone/recovery/hands";
import { installPackage } from "~/phone/recovery/packages";
import { type Content, note, type PhoneState } from "~/phone/state";

/** Asks the client for the package block by block, as a recovery does, then installs it. */
export function sideloadReceiver(
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
