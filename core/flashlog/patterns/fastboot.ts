import { AOSP_FASTBOOT, harmless, inOperation, look, normal, type Pattern, stop } from "../pattern";

const source = AOSP_FASTBOOT;
const RECALLED = "wording of AOSP fastboot, from memory";
const LEAD = "Replug, original lead, a USB 2 port; look whether the device shows its bootloader";

/** What the fastboot client prints. The refusals come before the general ones. */
export const FASTBOOT: readonly Pattern[] = [
  {
    id: "fastboot.variable-unknown",
    line: /FAILED \(remote: ?'?.*(variable|getvar).*(not found|unknown)|getvar:\S+ +FAILED/i,
    means: harmless("The device does not tell this variable; many do not"),
    source,
    examples: ["getvar:battery-level                          FAILED (remote: 'GetVar Variable Not found')"],
    not: ["Writing 'boot'   FAILED (remote: 'No such partition: boot')"],
  },
  {
    id: "fastboot.locked",
    line: /FAILED \(remote: ?'?.*(lock(ed)? state|locked device|not allowed.*lock|is locked)/i,
    means: stop("The bootloader is locked: nothing was written", "Go back to the unlocking step"),
    source,
    examples: [
      "Writing 'vbmeta_a'                            FAILED (remote: 'Flashing is not allowed in locked state')",
      "Erasing 'userdata'                            FAILED (remote: 'Erase is not allowed in locked state')",
    ],
  },
  {
    id: "fastboot.unlock-refused",
    line: /FAILED \(remote: ?'?.*(flashing unlock is not allowed|unlocking is not allowed|oem unlock is not allowed)/i,
    means: stop(
      "Unlocking is refused: the switch in the developer options is off, or this device never unlocks",
      "Start Android, look at the switch in the developer options; a greyed one: online once, wait a minute, look again",
    ),
    source,
    examples: ["FAILED (remote: 'flashing unlock is not allowed')"],
  },
  {
    id: "fastboot.already",
    line: /FAILED \(remote: ?'?.*already (un)?locked/i,
    means: look("It is so already", "Look at the start screen; then go on with the next step"),
    source,
    examples: ["FAILED (remote: 'already unlocked')"],
  },
  {
    id: "fastboot.no-partition",
    line: /FAILED \(remote: ?'?.*no such (logical )?partition/i,
    means: stop(
      "The device has no partition of this name in this mode",
      "Look which mode it is in: logical partitions exist in userspace fastboot only; compare the slot with the one the device tells",
    ),
    unless: [
      {
        where: inOperation("remove-product"),
        means: look(
          "There is no product partition of that slot",
          "Read current-slot again: the slot on the sheet may be the other one",
        ),
      },
    ],
    source,
    examples: [
      "Writing 'system'    FAILED (remote: 'No such partition: system')",
      "FAILED (remote: 'No such logical partition: product_b')",
    ],
  },
  {
    id: "fastboot.no-room",
    line: /FAILED \(remote: ?'?.*(larger than the partition|not enough space|too large|no space)/i,
    means: stop(
      "The image does not fit",
      "Only if the sheet says so: remove the product partition of the slot just read, then write again",
    ),
    source,
    examples: [
      "FAILED (remote: 'Image is larger than the partition')",
      "FAILED (remote: 'Not enough space to resize partition')",
    ],
  },
  {
    id: "fastboot.rollback",
    line: /FAILED \(remote: ?'?.*roll-?back/i,
    means: stop(
      "The file is older than the installed firmware allows",
      "Do not try again: this package is the wrong one",
    ),
    source,
    examples: ["Writing 'radio_a'   FAILED (remote: 'Anti-rollback check failed')"],
  },
  {
    id: "fastboot.write-failed",
    line: /FAILED \(remote: ?'?.*(flash write failure|write failed|i\/o error)/i,
    means: stop(
      "The device could not write: worn-out memory, or firmware that must not be written over",
      "Do not restart it. Repeat this one part once with another lead; then tell the coordinator",
    ),
    source,
    examples: ["Writing 'boot'   FAILED (remote: 'Flash write failure')"],
  },
  {
    id: "fastboot.mode",
    line: /FAILED \(remote: ?'?.*(not supported in the bootloader|unknown command|unrecognized command|not implemented)/i,
    means: stop(
      "The device does not know this command in the mode it is in",
      "Go to userspace fastboot first, where the sheet says so",
    ),
    source,
    examples: ["FAILED (remote: 'Command not supported in the bootloader')", "FAILED (remote: 'unknown command')"],
  },
  {
    id: "fastboot.invalid-image",
    line: /FAILED \(remote: ?'?.*invalid image/i,
    means: stop(
      "The file is not what belongs into this partition",
      "Compare name and digest with the sheet: a packed file must be unpacked first",
    ),
    source,
    examples: ["Writing 'boot'   FAILED (remote: 'Invalid image')"],
  },
  {
    id: "fastboot.lead",
    line: /FAILED \((status read failed|write to device failed|data transfer failure|remote: ?'?data transfer|Status malformed|device disconnected|.*end of file|.*connection reset|.*broken pipe)/i,
    means: look("The connection broke off in the middle", `${LEAD}. Repeat this one part`),
    source,
    examples: ["Sending 'boot' (4 KB)    FAILED (Status read failed (Success))"],
  },
  {
    id: "fastboot.no-file-system",
    line: /cannot generate image for|not automatically formatting|file system type \S+ not supported|failed to (generate|identify) |make_f2fs failed|mke2fs failed/i,
    means: look(
      "This client can't make the file system",
      "fastboot erase userdata, then fastboot erase metadata: the device makes its own at the first start",
    ),
    source,
    examples: [
      "fastboot: error: Cannot generate image for userdata",
      "Erase successful, but not automatically formatting.",
      "File system type f2fs not supported.",
    ],
  },
  {
    id: "fastboot.sparse-magic",
    line: /invalid sparse file format at header magic/i,
    means: look(
      "The client takes the file for a plain one and goes on; most often harmless",
      "Wait for OKAY behind each part. Without it, compare the file's digest with the list",
    ),
    unless: [
      {
        where: inOperation("install-port", "run-maker-script"),
        means: harmless("On a port or a maker's beta it comes while the parts count up, and means nothing"),
      },
    ],
    source: RECALLED,
    examples: ["Invalid sparse file format at header magic"],
  },
  {
    id: "fastboot.no-file",
    line: /fastboot: error: cannot (load|open) .*no such file/i,
    means: stop(
      "The file is not in the folder",
      "Start the command in the folder of files; fetch the file that is named",
    ),
    source,
    examples: ["fastboot: error: cannot load 'nothing.img': No such file or directory"],
  },
  {
    id: "fastboot.waiting",
    line: /^< waiting for /i,
    means: look("The client does not see the device", LEAD),
    source,
    examples: ["< waiting for any device >"],
  },
  {
    id: "fastboot.not-found",
    line: /^(fastboot: )?error: .*(failed to connect|connection refused|no such device)/i,
    means: look("The device is not in a fastboot mode, or not there", LEAD),
    source,
    examples: ["fastboot: error: Failed to connect to 127.0.0.1: Connection refused"],
  },
  {
    id: "fastboot.command-failed",
    line: /fastboot: error: command failed/i,
    means: look("The command did not work; the line above says why", "Read the line above it"),
    unless: [{ where: (c) => c.mayFail, means: harmless("The sheet says that this may fail, and what to do then") }],
    source,
    examples: ["fastboot: error: Command failed"],
  },
  {
    id: "fastboot.refused",
    line: /\bFAILED\b/,
    means: stop(
      "The device refused, for a reason that is not known here",
      "Note the words in brackets. Repeat this one part once; then stop",
    ),
    unless: [
      {
        where: (c) => c.mayFail,
        means: look("The sheet says that this may fail", "Go on as the sheet says for this case"),
      },
    ],
    source,
    examples: ["Writing 'dtbo'    FAILED (remote: 'something new')"],
  },
  {
    id: "fastboot.footer",
    line: /skip copying .* (avb footer|image avb)|archive does not contain/i,
    means: harmless("The client tells what it leaves out: as it should be"),
    source: RECALLED,
    examples: [
      "Warning: skip copying boot_a image avb footer due to sparse image.",
      "archive does not contain 'boot.sig'",
    ],
  },
  {
    id: "fastboot.unfinished",
    line: /^(sending|writing|erasing|resizing|deleting|creating) (?!.*(OKAY|FAILED))/i,
    means: look(
      "It was begun and not finished: the connection broke off, or the client still waits",
      `${LEAD}. Repeat this one part`,
    ),
    source,
    examples: ["Sending 'boot_a' (4 KB)"],
    not: ["Sending 'boot_a' (4 KB)                         OKAY [  0.001s]"],
  },
  {
    id: "fastboot.okay",
    line: /^(\(bootloader\) |sending|writing|erasing|resizing|deleting|creating|rebooting|rewriting|setting|finished\. total time|formatting|target reported)/i,
    means: normal("As it should be"),
    source,
    examples: [
      "Sending 'boot_a' (4 KB)                         OKAY [  0.001s]",
      "Finished. Total time: 0.204s",
      "(bootloader) slot-count:2",
    ],
  },
  {
    id: "fastboot.erase-hint",
    line: /did you mean to fastboot format|^\*{5,}$/i,
    means: harmless("A question of the client's that wants no answer"),
    source,
    examples: ["Did you mean to fastboot format this ext4 partition?", "******** "],
  },
  {
    id: "fastboot.variable",
    line: /^(?!fastboot:|adb:|error:|warning:|failed:)[a-z][\w:.-]{2,60}: \S/,
    means: normal("A variable of the device"),
    source,
    examples: ["current-slot: a", "unlocked: yes", "partition-size:boot: 0x4000000"],
    not: ["fastboot: error: Command failed", "error: device offline"],
  },
];
