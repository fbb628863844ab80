import { boardPartitions, dumpedParts, partitionBytes } from "~/core/catalogue/boardList";
import { readPartitionList } from "~/core/files/formats/partitionList";
import type { Bench } from "~/core/runbook/bench";
import { filesOf } from "~/core/runbook/commonSteps";
import type { IdentityCopy } from "~/core/runbook/identityCopy";
import type { FlasherSettings } from "~/core/runbook/step";
import type { Steps } from "~/core/runbook/steps";
import type { IndexedImage } from "~/core/upgrade/catalogueIndex";

const listOf = (bench: Bench) => bench.model.loader?.list ?? "";

function lookAtChip(bench: Bench) {
  bench.hands("check.chip", {
    title: `Look: the chip is ${bench.model.loader?.chip ?? "the one of the record"}`,
    says: `${bench.mode === "off" ? "It does not start: on its label and the device's page, where the chip was written down when it ran" : "In an information app: chip and revision"}. Two boxes of one name carry different ones. Opening the box means new thermal paste and is for trained people.`,
    normal: bench.model.loader?.chip ?? "The chip of the record",
    otherwise: "Another chip or revision: stop. Nothing on this sheet suits it",
    usual: 60,
    latest: 300,
    neededBy: "everything that goes through the loader",
  });
}

/** Every partition but user data, and the partition list: kept with the device, given back to it only. */
function dump(bench: Bench) {
  const parts = dumpedParts(listOf(bench));
  bench.gate(
    { kind: "keep", partitions: parts, how: "loader", sizes: partitionBytes(listOf(bench)) },
    {
      title: `Dump the board: ${parts.length - 1} images and the partition list`,
      says: "In the flasher: dump. One file for each partition, one for the partition list, into the folder kept for this device. User data is the donor's and is not dumped.",
      normal: `${parts.length} files, each as long as the partition list says`,
      otherwise: "A file is missing or too short: dump again. Do not write anything before the dump is whole",
      usual: 600,
      latest: 3600,
      neededBy: "getting this board back when something goes wrong",
      makes: { "board.dumped": true },
    },
  );
}

/** Away from the loader: lead out, power in. */
function leave(bench: Bench) {
  bench.hands("loader.leave", {
    title: "Lead out, power in",
    says: "Pull the double-ended lead, then connect the power supply.",
    normal: "The start picture within 20 s",
    otherwise:
      "It hangs at the logo: power out, button pressed, power in, 3 s, let go: the recovery starts. Restart from its menu",
    usual: 60,
    latest: 300,
  });
  bench.mode = "android-without-debugging";
}

/** The rows of the board's list: loader and user data never ticked. */
function rowsWith(bench: Bench, file: (row: string) => string | null): FlasherSettings {
  const rows = ["loader", "parameter", ...boardPartitions(listOf(bench))].map((row) => {
    const found = row === "loader" || row === "userdata" ? null : file(row);
    return { row, file: found, on: found !== null };
  });
  return { edition: null, slots: [], ticks: [], rows, list: readPartitionList(listOf(bench))?.cleaned ?? "" };
}

/** The flasher starts with a list of its own; which of the two belongs to this board stands in its record. */
const LISTS = { long: "the long row list, 16 rows", short: "the short row list, 11 rows" };

const about = (bench: Bench) => ({
  says: `Load ${LISTS[bench.model.loader?.rowList ?? "long"]}, in place of the one the flasher starts with; then one file a row; each row's name must be the file's. Loader and user data stay NOT ticked. The partition list goes in cleaned: from the word FIRMWARE to the last closing bracket, nothing before, nothing after.`,
  normal: "“download OK”",
  otherwise:
    "“The list can't be read”: clean it again. Another word: note it, lead out, button and lead in again, and repeat once",
  neededBy: "the first start",
  caution: "This writes the board and wipes it. A row off by one leaves a board that does not start",
});

/** The chip looked at, the board dumped while it still works, then its rows written from the stock package. */
export function writeRowsSteps(steps: Steps, { image }: IndexedImage) {
  const { bench, build, state, release } = steps;
  if (bench.mode !== "loader") lookAtChip(bench);
  bench.toLoader();
  // While it still works it is dumped; what is dead already can't be.
  if (state.started === "running" && !steps.copies.length) {
    dump(bench);
    if (release) bench.makeOfLast({ "board.dumped-release": release });
  }
  const refs = filesOf(image);
  const fileOf = (row: string) => {
    const at = image.files.findIndex((f) => f.partition === row);
    return at < 0 ? null : `${image.id}/${refs[at].name}`;
  };
  bench.flasher("flasher.rows", rowsWith(bench, fileOf), {
    ...about(bench),
    title: `Write ${image.title}, row by row`,
    usual: Math.max(120, Math.round(refs.reduce((sum, f) => sum + f.bytes, 0) / bench.model.writeRate)),
    latest: 3600,
  });
  leave(bench);
  resetInRecovery(bench);
  build.current = image.build;
}

/** The board's own dump written back, each file's digest checked first. */
export function restoreBoardSteps(steps: Steps) {
  const { bench, copies } = steps;
  lookAtChip(bench);
  const parts = dumpedParts(listOf(bench));
  const own = parts.flatMap((row) => copies.filter((c) => c.partition === row));
  const missing = parts.filter((row) => !own.some((c) => c.partition === row));
  // A fact says that it was dumped; only the files say what goes back.
  if (missing.length > 0)
    throw new RangeError(
      `The lane has no record of what was dumped of ${missing.slice(0, 3).join(", ")}${missing.length > 3 ? ` and ${missing.length - 3} more rows` : ""}: without its digest nothing is given back to the board`,
    );
  bench.gate(
    { kind: "kept", copies: own },
    {
      title: "Check: the dump is this device's own",
      says: "Compare the digest of each kept file with the device's page. Another board's dump never goes on this one.",
      normal: `${own.length} files, every digest right`,
      otherwise: "A digest is wrong or a file is missing: stop. Look for the right folder; never take another device's",
      usual: 60,
      latest: 600,
      neededBy: "writing them back",
    },
  );
  bench.toLoader();
  const file = (row: string) => own.find((c: IdentityCopy) => c.partition === row)?.file;
  bench.flasher(
    "flasher.restore",
    rowsWith(bench, (row) => (file(row) ? `kept:${file(row)}` : null)),
    { ...about(bench), title: "Write the board's own dump back", usual: 600, latest: 3600 },
  );
  leave(bench);
  resetInRecovery(bench);
}

/** What another system left in user data is wiped: the rows do not touch it. */
function resetInRecovery(bench: Bench) {
  bench.hold("keys.recovery", [{ keys: ["hidden button", "power in"], seconds: 3 }], {
    title: "Start the recovery: button pressed, power in, 3 s",
    says: `${bench.model.keys.recovery}.`,
    normal: "The recovery's menu",
    otherwise: "The start picture only: power out, and again",
    usual: 60,
    latest: 300,
  });
  bench.mode = "recovery";
  bench.hands("recovery.factory-reset", {
    title: "Wipe data in the recovery",
    says: "In the recovery: wipe data, factory reset. User data is no row that was written: what lies there is of the system before.",
    normal: "Data wipe complete",
    otherwise: "An error: restart into the recovery and wipe again",
    usual: 60,
    latest: 900,
  });
}
