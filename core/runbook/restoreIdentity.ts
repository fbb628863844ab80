import type { IdentityCopy } from "./identityCopy";
import { PRELUDE } from "./scriptPrelude";
import { fileTag, shellQuote, tagLines } from "./writeScript";

export interface RestoreRequest {
  readonly tag: string;
  /** The whole serial number: what the bootloader must tell before anything is written. */
  readonly serial: string;
  readonly codename: string;
  /** The newest copy of each partition. */
  readonly copies: readonly IdentityCopy[];
}

/**
 * Writes the script that gives a device its own identity partitions back, from the bootloader.
 *
 * It writes to the device whose serial number is in it and to no other, only files whose digests are those on record, and checks
 * all of them before the first is written.
 *
 * @throws RangeError without a serial number or copies
 * @example writeRestoreScript({ tag: "TH-001", serial: "RTSN1", codename: "lumen", copies }) // "#!/bin/sh …"
 */
export function writeRestoreScript({ tag, serial, codename, copies }: RestoreRequest): string {
  if (serial === "" || copies.length === 0)
    throw new RangeError("Nothing is restored without a serial number to compare and copies on record");
  const safeTag = fileTag(tag);
  const total = copies.length + 1;
  const stop = shellQuote("Stop: nothing was written");
  return [
    "#!/bin/sh",
    `# Gives device ${safeTag} its own identity partitions back. For this one device only.`,
    ...tagLines(tag),
    PRELUDE,
    "LANE=",
    'FILES="$KEEP/$TAG"',
    "",
    `step 1 ${total} restore.check 'Is it this device, and are these its files?'`,
    `want_var serialno ${shellQuote(serial)} 'serial number' 60 'This is another device: these files never go onto it'`,
    `want_var product ${shellQuote(codename)} 'code name' 60 ${stop}`,
    `want_var unlocked yes 'bootloader unlocked' 60 'A locked bootloader writes nothing'`,
    ...copies.map((c) => `digest ${shellQuote(c.file)} ${c.sha256}`),
    "done_step",
    ...copies.flatMap((c, i) => [
      `step ${i + 2} ${total} ${shellQuote(`restore.${c.partition}`)} ${shellQuote(`Write ${c.partition} back`)}`,
      `run 120 'Note the words and stop' $FASTBOOT flash ${shellQuote(c.partition)} "$FILES"/${shellQuote(c.file)}`,
      "done_step",
    ]),
    "",
    `printf '\\n%s has its own identity back. Restart it and dial *#06#.\\n' ${shellQuote(safeTag)}`,
    "",
  ].join("\n");
}
