import {
  EDITION_SLOTS,
  EDITION_WORDS,
  FLASHER_TICK_KEYS,
  FLASHER_TICKS,
  type FlasherTick,
  slotName,
} from "~/core/catalogue/flasherSlots";
import type { Image } from "~/core/catalogue/image";
import type { Bench } from "~/core/runbook/bench";
import { backUpIdentity, filesOf, formatInRecovery, writeSeconds } from "~/core/runbook/commonSteps";
import type { FlasherSettings } from "~/core/runbook/step";
import type { Steps } from "~/core/runbook/steps";
import type { IndexedImage } from "~/core/upgrade/catalogueIndex";
import { intoRecovery } from "../recovery-packages/steps";

/** Seconds of holding by which a device leaves download mode, and by which its recovery starts. Common practice, no source. */
const LEAVE_SECONDS = 7;
const RECOVERY_SECONDS = 7;

/** Slots and ticks of a flasher for the files of an image; of two region parts the wiping one. */
function settingsFor(bench: Bench, image: Image, on: readonly FlasherTick[]): FlasherSettings {
  const edition = bench.model.download?.edition ?? "five-slots";
  const files = filesOf(image);
  const inSlot = new Map<string, string>();
  image.files.forEach((f, i) => {
    const name = f.slot && f.slot !== "region-keep" ? slotName(edition, f.slot) : null;
    if (name) inSlot.set(name, `${files[i].image}/${files[i].name}`);
  });
  return {
    edition,
    slots: EDITION_SLOTS[edition].map((slot) => ({ slot, file: inSlot.get(slot) ?? null })),
    ticks: FLASHER_TICK_KEYS.map((tick) => ({ tick, says: FLASHER_TICKS[tick].says, on: on.includes(tick) })),
    rows: [],
    list: null,
  };
}

const editionText = (bench: Bench) => EDITION_WORDS[bench.model.download?.edition ?? "five-slots"];

/** The screen of download mode tells the board, the lock and the fuse: looked at before anything is written. */
function lookAtScreen(bench: Bench, lock: string, fuse: number | null) {
  bench.hands("download.look", {
    title: "Read the screen of download mode",
    says: `It must name ${bench.model.codename}, ${lock}${fuse === null ? "" : `, and a fuse level of ${fuse} or lower`}. Write the fuse level into the device's record.`,
    normal: `${bench.model.codename}; ${lock}${fuse === null ? "" : `; fuse ${fuse} or lower`}`,
    otherwise:
      "Another board, or a higher fuse level: stop, leave download mode with volume down and power. Nothing on this sheet suits it",
    usual: 20,
    latest: 120,
    neededBy: "everything that is written",
  });
}

/** Unlocked on the device's own screen in download mode; where it would lock itself again, its switch is looked at online. */
export function unlockInDownloadSteps({ bench }: Steps) {
  const { download, unlock } = bench.model;
  bench.toDownload();
  lookAtScreen(bench, "locked", null);
  bench.hold("download.unlock", [{ keys: ["volume up"], seconds: LEAVE_SECONDS }], {
    title: "Unlock: hold volume up long, then confirm",
    says: `Hold volume up for about ${LEAVE_SECONDS} s until the question comes, then press volume up once. This wipes the device.`,
    normal: "The device wipes itself and restarts",
    otherwise:
      "No question: the switch in the developer options is off. Leave with volume down and power, switch it on",
    usual: 120,
    latest: 600,
    caution: `Unlocking wipes everything on it and may end the warranty.${unlock.consequences.length ? ` For good: ${unlock.consequences.join("; ")}.` : ""} Go on only if that is meant`,
    neededBy: "every foreign image",
  });
  bench.mode = "android-without-debugging";
  if (!download?.greyedToggle) return;
  bench.hands("android.see-toggle", {
    title: "Go online and see the unlock switch greyed",
    says: "Walk through the set-up without an account, join the workshop's Wi-Fi, wait 10 s. Then the developer options: the unlock switch must be there, on, and greyed.",
    normal: "The switch is on and can't be moved",
    otherwise:
      "Missing, or not greyed: wait a minute online and look again. Still so: stop. The device would lock itself again at the next start of download mode",
    usual: 300,
    latest: 1200,
    neededBy: "the next start of download mode, at which the device would lock itself again",
  });
}

