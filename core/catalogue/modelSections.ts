import { OWN_SCHOOLS, SCHOOLS } from "~/core/policy/schools";
import { FACET_WORDS } from "./facets";
import { EDITION_WORDS } from "./flasherSlots";
import { FLASH_WORDS, OPEN_PARTS, OPEN_WORDS, QUIRK_WORDS } from "./model";
import { choices, HARDWARE, PROVENANCE, type Section, words } from "./sections";

/** A model is edited in parts, each a form of its own. */
export const MODEL_SECTIONS: readonly Section[] = [
  {
    id: "names",
    title: "Who it is",
    fields: [
      { at: "maker", label: "Maker", kind: "text" },
      { at: "names", label: "Sold as", kind: "lines", hint: "One name a line; the first is the one it goes by" },
      { at: "modelNumbers", label: "Model numbers", kind: "lines", hint: "One a line" },
      { at: "codename", label: "Code name", kind: "text" },
      { at: "board", label: "Board", kind: "text" },
      { at: "form", label: "Kind", kind: "choice", options: words(["phone", "tablet", "box"]) },
      {
        at: "screen",
        label: "Screen",
        kind: "text",
        nullable: true,
        hint: "As it can be measured, like 6.4 in, 1080 × 2340",
      },
      { at: "launchApi", label: "API level it was sold with", kind: "number" },
      { at: "cpu", label: "Processor", kind: "choice", options: words(["arm64", "arm"]) },
      { at: "hardware", label: "Hardware it has", kind: "checks", options: HARDWARE },
      {
        at: "open",
        label: "Nobody knows yet: what stands for it counts for nothing, and each device is asked",
        kind: "checks",
        options: OPEN_PARTS.map((part) => ({ value: part, text: OPEN_WORDS[part] })),
      },
      ...PROVENANCE,
    ],
  },
  {
    id: "unlocking",
    title: "Unlocking and locking",
    fields: [
      { at: "unlock.possible", label: "The bootloader can be unlocked", kind: "yes-no" },
      { at: "unlock.says", label: "What to say about it", kind: "area" },
      { at: "unlock.waitingDays", label: "Days of waiting", kind: "number" },
      { at: "unlock.command", label: "Command", kind: "choice", options: words(["flashing unlock", "oem unlock"]) },
      { at: "unlock.consequences", label: "What never comes back", kind: "lines", hint: "One a line" },
      { at: "makerLock", label: "The maker has an activation lock of its own", kind: "yes-no", nullable: true },
      { at: "relock", label: "A wholly stock device may be locked again", kind: "yes-no" },
      ...OWN_SCHOOLS.map((key) => ({
        at: `schools.${key}`,
        label: `${SCHOOLS[key].question}, on this model`,
        kind: "choice" as const,
        nullable: true,
        options: SCHOOLS[key].sides.map((s) => ({ value: s.value, text: s.says })),
        hint: "Empty: as the house has it",
      })),
      ...PROVENANCE,
    ],
  },
  {
    id: "firmware",
    title: "Firmware",
    fields: [
      {
        at: "firmware.order",
        label: "Versions, oldest first",
        kind: "lines",
        hint: "One a line; the order decides what is newer",
      },
      {
        at: "firmware.dangerous",
        label: "Ranges that kill boards",
        kind: "rows",
        columns: [
          { at: "from", label: "From", kind: "text" },
          { at: "to", label: "To", kind: "text" },
          { at: "says", label: "What happens", kind: "area" },
          { at: "safe", label: "Safe base", kind: "text" },
        ],
      },
      ...PROVENANCE,
    ],
  },
  {
    id: "flashing",
    title: "Partitions and keys",
    fields: [
      { at: "flash", label: "Flashed through", kind: "choice", options: choices(FLASH_WORDS) },
      {
        at: "binder",
        label: "Binder of its kernel",
        kind: "choice",
        nullable: true,
        options: choices(FACET_WORDS.binder),
        hint: "Matters on 32-bit processors; adb shell uname -m says aarch64 where it is 64-bit",
      },
      {
        at: "systemAsRoot",
        label: "Root folder inside the system partition",
        kind: "yes-no",
        nullable: true,
        hint: "Always so with two slots, or sold with Android 10 or later",
      },
      { at: "treble", label: "Vendor interface (Treble)", kind: "yes-no" },
      { at: "slots", label: "Two slots", kind: "yes-no" },
      { at: "userspaceFastboot", label: "Userspace fastboot", kind: "yes-no" },
      { at: "logical", label: "System inside a super partition", kind: "yes-no" },
      { at: "maxDownload", label: "Most it takes at once, bytes", kind: "number" },
      { at: "writeRate", label: "Bytes written a second", kind: "number" },
      { at: "room.system", label: "Room for the system, bytes", kind: "number" },
      { at: "room.product", label: "Room that product frees, bytes", kind: "number", nullable: true },
      { at: "room.boot", label: "Boot partition, bytes", kind: "number" },
      { at: "room.recovery", label: "Recovery partition, bytes", kind: "number", nullable: true },
      { at: "keys.bootloader", label: "Keys to the bootloader", kind: "area" },
      { at: "keys.recovery", label: "Keys to recovery", kind: "area" },
      { at: "stockRestoresRecovery", label: "The stock system puts its own recovery back", kind: "yes-no" },
      { at: "directDowngrade", label: "Going down a release directly went well before", kind: "yes-no" },
      {
        at: "identity",
        label: "Partitions that make the device itself",
        kind: "lines",
        hint: "One a line, as the bootloader names them, like persist. A recovery that can read them saves them before anything is written",
      },
      ...PROVENANCE,
    ],
  },
  {
    id: "card",
    title: "Card update",
    nothingWithout: [{ at: "card", field: "keys" }],
    fields: [
      {
        at: "card.keys",
        label: "Keys that start it",
        kind: "text",
        nullable: true,
        hint: "Empty: this model takes no update from a card",
      },
      { at: "card.largest", label: "Largest card that worked, bytes", kind: "number", nullable: true },
      ...PROVENANCE,
    ],
  },
  {
    id: "download",
    title: "Download mode",
    nothingWithout: [{ at: "download", field: "edition" }],
    fields: [
      {
        at: "download.edition",
        label: "Edition of the flasher",
        kind: "choice",
        nullable: true,
        options: choices(EDITION_WORDS),
        hint: "Empty: this model has no download mode",
      },
      { at: "download.enter", label: "How it starts", kind: "area", hint: "The keys, as they are held" },
      {
        at: "download.fuse",
        label: "What the first foreign image blows for good",
        kind: "text",
        nullable: true,
        hint: "Said before it blows",
      },
      {
        at: "download.greyedToggle",
        label: "Locks itself again unless its unlock switch was seen greyed",
        kind: "yes-no",
      },
      {
        at: "download.encryption",
        label: "Forced encryption goes off by",
        kind: "choice",
        nullable: true,
        options: choices({
          script: "the recovery's command, run twice",
          wipe: "wiping data, metadata and the key partitions",
        }),
      },
      ...PROVENANCE,
    ],
  },
  {
    id: "loader",
    title: "Loader board",
    nothingWithout: [{ at: "loader", field: "chip" }],
    fields: [
      {
        at: "loader.chip",
        label: "Chip and its revision",
        kind: "text",
        nullable: true,
        hint: "As an information app tells it; empty: this model has no loader board",
      },
      { at: "loader.button", label: "Where the hidden button is", kind: "area" },
      {
        at: "loader.rowList",
        label: "Row list of the flasher",
        kind: "choice",
        options: choices({ long: "the long one, 16 rows", short: "the short one, 11 rows" }),
      },
      {
        at: "loader.list",
        label: "Partition list",
        kind: "area",
        asIs: true,
        hint: "From the word FIRMWARE to the last closing bracket; sizes in sectors of 512 bytes",
      },
      { at: "loader.sectors", label: "Sectors of its flash", kind: "number", nullable: true },
      ...PROVENANCE,
    ],
  },
  {
    id: "quirks",
    title: "Quirks",
    fields: [
      {
        at: "quirks",
        label: "Quirks",
        kind: "rows",
        hint: "What is peculiar to this model; the bench sheet says it where it shows",
        columns: [
          { at: "at", label: "Where it shows", kind: "choice", options: choices(QUIRK_WORDS) },
          { at: "says", label: "What to mind", kind: "area" },
        ],
      },
      ...PROVENANCE,
    ],
  },
];
