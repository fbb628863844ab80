import { OWN_SCHOOLS, SCHOOLS } from "~/core/policy/schools";
import { HARDWARE_WORDS, Hardware } from "./common";
import { FACET_WORDS } from "./facets";
import { EDITION_WORDS, SLOT_WORDS } from "./flasherSlots";
import { KIND_WORDS, WRITTEN_BY_WORDS } from "./image";
import { FLASH_WORDS, OPEN_PARTS, OPEN_WORDS, QUIRK_WORDS } from "./model";
import { ROLE_WORDS } from "./packageList";

/** One thing that is edited: where it stands in the entry, and what its field looks like. */
export type SectionField =
  | {
      readonly at: string;
      readonly label: string;
      readonly hint?: string;
      readonly kind: "text" | "area" | "number" | "date" | "lines" | "yes-no";
      /** An empty field stands for "not known". */
      readonly nullable?: boolean;
      /** An area whose lines stay lines: it is no sentence. */
      readonly asIs?: true;
    }
  | {
      readonly at: string;
      readonly label: string;
      readonly hint?: string;
      readonly kind: "choice" | "checks";
      readonly nullable?: boolean;
      /** Fixed choices, or those of the catalogue. */
      readonly options: readonly { readonly value: string; readonly text: string }[] | "models" | "images";
    }
  | {
      readonly at: string;
      readonly label: string;
      readonly hint?: string;
      readonly kind: "rows";
      readonly nullable?: boolean;
      readonly columns: readonly Exclude<SectionField, { kind: "rows" }>[];
    };

export interface Section {
  readonly id: string;
  readonly title: string;
  readonly fields: readonly SectionField[];
  /** Groups of fields that stand for nothing at all while the one named first is empty. */
  readonly nothingWithout?: readonly { readonly at: string; readonly field: string }[];
  /** Kinds of image that have this part; all of them where it does not say. */
  readonly kinds?: readonly string[];
}

const words = (list: readonly string[]) => list.map((value) => ({ value, text: value }));
const choices = (texts: Readonly<Record<string, string>>) =>
  Object.entries(texts).map(([value, text]) => ({ value, text }));
const HARDWARE = Hardware.options.map((value) => ({ value, text: HARDWARE_WORDS[value] }));
const PROVENANCE: Section["fields"] = [
  { at: "source", label: "Where this comes from", kind: "text" },
  { at: "on", label: "Last looked at", kind: "date" },
];

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

