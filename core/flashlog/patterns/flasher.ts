import { FLASHER_TEXTS, harmless, look, normal, type Pattern, stop } from "../pattern";

const source = FLASHER_TEXTS;

/** What the stand-in flasher says; a maker's own program says it in its own words, which stay unknown. */
export const FLASHER: readonly Pattern[] = [
  {
    id: "flasher.succeeded",
    line: /^\s*1 succeeded, 0 failed/i,
    means: normal("Everything that was set was written"),
    success: true,
    source,
    examples: ["1 succeeded, 0 failed"],
    not: ["0 succeeded, 1 failed"],
  },
  {
    id: "flasher.rows-done",
    line: /^\s*download OK/i,
    means: normal("Every ticked row was written"),
    success: true,
    source,
    examples: ["download OK"],
    not: ["download FAILED"],
  },
  {
    id: "flasher.dumped",
    line: /^\s*\d+ images and the partition list dumped/i,
    means: normal("The board is kept"),
    success: true,
    source,
    examples: ["13 images and the partition list dumped"],
  },
  {
    id: "flasher.checking",
    line: /checking the digest of .*not responding/i,
    means: harmless("It checks the MD5 first, minutes for a large part: leave it"),
    source,
    examples: ["Body: checking the digest of body.tar.md5 (the window may say “not responding”)"],
  },
  {
    id: "flasher.fuse",
    line: /refused:.*fuse level/i,
    means: stop(
      "The package is older than the device's fuse",
      "Stop: take the same build or a later one, never force it",
    ),
    source,
    examples: ["Refused: bootloader: fuse level 2 is below this device's 3"],
  },
  {
    id: "flasher.region",
    line: /refused:.*this is for (region|model)/i,
    means: stop(
      "The package is another region's or another number's",
      "Stop: compare number and region with the label",
    ),
    source,
    examples: ["Refused: region: this is for region STH", "Refused: bootloader: this is for model SH-D6G"],
  },
  {
    id: "flasher.locked",
    line: /refused:.*not signed by the maker/i,
    means: stop(
      "The device has locked itself again",
      "Leave download mode, go online, see the unlock switch on and greyed, then once more",
    ),
    source,
    examples: ["Refused: recovery: not signed by the maker, and the device is locked"],
  },
  {
    id: "flasher.md5",
    line: /refused:.*\bMD5\b/i,
    means: stop("The file is damaged", "Fetch it again and compare its digest before anything is written"),
    source,
    examples: ["Refused: Body: its MD5 is not the one behind its end: fetch the file again"],
  },
  {
    id: "flasher.list",
    line: /refused:.*the list can't be read/i,
    means: look(
      "The partition list is not cleaned",
      "Keep it from the word FIRMWARE to the last closing bracket, then run again",
    ),
    source,
    examples: ["Refused: the list can't be read: it is not cleaned"],
  },
  {
    id: "flasher.nobody",
    line: /refused:.*(no device is added|no loader device was found|no device in download mode)/i,
    means: look(
      "Nothing is seen at the port",
      "Driver first, then the flasher; the keys or the button before the lead goes in; another port",
    ),
    source,
    examples: [
      "Refused: no device is added: not in download mode, another port, or no driver",
      "Refused: no loader device was found",
    ],
  },
  {
    id: "flasher.failed",
    line: /^\s*(0 succeeded, 1 failed|download FAILED)/i,
    means: stop("Nothing more was written", "Read the line above it, which says why"),
    source,
    examples: ["0 succeeded, 1 failed", "download FAILED"],
    not: ["1 succeeded, 0 failed", "download OK"],
  },
];
