import { harmless, inOperation, look, normal, type Pattern, RECOVERY_TEXTS, stop } from "../pattern";

const source = RECOVERY_TEXTS;
const OTHER_DEVICE = stop(
  "The package is for another device",
  "Stop: compare the code name with the label and the model's record",
);

/** What recoveries say while they install, format and mount. */
export const RECOVERY: readonly Pattern[] = [
  {
    id: "recovery.other-device",
    line: /this package is for (device|"|')|package is for .* devices?[;,] this is/i,
    means: OTHER_DEVICE,
    source,
    examples: [
      'E3004: This package is for "vesper" devices; this is a "lumen".',
      "This package is for device: vesper,vesper2; this device is lumen.",
    ],
  },
  {
    id: "recovery.error-7",
    line: /(error|status):? ?7\b|ended with error: ?7\b/i,
    means: stop(
      "On a ROM or firmware: wrong device, wrong base, or no room",
      "Stop: read the line above it, which says which of the three",
    ),
    unless: [
      {
        where: inOperation("install-services"),
        means: look(
          "On a services add-on often harmless",
          "Look after the first start whether the services are there; if not, a smaller add-on",
        ),
      },
    ],
    source,
    examples: ["Updater process ended with ERROR: 7", "Error 7"],
    not: ["Error 70", "took 7 seconds"],
  },
  {
    id: "recovery.other-base",
    line: /unexpected contents|modem (firmware )?version|trustzone version|firmware version .* (required|needed|mismatch)|assert failed/i,
    means: stop(
      "The base under it is not the one it was made for",
      "Install the firmware or base that the build names, then again",
    ),
    source,
    examples: [
      "E1001: Failed to update system image; system partition has unexpected contents after OTA update.",
      "assert failed: getprop",
    ],
  },
  {
    id: "recovery.no-room",
    line: /^(?!FAILED|.*FAILED \().*(not enough (free )?space|no space left)/i,
    means: stop(
      "There is no room for it",
      "An add-on: take a smaller one. A ROM: the empty super layout, where the build says so",
    ),
    source,
    examples: ["Not enough space for the package", "write failed: No space left on device"],
  },
  {
    id: "recovery.signature",
    line: /signature verification failed|failed to verify (whole-file )?signature/i,
    means: look(
      "The package is not signed with this recovery's key",
      "In the ROM's own recovery it can be confirmed. In the maker's recovery it can't: the wrong recovery runs",
    ),
    source,
    examples: ["E:signature verification failed", "E: failed to verify whole-file signature"],
  },
  {
    id: "recovery.status-good",
    line: /completed with status 0\b|script succeeded|^status:? 0\b/i,
    means: normal("It went well"),
    success: true,
    source,
    examples: ["Install from ADB completed with status 0.", "script succeeded: result was [1.000000]", "Status 0"],
    not: ["Install from ADB completed with status 1."],
  },
  {
    id: "recovery.status-bad",
    line: /completed with status [1-9]|installation aborted|install(ation)? failed|error installing zip/i,
    means: stop("The package was not installed", "Read the lines above it; do not start the system"),
    unless: [
      {
        where: inOperation("install-services"),
        means: look(
          "The add-on was not installed",
          "A smaller add-on, or one for this very release; before the first start",
        ),
      },
    ],
    source,
    examples: [
      "Install from ADB completed with status 1.",
      "Installation aborted.",
      "Error installing zip file '/sdcard/rom.zip'",
    ],
  },
  {
    id: "recovery.invalid-zip",
    line: /invalid zip file|zip (file )?is corrupt|could not find .*update-binary|digest (check|verification) failed|bad zip/i,
    means: stop(
      "The package is damaged, or was unpacked and packed again",
      "Fetch it again and leave it zipped; compare its digest",
    ),
    source,
    examples: ["Invalid zip file format!", "Could not find 'META-INF/com/android/update-binary' in the zip file."],
  },
  {
    id: "recovery.mount-data",
    line: /(failed|unable) to mount '?\/?(data|sdcard|storage|external_storage|internal storage)/i,
    means: look(
      "Storage can't be read: it is encrypted, or made by another system",
      "Format data, restart into the recovery, copy again; or bring the files on a stick",
    ),
    unless: [
      {
        where: ({ step, operation }) => /wipe|format/.test(step ?? "") || operation === "format-data",
        means: harmless("It is about to be formatted anyway"),
      },
    ],
    source,
    examples: ["Failed to mount '/data' (Invalid argument)", "E:Unable to mount storage", "Unable to mount '/data'"],
  },
  {
    id: "recovery.mount-system",
    line: /(failed|unable) to mount '?\/?(system(_root)?|vendor|product|odm|metadata|cache|persist|efs)\b/i,
    means: look(
      "A partition can't be read",
      "Before a write it may be empty: go on. After one: write again; the stock package if it stays so",
    ),
    unless: [
      {
        where: inOperation("install-rom", "install-firmware-pack"),
        means: harmless("It is written in a moment: what was there is not readable, and need not be"),
      },
    ],
    source,
    examples: [
      "Failed to mount '/system_root' (Block device required)",
      "Failed to mount '/metadata' (Invalid argument)",
    ],
  },
  {
    id: "recovery.harmless",
    line: /unable to find partition size|unable to (find|locate) (volume|storage device)|could not (open|read) '?\/?(cache|misc)|unable to read file .*(recovery|log)/i,
    means: harmless("Recoveries say this on many devices; it changes nothing"),
    source,
    examples: ["Unable to find partition size for '/recovery'", "E:Unable to find volume for path"],
  },
  {
    id: "recovery.normal",
    line: /^(installing (zip file|update|'|package)|verifying |opening update package|checking for (md5|digest)|formatting (data|cache|userdata)|wiping |updating partition details|patching system image|data wipe complete|done\.?$|\.{3}done|finding update package|supported api|restarting adbd|now send the package|step \d+\/\d+)/i,
    means: normal("As it should be"),
    source,
    examples: [
      "Installing zip file '/sdcard/rom.zip'",
      "Data wipe complete.",
      "Step 1/2",
      "...done",
      "Now send the package you want to apply",
    ],
  },
];
