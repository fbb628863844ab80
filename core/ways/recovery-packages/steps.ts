import type { Bench } from "~/core/runbook/bench";
import {
  backUpIdentity,
  fileOn,
  formatInRecovery,
  installPackage,
  sideload,
  wantUnlocked,
  writeSeconds,
} from "~/core/runbook/commonSteps";
import type { Steps } from "~/core/runbook/steps";
import type { IndexedImage } from "~/core/upgrade/catalogueIndex";

/** The recovery to its partition, and straight into it by keys: the stock system would put its own back. */
export function flashRecoverySteps({ bench }: Steps, { image }: IndexedImage) {
  bench.toBootloader();
  wantUnlocked(bench);
  for (const { partition } of image.files) {
    const file = partition === null ? undefined : fileOn(image, partition);
    if (file && partition) bench.flash(partition, file, writeSeconds(bench, image, file));
  }
  if (image.flavour === "rom") {
    bench.command("fastboot", ["reboot", "recovery"], {
      title: "Start the ROM's own recovery",
      says: "The device restarts into the recovery that was just written.",
      normal: "The recovery's menu",
      otherwise: "If it loops, start the bootloader by keys and write the parts again",
      usual: 30,
      latest: 120,
    });
    bench.mode = "recovery";
  } else bench.keysToRecovery(image.title);
  bench.wantAdb("recovery", "Replug. If it stays silent, start the recovery again by keys");
  if (image.flavour === "custom") backUpIdentity(bench);
}

/** A recovery that is on the device already is started by keys. */
export function intoRecovery({ bench, recovery }: Steps) {
  if (bench.mode === "recovery") return;
  bench.keysToRecovery(recovery?.title ?? "the recovery");
  bench.wantAdb("recovery", "Replug. If it stays silent, start the recovery again by keys");
  if (recovery?.flavour === "custom") backUpIdentity(bench);
}

/** The firmware that a ROM needs, from the recovery. */
export function firmwarePackSteps(steps: Steps, { image }: IndexedImage) {
  intoRecovery(steps);
  installPackage(steps.bench, image, 120, "Installs the firmware that the ROM needs.");
}

/** Storage wiped or formatted, the ROM put on: sideloaded, or copied and installed; a newer build of what runs may go over it. */
export function installRomSteps(steps: Steps, { image }: IndexedImage) {
  const { bench } = steps;
  if (image.installs === "sideload") {
    intoRecovery(steps);
    formatInRecovery(bench);
    sideload(bench, image, 420);
    if (bench.policy.wipeAfter === "always") formatInRecovery(bench);
    return;
  }
  intoRecovery(steps);
  const over = bench.policy.sameRom === "over" && image.line !== null && steps.running?.line === image.line;
  if (over) {
    installPackage(bench, image, 300, "Copies the newer build and writes it over the one that runs.");
    return;
  }
  if (bench.policy.wipeBefore === "factory")
    bench.hands("recovery.factory-reset", {
      title: "Factory reset in the recovery",
      says: "Wipe, factory reset. The system partition stays as it is until the ROM is written over it.",
      normal: "Done, without an error in red",
      otherwise: "If data can't be mounted, go on: it is formatted later",
      usual: 30,
      latest: 900,
    });
  else wipeAdvanced(bench);
  installPackage(bench, image, 300, "Copies the ROM and installs it. Leave the package zipped.");
}

/** Cache, dalvik, system and data wiped from a custom recovery's menu. */
export function wipeAdvanced(bench: Bench) {
  bench.hands("recovery.wipe-advanced", {
    title: "Wipe cache, dalvik, system and data",
    says: "Wipe, Advanced: tick exactly cache, dalvik, system, data. Leave everything else alone.",
    normal: "Done, without an error in red",
    otherwise: "If data can't be mounted, go on: it is formatted later",
    usual: 30,
    latest: 900,
  });
}

/** The services add-on before the first start; behind a restart of the recovery where the ROM asks for one. */
export function installServicesSteps(steps: Steps, { image }: IndexedImage) {
  const { bench, recovery } = steps;
  const justInstalled = bench.mode === "recovery";
  intoRecovery(steps);
  if (recovery?.flavour === "custom") {
    installPackage(bench, image, 120, "Before the first start, or the set-up hangs for ever.");
    return;
  }
  if (justInstalled)
    bench.hands("recovery.install-more", {
      title: "Install more packages: yes",
      says: "The recovery asks whether to install more. Choose yes: it restarts itself.",
      normal: "The recovery's menu again",
      otherwise: "If the phone started Android, format data and sideload the ROM again",
      usual: 45,
      latest: 180,
      neededBy: "the services add-on, which must go on before the first start",
    });
  sideload(bench, image, 150);
}
