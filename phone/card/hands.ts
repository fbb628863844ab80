import fs from "node:fs";
import { compareFirmware } from "~/core/android/firmwareVersion";
import { findLabel, readStandIn, type StandInLabel } from "~/core/files/standIn";
import type { Acts, Seen } from "~/phone/acts";
import { startSystem, wipeData } from "~/phone/boot";
import { type Content, note, type PhoneState } from "~/phone/state";
import { readFromCard, rootFolders } from "./readCard";

/** Seconds of holding: until the start picture, and on until a percentage shows. Common practice, no source. */
const [LOGO_AFTER, ON_FOR] = [7, 5];
const low = (text: string) => text.toLowerCase();

/** What a card update finds on the card: the label of the update in a folder of the root; in words why there is none. */
function updateOn(state: PhoneState): StandInLabel | string {
  const { card } = state;
  if (!card?.image || !card.inserted) return "there is no card in it";
  if (fs.statSync(card.image).size > card.largest) return "the card is not seen: it is too large for this device";
  const folders = rootFolders(card.image);
  if (!folders) return "the card is not seen: it is no FAT card";
  for (const folder of folders) {
    const bytes = readFromCard(card.image, `${folder}/update.bin`);
    const label = bytes && findLabel(bytes);
    if (label) return label;
  }
  return "no update is found on the card";
}

function refusal(state: PhoneState, label: StandInLabel): string | null {
  if (label.devices.length && !label.devices.includes(state.codename)) return "the update is for another model";
  if (label.modelNumbers && !label.modelNumbers.map(low).includes(low(state.modelNumber)))
    return `the update is for ${label.modelNumbers.join(", ")}`;
  const region = state.card?.region;
  if (label.regions && region && !label.regions.map(low).includes(low(region)))
    return `the update is for region ${label.regions.join(", ")}`;
  const against = label.firmware && compareFirmware(state.firmwareOrder, label.firmware, state.firmware);
  return typeof against === "number" && against < 0 ? "the update is older than what is installed" : null;
}

/** The maker's own update writes every partition and wipes. */
function writeAll(state: PhoneState, label: StandInLabel) {
  const content: Content = { ...label, size: 4096, verificationOff: false, spoiled: null };
  for (const name of Object.keys(state.partitions)) if (name !== "services") state.partitions[name] = content;
  if (label.firmware) state.firmware = label.firmware;
  wipeData(state, true);
  note(state, `updated from the card: ${label.image}`);
}

/** What fingers do with cards and sticks. */
export const cardHands: Acts = [
  [
    "stick.plug-in.",
    (s, image) => {
      if (s.mode !== "recovery") return "Nothing shows the stick: the recovery does not run";
      if (!s.stick) return "There is no stick";
      // A stick is read past the encryption of the device's own storage.
      const bytes = readFromCard(s.stick, `${image}.img`);
      const content = bytes && readStandIn(bytes);
      if (!content) return "The stick does not hold the image";
      s.storage[`/usb/${image}.img`] = { ...content.label, size: content.size, verificationOff: false, spoiled: null };
      return null;
    },
  ],
  [
    "card.insert",
    (s) => {
      if (!s.card) return "There is no card slot";
      s.mode = "off";
      s.card.inserted = true;
      return null;
    },
  ],
  [
    "keys.card-update",
    (s, _rest, [three, two]): Seen => {
      if (s.mode !== "off") return "It is not switched off";
      const held = (keys: readonly string[], hold: typeof three, least: number) =>
        hold !== undefined && keys.every((k) => hold.keys.includes(k)) && hold.seconds >= least;
      if (
        !held(["volume-up", "volume-down", "power"], three, LOGO_AFTER) ||
        !held(["volume-up", "volume-down"], two, ON_FOR)
      ) {
        startSystem(s);
        return "Android starts: the keys came off too early";
      }
      if (s.battery < 30) return "The device refuses: the battery is too low";
      const label = updateOn(s);
      const why = typeof label === "string" ? label : refusal(s, label);
      if (typeof label === "string" || why) {
        startSystem(s);
        return `No percentage shows: ${why}`;
      }
      writeAll(s, label);
      startSystem(s);
      return null;
    },
  ],
];
