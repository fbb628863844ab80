import { z } from "zod";
import { apiOf } from "~/core/android/releases";
import { Bytes, Cpu, Hardware, IsoDate, Provenance, Slug } from "./common";
import { Facets, NO_FACETS } from "./facets";
import { FlasherSlot } from "./flasherSlots";
import { PackageList, PackageRole, ROLE_WORDS } from "./packageList";

export const ImageKind = z.enum([
  "official-update",
  "stock",
  "firmware-pack",
  "recovery",
  "rom",
  "gsi",
  "services",
  "verification",
  "package-list",
]);
export type ImageKind = z.infer<typeof ImageKind>;

export const KIND_WORDS: Record<ImageKind, string> = {
  "official-update": "Official update",
  stock: "Stock package",
  "firmware-pack": "Firmware pack",
  recovery: "Recovery",
  rom: "Custom ROM",
  gsi: "Generic system image (GSI)",
  services: "Services add-on",
  verification: "Verification file",
  "package-list": "List of packages to clean",
};

const Digest = z.string().regex(/^[0-9a-f]{64}$/, "A SHA-256 digest has 64 hexadecimal digits");

/** How a stock package is written to a device. */
export const WrittenBy = z.enum(["parts", "flasher", "rows", "card", "script"]);
export type WrittenBy = z.infer<typeof WrittenBy>;

export const WRITTEN_BY_WORDS: Record<WrittenBy, string> = {
  parts: "part by part with fastboot",
  flasher: "tars for the flasher, in download mode",
  rows: "row by row, through the board's loader",
  card: "from the root of a memory card",
  script: "by the maker's own bootloader script",
};

export const ImageFile = z.strictObject({
  name: z.string().regex(/^[A-Za-z0-9][A-Za-z0-9._-]{0,79}$/, "File names have no spaces and at most 80 characters"),
  /** The partition this file is written to, without slot suffix; null for a package that is installed. */
  partition: z
    .string()
    .regex(/^[a-z][a-z_0-9]*$/)
    .nullable()
    .default(null),
  /** For a tar of a download-mode package: which slot of the flasher it goes into. */
  slot: FlasherSlot.nullable().default(null),
  bytes: Bytes,
  /** Size on the partition, where the file is sparse or packed. */
  expanded: Bytes.nullable().default(null),
  sha256: Digest.nullable().default(null),
});
export type ImageFile = z.infer<typeof ImageFile>;

export const Fault = z.strictObject({
  hardware: Hardware,
  /** Models it was seen on; empty means all. */
  models: z.array(Slug).default([]),
  says: z.string().min(3).max(200),
});

