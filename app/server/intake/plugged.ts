import { execFile } from "node:child_process";
import { type Attached, isReadable, readAdbDevices, readFastbootDevices } from "~/core/device/attached";

type Client = Attached["client"];

/** Where the clients are; they are looked for on the path where nothing is set. */
const PROGRAM: Record<Client, () => string> = {
  adb: () => process.env.UPSHIFT_ADB || "adb",
  fastboot: () => process.env.UPSHIFT_FASTBOOT || "fastboot",
};

/** Addresses of devices that speak fastboot over the network: the client does not list them by itself. */
const overNetwork = () =>
  (process.env.UPSHIFT_FASTBOOT_TCP ?? "")
    .split(",")
    .map((a) => a.trim())
    .filter((a) => /^[\w.-]+:\d{1,5}$/.test(a))
    .map((a) => `tcp:${a}`);

/** Everything that is ever run: lists and read-outs. Nothing here writes to a device, and no word comes from a page. */
const LIST: Record<Client, readonly string[]> = { adb: ["devices"], fastboot: ["devices"] };
const READ: Record<Client, readonly string[]> = { adb: ["shell", "getprop; uname -m"], fastboot: ["getvar", "all"] };

const LIST_TIME = 6000;
const READ_TIME = 10_000;
const MOST_BYTES = 2_000_000;

type Ran =
  | { readonly ok: true; readonly text: string }
  | { readonly ok: false; readonly says: string; readonly missing: boolean };

/** Runs a client, no shell between; one that hangs is killed. */
function run(client: Client, words: readonly string[], time: number): Promise<Ran> {
  return new Promise((resolve) => {
    execFile(
      PROGRAM[client](),
      [...words],
      { timeout: time, killSignal: "SIGKILL", maxBuffer: MOST_BYTES, windowsHide: true },
      (error, stdout, stderr) => {
        // fastboot prints its answers where others print errors.
        const text = `${stdout}\n${stderr}`;
        if (!error) resolve({ ok: true, text });
        else if ("code" in error && error.code === "ENOENT")
          resolve({ ok: false, missing: true, says: `${client} is not on this computer` });
        else if (error.killed)
          resolve({
            ok: false,
            missing: false,
            says: `${client} did not answer within ${time / 1000} seconds and was stopped`,
          });
        else
          resolve({
            ok: false,
            missing: false,
            says: `${client}: ${text.trim().split("\n").at(-1)?.slice(0, 200) || error.message}`,
          });
      },
    );
  });
}

export interface Plugged {
  readonly devices: readonly Attached[];
  /** What went wrong with a client, in words. */
  readonly troubles: readonly string[];
  /** Neither client is on this computer. */
  readonly noClient: boolean;
}

/** What is plugged in, as both clients see it. */
export async function listPlugged(): Promise<Plugged> {
  const [adb, fastboot] = await Promise.all([
    run("adb", LIST.adb, LIST_TIME),
    run("fastboot", LIST.fastboot, LIST_TIME),
  ]);
  const network = fastboot.ok
    ? overNetwork().map(
        (serial): Attached => ({ client: "fastboot", serial, state: "bootloader", word: "over the network" }),
      )
    : [];
  return {
    devices: [
      ...(adb.ok ? readAdbDevices(adb.text) : []),
      ...(fastboot.ok ? readFastbootDevices(fastboot.text) : []),
      ...network,
    ],
    troubles: [adb, fastboot].flatMap((r) => (r.ok ? [] : [r.says])),
    noClient: !adb.ok && adb.missing && !fastboot.ok && fastboot.missing,
  };
}

/** A read-out as the client printed it, kept until it is written to a device. */
export interface KeptReadOut {
  readonly id: number;
  readonly attached: Attached;
  readonly text: string;
}

/** Read-outs kept at most: a table has no more leads. */
const KEPT = 40;
const kept = new Map<number, KeptReadOut>();
let next = 1;

export const findReadOut = (id: number): KeptReadOut | undefined => kept.get(id);

/**
 * Reads one device that is plugged in now.
 *
 * @param wanted client and serial number as a page gives them; only what the client itself lists at this moment is read, by
 *   the client's own word for it
 */
export async function readPlugged(wanted: {
  readonly client: string;
  readonly serial: string;
}): Promise<{ readonly ok: true; readonly readOut: KeptReadOut } | { readonly ok: false; readonly says: string }> {
  const { devices } = await listPlugged();
  const attached = devices.find((d) => d.client === wanted.client && d.serial === wanted.serial);
  if (!attached) return { ok: false, says: "This device is not plugged in any more. Look again" };
  if (!isReadable(attached)) return { ok: false, says: "It can't be read in this state: see what to do beside it" };
  const read = await run(attached.client, ["-s", attached.serial, ...READ[attached.client]], READ_TIME);
  if (!read.ok) return { ok: false, says: read.says };
  const readOut = { id: next++, attached, text: read.text };
  kept.set(readOut.id, readOut);
  for (const old of kept.keys()) if (kept.size > KEPT) kept.delete(old);
  return { ok: true, readOut };
}