/** Recovery and patched verification file in one go through the flasher, then straight into the recovery by keys. */
export function writeRecoverySteps(steps: Steps, { image }: IndexedImage) {
  const { bench } = steps;
  const { download } = bench.model;
  bench.toDownload();
  lookAtScreen(bench, "bootloader unlocked", null);
  bench.flasher("flasher.recovery", settingsFor(bench, image, ["reset-the-clock"]), {
    title: `Write ${image.title} and its verification file`,
    says: `In ${editionText(bench)}: set exactly this, and nothing else. The port field must say that a device was added. Start. Restart by itself stays OFF, or the stock recovery comes back.`,
    normal: "1 succeeded, 0 failed, after 8 to 10 s; the device stays in download mode",
    otherwise:
      "“Refused”: the device has locked itself again, or the file is for another board. Leave with volume down and power, and look at the unlock switch",
    usual: 30,
    latest: 300,
    caution: download?.fuse
      ? `The first foreign image blows the device's fuse for good: ${download.fuse}. Go on only if that is meant`
      : undefined,
    makes: { "fuse.blown": true },
    neededBy: "every image that the recovery installs",
  });
  bench.hold(
    "keys.download-to-recovery",
    [
      { keys: ["volume down", "power"], seconds: LEAVE_SECONDS },
      { keys: ["volume up", "power"], seconds: RECOVERY_SECONDS },
    ],
    {
      title: "Straight into the recovery: two holds, no pause",
      says: `Volume down and power for about ${LEAVE_SECONDS} s until the screen goes dark; at that moment change to volume up and power, for about ${RECOVERY_SECONDS} s more.`,
      normal: `The menu of ${image.title}`,
      otherwise:
        "Android starts: too late. It has put its own recovery back. Start download mode again and repeat from the write",
      usual: 30,
      latest: 120,
      neededBy: "every image that the recovery installs",
    },
  );
  bench.mode = "recovery";
  bench.wantAdb("recovery", "Replug. If it stays silent, start the recovery again by keys");
  backUpIdentity(bench);
  switchEncryptionOff(steps, image);
  formatInRecovery(bench);
  restartRecovery(bench);
}

/** Forced encryption goes off by the model's own method, where the recovery can't read storage with it. */
function switchEncryptionOff({ bench }: Steps, recovery: Image) {
  const kind = bench.model.download?.encryption ?? null;
  const { encryption } = bench.policy;
  if (kind === null || encryption === "leave") return;
  if (encryption === "where-demanded" && !recovery.needs.decrypted) return;
  const about = {
    normal: "Done, without an error in red",
    otherwise: "An error in red: restart into the recovery and do it again",
    usual: 40,
    latest: 300,
    neededBy: "storage that the recovery can read",
  };
  if (kind === "script")
    for (const title of ["Switch forced encryption off", "Once more: switch forced encryption off"])
      bench.hands("recovery.encryption-off", {
        ...about,
        title,
        says: "In the recovery's terminal: run the disabling command of the recovery. It is run twice; the first time it often only prepares.",
      });
  else
    bench.hands("recovery.wipe-keys", {
      ...about,
      title: "Wipe data, metadata and the two key partitions",
      says: "Wipe, Advanced: tick exactly data, metadata and the two key partitions. Leave everything else alone.",
    });
}

function restartRecovery(bench: Bench) {
  bench.hands("recovery.restart-recovery", {
    title: "Restart into the recovery",
    says: "In the recovery: Reboot, Recovery. Before anything is copied, or the storage stays unreadable.",
    normal: "The recovery's menu, and storage shows its size",
    otherwise: "Storage shows 0: format data again and restart into the recovery once more",
    usual: 40,
    latest: 180,
    neededBy: "copying the image",
  });
  bench.wantAdb("recovery", "Replug. If it stays silent, start the recovery again by keys");
}

/** A recovery that is on the device already is started by keys, and its storage made ready. */
function intoReadyRecovery(steps: Steps) {
  if (steps.bench.mode === "recovery") return;
  intoRecovery(steps);
  formatInRecovery(steps.bench);
  restartRecovery(steps.bench);
}

