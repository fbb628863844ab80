import { indexOf, plannedDevice } from "~/app/server/planning/planning";
import { type PartitionRoom, readRoom } from "~/core/android/room";
import { currentValue } from "~/core/device/lookUp";
import { readReadOut, roomFacts } from "~/core/device/readOut";
import { endsApart, sameSerial } from "~/core/device/serial";
import type { Hand, Store } from "~/store/database";
import { type Standing, saveDevice, setReturns } from "~/store/devices";
import { appendFacts } from "~/store/facts";
import { appendRoom } from "~/store/rooms";
import { inTransaction } from "~/store/transaction";
import { whoElseHas } from "./whoElse";

const OF_THE_MODEL = ["model.maker", "model.name", "model.number", "model.codename", "model.board"] as const;

/**
 * Writes what a read-out says to a device. One of another device or another model is refused whole.
 *
 * @param text what `adb shell getprop` or `fastboot getvar all` printed, as it is
 * @returns what is wrong in words, or null when it was written
 */
export function takeReadOut(store: Store, standing: Standing, text: string, hand: Hand): string | null {
  const told = readReadOut(text);
  const read = { ...told, facts: new Map(told.facts) };
  if (read.kind === "nothing" || read.facts.size === 0)
    return "This holds no read-out. Paste the whole output of “adb shell getprop” or “fastboot getvar all”";
  if (read.serial && standing.serial && !sameSerial(read.serial, standing.serial)) {
    const [its, ours] = endsApart(read.serial, standing.serial);
    return `This read-out is of another device: its serial number ends ${its}, ${standing.tag} ends ${ours}. Nothing was saved: check the label and the lead`;
  }
  const other = whoElseHas(store, { serial: standing.serial ? null : read.serial }, standing);
  if (other.is === "here") return `${other.says}. Nothing was saved`;
  const known = plannedDevice(store, standing);
  const running = currentValue(known.facts, "system.image");
  const port = running === undefined ? null : (indexOf(store).images.get(running)?.image.port ?? null);
  // A port names the model it was built for: what it says of itself says nothing of this device.
  if (port && read.facts.get("model.codename") === port.codename)
    for (const key of OF_THE_MODEL) read.facts.delete(key);
  const codename = read.facts.get("model.codename");
  if (
    known.model &&
    codename !== undefined &&
    currentValue(known.facts, "model.number") &&
    codename !== known.model.codename
  )
    return `This read-out is of another model: its code name is ${codename}, ${standing.tag} is a ${known.model.codename}. Nothing was saved: check the label, or correct the model number first`;
  const maker = read.facts.get("model.maker");
  if (known.model && typeof maker === "string" && currentValue(known.facts, "system.kind") === "stock") {
    const same = maker.toLowerCase() === known.model.maker.toLowerCase();
    if (!same)
      return `This read-out is of another maker's device: it says ${maker}, ${standing.tag} is a ${known.model.maker}. Nothing was saved: check the label, or correct the model number first`;
  }
  inTransaction(store, () => {
    appendFacts(
      store,
      standing.id,
      [...read.facts].map(([key, value]) => ({ key, value, source: "read" as const, ...hand })),
    );
    const room = readRoom(text);
    if (room) appendRoom(store, standing.id, room, hand);
    if (read.serial && !standing.serial) saveDevice(store, standing, { ...standing, serial: read.serial }, hand);
    if (other.is === "left") setReturns(store, standing.id, other.earlier.device);
  });
  return null;
}

/**
 * Writes partitions that were read in another way than by a read-out: from the layout tool's text or a super layout file.
 *
 * @returns what is wrong in words, or null when it was written
 */
export function takeRoom(store: Store, standing: Standing, room: PartitionRoom, hand: Hand): string | null {
  const slot = currentValue(plannedDevice(store, standing).facts, "slot.current");
  const facts = roomFacts(room, slot);
  if (facts.length === 0) return "It tells no system partition. Nothing was saved";
  inTransaction(store, () => {
    appendRoom(store, standing.id, room, hand);
    appendFacts(
      store,
      standing.id,
      facts.map(([key, value]) => ({ key, value, source: "read" as const, ...hand })),
    );
  });
  return null;
}