/** An image is edited in parts, each a form of its own. */
export const IMAGE_SECTIONS: readonly Section[] = [
  {
    id: "what",
    title: "What it is",
    fields: [
      { at: "title", label: "Title", kind: "text", hint: "As the pages call it" },
      { at: "version", label: "Version", kind: "text" },
      { at: "release", label: "Android version", kind: "text" },
      { at: "build", label: "Full build number", kind: "text", nullable: true },
      { at: "patch", label: "Security patch", kind: "date", nullable: true },
      {
        at: "patchedUntil",
        label: "Patches promised until",
        kind: "date",
        nullable: true,
        hint: "As its makers say; empty where they say nothing",
      },
      { at: "released", label: "Released", kind: "date" },
      { at: "firmware", label: "Brings firmware", kind: "text", nullable: true },
      { at: "services", label: "Brings the services package", kind: "yes-no" },
      { at: "integrity", label: "Passes the integrity verdict", kind: "yes-no" },
      { at: "rooted", label: "Rooted", kind: "yes-no" },
      { at: "success", label: "Share of installs that went well, 0 to 1", kind: "number", nullable: true },
      ...PROVENANCE,
    ],
  },
  {
    id: "suits",
    title: "What it suits and needs",
    fields: [
      { at: "models", label: "Models it is made for", kind: "checks", options: "models" },
      { at: "cpu", label: "Processor", kind: "choice", nullable: true, options: words(["arm64", "arm"]) },
      { at: "needs.firmwareFrom", label: "Firmware from", kind: "text", nullable: true },
      { at: "needs.firmwareTo", label: "Firmware up to", kind: "text", nullable: true },
      {
        at: "needs.fromReleases",
        label: "Goes only on Android",
        kind: "lines",
        hint: "One release a line; for official updates",
      },
      { at: "needs.recoveryVersion", label: "Recovery from version", kind: "text", nullable: true },
      {
        at: "installs",
        label: "How a ROM goes on",
        kind: "choice",
        nullable: true,
        options: choices({ packages: "packages, from a custom recovery", sideload: "sideload, from its own recovery" }),
      },
      {
        at: "flavour",
        label: "Kind of recovery",
        kind: "choice",
        nullable: true,
        options: choices({ custom: "a custom one", rom: "the ROM's own" }),
      },
      {
        at: "line",
        label: "Line it is a build of",
        kind: "text",
        nullable: true,
        hint: "For a ROM: builds of one line are the same ROM, newer or older",
      },
      {
        at: "needs.decrypted",
        label: "The recovery can't read encrypted storage",
        kind: "yes-no",
        hint: "Forced encryption is switched off then, by the model's method",
      },
      ...PROVENANCE,
    ],
  },
  {
    id: "generic",
    title: "What it is built for",
    kinds: ["gsi"],
    fields: [
      {
        at: "generic.binder",
        label: "Binder",
        kind: "choice",
        nullable: true,
        options: choices(FACET_WORDS.binder),
        hint: "Matters on 32-bit processors",
      },
      { at: "generic.slots", label: "Layout", kind: "choice", nullable: true, options: choices(FACET_WORDS.slots) },
      {
        at: "generic.patching",
        label: "Patched for vendor parts",
        kind: "choice",
        nullable: true,
        options: choices(FACET_WORDS.patching),
        hint: "Lightly patched is tried first on newer devices, the others on older ones",
      },
      ...PROVENANCE,
    ],
  },
  {
    id: "written",
    title: "How it is written, and for whom",
    kinds: ["stock"],
    fields: [
      { at: "writtenBy", label: "Written", kind: "choice", options: choices(WRITTEN_BY_WORDS) },
      {
        at: "regions",
        label: "Regions",
        kind: "lines",
        hint: "One code a line; empty where the maker makes no difference",
      },
      {
        at: "modelNumbers",
        label: "Model numbers",
        kind: "lines",
        hint: "One a line; empty where it is for all numbers of its models",
      },
      {
        at: "cardFolder",
        label: "Folder for the card's root",
        kind: "text",
        nullable: true,
        hint: "For a card update: the folder itself, not what it lies in",
      },
      {
        at: "script",
        label: "The maker's script",
        kind: "area",
        asIs: true,
        nullable: true,
        hint: "As it lies in the package; it is read, explained, and never run as it is",
      },
      {
        at: "chip",
        label: "Chip and revision",
        kind: "text",
        nullable: true,
        hint: "For a loader board",
      },
      {
        at: "fuse",
        label: "Fuse level of its bootloader",
        kind: "number",
        nullable: true,
        hint: "For download mode: a device takes its own level or a higher one",
      },
      ...PROVENANCE,
    ],
  },
  {
    id: "port",
    title: "Built for another model",
    kinds: ["rom"],
    nothingWithout: [{ at: "port", field: "name" }],
    fields: [
      {
        at: "port.name",
        label: "The model it was built for",
        kind: "text",
        nullable: true,
        hint: "Empty: it is no port. The device names itself so afterwards",
      },
      { at: "port.modelNumber", label: "Model number that it tells", kind: "text" },
      { at: "port.codename", label: "Code name that it tells", kind: "text" },
      {
        at: "port.base",
        label: "Build that has to lie under it",
        kind: "text",
        nullable: true,
        hint: "The maker's full build number; empty: storage that is not encrypted is enough",
      },
      ...PROVENANCE,
    ],
  },
  {
    id: "faults",
    title: "Known faults",
    fields: [
      {
        at: "faults",
        label: "Faults",
        kind: "rows",
        hint: "No model ticked means all",
        columns: [
          { at: "hardware", label: "Hardware", kind: "choice", options: HARDWARE },
          { at: "models", label: "On models", kind: "checks", options: "models" },
          { at: "says", label: "What is wrong", kind: "area" },
        ],
      },
      ...PROVENANCE,
    ],
  },
  {
    id: "packages",
    title: "What goes, what stays",
    kinds: ["package-list"],
    nothingWithout: [
      { at: "packages.home", field: "file" },
      { at: "packages.keyboard", field: "file" },
    ],
    fields: [
      {
        at: "packages.remove",
        label: "What goes",
        kind: "rows",
        hint: "One package a row, by its whole name: never a pattern",
        columns: [
          { at: "name", label: "Package", kind: "text" },
          { at: "is", label: "What it is", kind: "text" },
          { at: "role", label: "Needs one in its place", kind: "choice", nullable: true, options: choices(ROLE_WORDS) },
          { at: "tried", label: "Tried by whom, when", kind: "text", nullable: true },
        ],
      },
      {
        at: "packages.keep",
        label: "What stays",
        kind: "rows",
        hint: "Beside what the lane never takes away: telephony, alerts, settings, set-up and the like",
        columns: [
          { at: "name", label: "Package", kind: "text" },
          { at: "is", label: "What it is", kind: "text" },
        ],
      },
      { at: "packages.home.file", label: "File of the new home screen", kind: "text", nullable: true },
      {
        at: "packages.home.component",
        label: "Its screen",
        kind: "text",
        hint: "Package, slash, part: com.example.home/.Main",
      },
      { at: "packages.keyboard.file", label: "File of the new keyboard", kind: "text", nullable: true },
      { at: "packages.keyboard.component", label: "Its input method", kind: "text", hint: "com.example.keys/.Service" },
      ...PROVENANCE,
    ],
  },
  {
    id: "withdrawn",
    title: "Withdrawn",
    nothingWithout: [{ at: "withdrawn", field: "on" }],
    fields: [
      { at: "withdrawn.on", label: "Withdrawn on", kind: "date", nullable: true, hint: "Empty: it is not withdrawn" },
      { at: "withdrawn.says", label: "Why", kind: "text" },
      { at: "withdrawn.successor", label: "Successor", kind: "choice", nullable: true, options: "images" },
    ],
  },
  {
    id: "files",
    title: "Files",
    fields: [
      {
        at: "files",
        label: "Files",
        kind: "rows",
        columns: [
          { at: "name", label: "Name", kind: "text" },
          { at: "partition", label: "Partition", kind: "text", nullable: true },
          { at: "slot", label: "Slot of the flasher", kind: "choice", nullable: true, options: choices(SLOT_WORDS) },
          { at: "bytes", label: "Bytes", kind: "number" },
          { at: "expanded", label: "On the device", kind: "number", nullable: true },
          { at: "sha256", label: "SHA-256", kind: "text", nullable: true },
        ],
      },
      ...PROVENANCE,
    ],
  },
];

/** A new image: what has to be known at least; the rest is added part by part. */
export const IMAGE_DRAFT: Section = {
  id: "new",
  title: "A new image",
  fields: [
    {
      at: "id",
      label: "Short name",
      kind: "text",
      hint: "Lower-case letters, digits, dots, dashes: it becomes a folder's name. Empty: made of the title",
    },
    {
      at: "kind",
      label: "Kind",
      kind: "choice",
      // A list of packages is made from what a device lists, on a page of its own.
      options: choices(KIND_WORDS).filter((c) => c.value !== "package-list"),
    },
    ...part("what", ["title", "version", "release", "build", "patch", "released", "firmware", "services", "rooted"]),
    ...part("suits", ["models", "cpu", "installs", "flavour"]),
    ...part("generic", ["generic.binder", "generic.slots", "generic.patching"]),
    ...part("files", ["files", "source", "on"]),
  ],
};

function part(id: string, fields: readonly string[]): SectionField[] {
  return (IMAGE_SECTIONS.find((s) => s.id === id)?.fields ?? []).filter((f) => fields.includes(f.at));
}
