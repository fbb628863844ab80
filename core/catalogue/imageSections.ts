import { FACET_WORDS } from "./facets";
import { SLOT_WORDS } from "./flasherSlots";
import { KIND_WORDS, WRITTEN_BY_WORDS } from "./image";
import { ROLE_WORDS } from "./packageList";
import { choices, HARDWARE, PROVENANCE, type Section, type SectionField, words } from "./sections";

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