function bringOnStick(bench: Bench, image: Image) {
  const file = filesOf(image)[0];
  bench.gate(
    { kind: "stick", file },
    {
      title: `Put ${file.name} on a stick`,
      says: "FAT32 takes files below 4 GB; a larger image needs a stick with exFAT. The unpacked image goes to the root of the stick.",
      normal: "The file is on the stick, with its full size",
      otherwise: "Too large for the stick's file system: format it as exFAT, or take a smaller image",
      usual: 240,
      latest: 1200,
      neededBy: "installing the image",
    },
  );
  bench.hands(`stick.plug-in.${image.id}`, {
    title: "Stick into the device",
    says: "With the OTG lead. In the recovery: Mount, tick the stick; Select storage: the stick.",
    normal: `${file.name} is listed`,
    otherwise: "The stick is not listed: another lead, another stick",
    usual: 60,
    latest: 300,
  });
}

/** The image over the lead to storage, or on a stick where that stays encrypted, then written to system by the recovery. */
export function imageFromRecoverySteps(steps: Steps, { image }: IndexedImage) {
  const { bench } = steps;
  intoReadyRecovery(steps);
  const file = filesOf(image)[0];
  const seconds = writeSeconds(bench, image, file);
  // What stays encrypted can't be written to by a recovery that does not read it: the image comes from outside.
  if (bench.policy.encryption === "leave" && bench.model.download?.encryption && steps.recovery?.needs.decrypted)
    bringOnStick(bench, image);
  else
    bench.command("adb", ["push", { file: `${image.id}/${file.name}` }, `/sdcard/${file.name}`], {
      title: `Copy ${image.title}`,
      says: "Copies the unpacked image to the device.",
      normal: "1 file pushed",
      otherwise:
        "Names that look random, or 0 bytes of storage: it is still encrypted. Format data, restart into the recovery, copy again; else bring the file on a stick",
      usual: Math.max(5, Math.round(file.bytes / 20_000_000)),
      latest: Math.max(300, Math.round(file.bytes / 4_000_000)),
    });
  installImage(bench, image, seconds);
}

/** All by hand: the recovery by keys, its storage formatted, the image from a stick. */
export function imageFromStickSteps({ bench, recovery }: Steps, { image }: IndexedImage) {
  bench.keysToRecovery(recovery?.title ?? "the recovery");
  formatInRecovery(bench);
  bringOnStick(bench, image);
  installImage(bench, image, 60);
}

function installImage(bench: Bench, image: Image, seconds: number) {
  const file = filesOf(image)[0];
  bench.hands(`recovery.install-image.${image.id}`, {
    title: `Install ${image.title} as an image, to system`,
    says: `In the recovery: Install, Install image, choose ${file.name}, target system. Tick nothing else. Swipe.`,
    normal: "Done, after 4 to 60 s",
    otherwise:
      "“Not enough room”: the image is too large for system, stop. Another error: restart into the recovery and repeat once",
    usual: Math.max(10, Math.min(60, Math.round(seconds))),
    latest: 600,
    neededBy: "the first start",
  });
  formatInRecovery(bench);
}

/** The stock package's tars, slot by slot as the flasher's window has them. */
export function flashTarsSteps({ bench, build }: Steps, { image }: IndexedImage) {
  bench.toDownload();
  lookAtScreen(bench, "the lock may be either", image.fuse);
  bench.flasher("flasher.stock", settingsFor(bench, image, ["restart-by-itself", "reset-the-clock"]), {
    title: `Write ${image.title}, all parts`,
    says: `In ${editionText(bench)}: set exactly this, and nothing else. It checks the MD5 of each file first and may say “not responding” for minutes: leave it. The partition table is for disasters only. Region part: the wiping edition.`,
    normal: "1 succeeded, 0 failed; the system part takes longest; the device restarts by itself, through its recovery",
    otherwise:
      "“Refused” names why: fuse, region or model. Stop, tell the coordinator. A wrong MD5: fetch the file again",
    usual: Math.max(300, Math.round(image.files.reduce((sum, f) => sum + f.bytes, 0) / bench.model.writeRate)),
    latest: 1800,
    caution: "This writes everything and wipes the device",
    makes: image.fuse === null ? undefined : { "fuse.level": image.fuse },
    neededBy: "the first start",
  });
  bench.mode = "android-without-debugging";
  build.current = image.build;
}