/** A build, package or companion file, with what it suits, needs, brings and breaks. */
export const Image = z
  .strictObject({
    id: Slug,
    kind: ImageKind,
    title: z.string().min(1).max(80),
    version: z.string().min(1).max(40),
    release: z.string().refine((v) => apiOf(v) !== null, "This is not an Android version"),
    /** Full build number: of the system it carries, or for a verification file of the system it belongs to. */
    build: z.string().max(120).nullable().default(null),
    /** Firmware version it brings along. */
    firmware: z.string().max(60).nullable().default(null),
    patch: IsoDate.nullable().default(null),
    /** Until when its makers promise security patches for this release. */
    patchedUntil: IsoDate.nullable().default(null),
    released: IsoDate,
    /** Models it is made for; empty for a generic one. */
    models: z.array(Slug).default([]),
    cpu: Cpu.nullable().default(null),
    files: z.array(ImageFile),
    /** Which packages of a stock build go, and what is put in their place. */
    packages: PackageList.nullable().default(null),
    /** ROM it is a build of: two builds of one line are the same ROM. */
    line: Slug.nullable().default(null),
    /** How a stock package is written. */
    writtenBy: WrittenBy.default("parts"),
    /** For a card update: the folder inside the package that goes to the root of the card. */
    cardFolder: z
      .string()
      .regex(/^[A-Za-z0-9][A-Za-z0-9_-]{0,30}$/, "A folder's name: letters, digits, _ and -, no spaces")
      .nullable()
      .default(null),
    /** For a maker's script: its text as it lies in the package. */
    script: z.string().min(10).max(40_000).nullable().default(null),
    /** A ROM that was built for another model: what it says it is, and what it needs under it. */
    port: z
      .strictObject({
        name: z.string().min(1).max(60),
        modelNumber: z.string().min(1).max(40),
        codename: z.string().min(1).max(40),
        /** Full build number of the maker's that has to lie under it; null where storage that is not encrypted is enough. */
        base: z.string().max(120).nullable().default(null),
      })
      .nullable()
      .default(null),
    /** Chip and revision of the board that a package for a loader is made for. */
    chip: z.string().min(2).max(60).nullable().default(null),
    /** Regions (sales codes) it is made for; empty where the maker makes no difference. */
    regions: z.array(z.string().min(1).max(20)).default([]),
    /** Model numbers it is made for, where the maker makes one for each; empty: all of its models. */
    modelNumbers: z.array(z.string().min(1).max(40)).default([]),
    /** Fuse level of the bootloader it carries; null where nobody read it. */
    fuse: z.number().int().min(0).max(99).nullable().default(null),
    /** What a generic image is built for, beside its processor. */
    generic: Facets.default(NO_FACETS),
    needs: z
      .strictObject({
        firmwareFrom: z.string().nullable().default(null),
        firmwareTo: z.string().nullable().default(null),
        /** An official update applies only to these releases of the stock system. */
        fromReleases: z.array(z.string()).default([]),
        /** Lowest version of a custom recovery that can install it. */
        recoveryVersion: z.string().nullable().default(null),
        /** A recovery that can't read storage while the system's forced encryption is on. */
        decrypted: z.boolean().default(false),
      })
      .default({ firmwareFrom: null, firmwareTo: null, fromReleases: [], recoveryVersion: null, decrypted: false }),
    /** How a custom ROM goes on. */
    installs: z.enum(["packages", "sideload"]).nullable().default(null),
    /** A custom recovery, or the ROM's own. */
    flavour: z.enum(["custom", "rom"]).nullable().default(null),
    services: z.boolean().default(false),
    integrity: z.boolean().default(false),
    rooted: z.boolean().default(false),
    faults: z.array(Fault).default([]),
    withdrawn: z
      .strictObject({ on: IsoDate, says: z.string().min(3), successor: Slug.nullable() })
      .nullable()
      .default(null),
    /** Recorded share of installs that went well, 0 to 1; null where nothing is recorded yet. */
    success: z.number().min(0).max(1).nullable().default(null),
    ...Provenance,
  })
  .superRefine((image, ctx) => {
    const say = (path: string, message: string) => ctx.addIssue({ code: "custom", path: [path], message });
    const isList = image.kind === "package-list";
    // An official update comes over the device's own network: there may be no file here at all.
    if (!isList && image.kind !== "official-update" && image.files.length === 0)
      say("files", "An image has at least one file");
    if (isList && !image.packages) say("packages", "A list of packages names what goes");
    if (!isList && image.packages) say("packages", "Only a list of packages names packages");
    if (isList && !image.build) say("build", "A list of packages belongs to one full build number");
    for (const role of PackageRole.options) {
      const file = image.packages?.[role]?.file;
      if (file && !image.files.some((f) => f.name === file))
        say("packages", `${file}, the ${ROLE_WORDS[role]}, is not among its files`);
    }
    if (image.kind === "rom" && !image.installs)
      say("installs", "A custom ROM says how it is installed: packages or sideload");
    if (image.kind === "recovery" && !image.flavour)
      say("flavour", "A recovery says whether it is a custom one or the ROM's own");
    if (image.kind === "verification" && !image.build)
      say("build", "A verification file belongs to one full build number");
    if (image.kind === "gsi" && !image.cpu) say("cpu", "A generic image says its CPU type");
    if (image.kind === "stock" && !image.firmware) say("firmware", "A stock package says which firmware it brings");
    if (!["gsi", "services"].includes(image.kind) && image.models.length === 0)
      say("models", "Only generic images and services add-ons may name no model");
    if (image.writtenBy !== "parts" && image.kind !== "stock")
      say("writtenBy", "Only a stock package is written in another way than part by part");
    if (image.writtenBy === "flasher" && !image.files.some((f) => f.slot === "system"))
      say("files", "A package for the flasher says which file goes into which slot; the system part is missing");
    if (image.writtenBy === "rows" && !image.chip)
      say(
        "chip",
        "A package for a loader says for which chip and revision: two boxes of one name carry different ones",
      );
    if (image.writtenBy === "card" && !image.cardFolder)
      say("cardFolder", "A package for a card names the folder that goes to the card's root");
    if (image.writtenBy === "script" && !image.script)
      say("script", "A package with a script of its own has its text here, so that it can be read before it is run");
    if (image.port && (image.kind !== "rom" || image.installs !== "packages"))
      say("port", "A port is a custom ROM that a custom recovery installs from packages");
    if (image.port && image.files.length !== 2)
      say("files", "A port has two packages: the system's, then the vendor's");
    const slots = image.files.flatMap((f) => f.slot ?? []);
    const twice = slots.find((slot, i) => slots.indexOf(slot) !== i);
    if (twice) say("files", `Two files for one slot of the flasher: ${twice}`);
    if (image.kind === "gsi" && !image.files[0]?.expanded)
      say("files", "A generic image says its expanded size: without it the room can't be worked out");
  });
export type Image = z.infer<typeof Image>;

/**
 * API level of an image's release.
 *
 * @example imageApi({ release: "12L" }) // 32
 */
export function imageApi(image: Pick<Image, "release">): number {
  return apiOf(image.release) as number;
}

/**
 * Bytes to fetch for an image.
 *
 * @example imageBytes({ files: [{ bytes: 3 }, { bytes: 4 }] }) // 7
 */
export function imageBytes(image: { readonly files: readonly Pick<ImageFile, "bytes">[] }): number {
  return image.files.reduce((sum, file) => sum + file.bytes, 0);
}

/**
 * Bytes that end up on the device.
 *
 * @example expandedBytes({ files: [{ bytes: 3, expanded: 9 }, { bytes: 4, expanded: null }] }) // 13
 */
export function expandedBytes(image: { readonly files: readonly Pick<ImageFile, "bytes" | "expanded">[] }): number {
  return image.files.reduce((sum, file) => sum + (file.expanded ?? file.bytes), 0);
}
