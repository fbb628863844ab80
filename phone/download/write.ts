import type { ReadStandIn } from "~/core/files/standIn";
import { wipeData, writePartition } from "~/phone/boot";
import { note, type PhoneState } from "~/phone/state";

const MAKERS = new Set(["stock", "official-update"]);
const low = (text: string) => text.toLowerCase();

/**
 * Writes one partition image in download mode, as the maker's bootloader would: its own packages on a locked device, of this
 * board, region, number and fuse level; anything foreign only unlocked, and never without blowing the fuse.
 *
 * @returns why it refuses, in words; null when it is written
 */
export function writeInDownload(state: PhoneState, partition: string, read: ReadStandIn): string | null {
  const { download } = state;
  if (!download) return "this device has no download mode";
  const { label } = read;
  if (!(partition in state.partitions)) return `there is no partition ${partition}`;
  if (label.devices.length && !label.devices.includes(state.codename)) return `this is for ${label.devices.join(", ")}`;
  if (label.modelNumbers && !label.modelNumbers.map(low).includes(low(state.modelNumber)))
    return `this is for model ${label.modelNumbers.join(", ")}`;
  if (label.regions && download.region && !label.regions.map(low).includes(low(download.region)))
    return `this is for region ${label.regions.join(", ")}`;
  if (typeof label.fuse === "number" && label.fuse < download.fuseLevel)
    return `fuse level ${label.fuse} is below this device's ${download.fuseLevel}`;
  const foreign = !MAKERS.has(label.kind);
  if (foreign && state.locked) return "not signed by the maker, and the device is locked";
  if (read.size > (state.rooms[partition] ?? Number.POSITIVE_INFINITY)) return "larger than the partition";
  if (foreign && !download.fuseBlown) {
    download.fuseBlown = true;
    note(state, "the fuse blew: a foreign image was written");
  }
  const content = { ...label, size: read.size, verificationOff: read.verificationOff, spoiled: null };
  const refused = writePartition(state, partition, content);
  if (refused) return refused;
  if (partition === "bootloader" && typeof label.fuse === "number") download.fuseLevel = label.fuse;
  if (partition === "region" && label.wipes) wipeData(state, true);
  if (partition === "system") state.fresh = true;
  return null;
}

/** What a partition table does that nobody needed: whatever is not written behind it is gone. */
export function writePartitionTable(state: PhoneState) {
  for (const name of Object.keys(state.partitions)) state.partitions[name] = null;
  forgetIdentity(state);
  note(state, "the partition table was written: everything on it is gone");
}

export function eraseEverything(state: PhoneState) {
  for (const name of Object.keys(state.partitions)) state.partitions[name] = null;
  forgetIdentity(state);
  wipeData(state, true);
  note(state, "everything was erased");
}

function forgetIdentity(state: PhoneState) {
  for (const name of Object.keys(state.identity)) state.identity[name] = "";
}
