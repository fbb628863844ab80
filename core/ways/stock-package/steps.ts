import { eraseData, fileOn, ofSlot, start, wantUnlocked, writeSeconds } from "~/core/runbook/commonSteps";
import type { Steps } from "~/core/runbook/steps";
import type { IndexedImage } from "~/core/upgrade/catalogueIndex";

/** Written before all the rest, each with a restart behind it, so that what follows is written by the new one. */
const FIRST = ["bootloader", "radio"];
const LOGICAL = ["system", "product"];

/** Bootloader and radio first with restarts, the small parts, system and product, data formatted last. */
export function flashStockSteps({ bench, build, slot }: Steps, { image }: IndexedImage) {
  const { model } = bench;
  bench.toBootloader();
  wantUnlocked(bench);
  const both = model.slots && bench.policy.slotsWritten === "both" ? ["--slot=all"] : [];
  for (const part of FIRST) {
    const file = fileOn(image, part);
    if (!file) continue;
    bench.flash(part, file, writeSeconds(bench, image, file), both, {
      title: both.length ? `Write ${part} to both slots` : `Write ${part}`,
    });
    bench.command("fastboot", ["reboot", "bootloader"], {
      title: "Restart the bootloader",
      says: `So that the new ${part} is in use before the rest is written.`,
      normal: "The start screen comes back",
      otherwise: "Start the bootloader by keys",
      usual: 15,
      latest: 90,
    });
  }
  const parts = image.files.flatMap((f) => (f.partition ? [f.partition] : []));
  const logical = (part: string) => model.logical && LOGICAL.includes(part);
  const write = (part: string, words: readonly string[]) => {
    const file = fileOn(image, part);
    if (file) bench.flash(part, file, writeSeconds(bench, image, file), words);
  };
  for (const part of parts.filter((p) => !FIRST.includes(p) && !logical(p))) write(part, both);
  for (const part of parts.filter(logical)) {
    bench.toUserspace();
    if (part === "product") {
      bench.readSlot(slot.current);
      bench.command("fastboot", ["create-logical-partition", ofSlot("product", model.slots, slot.current), "0"], {
        title: "Make sure product is there",
        says: "A device that ran a generic image may have lost its product partition.",
        normal: "OKAY, or a message that it exists already: both are right",
        otherwise: "Go on: the next step shows whether product is there",
        usual: 5,
        latest: 60,
        mayFail: true,
      });
    }
    write(part, []);
  }
  eraseData(bench);
  build.current = image.build;
}

/** The first start, the set-up without an account, Wi-Fi and mobile tried. */
export function startAndCheckSteps({ bench }: Steps) {
  start(bench);
  bench.hands("android.finish-setup", {
    title: "Walk through the set-up, skip every account",
    says: "Skip the account, skip the screen lock. Then test Wi-Fi, and mobile with the workshop's SIM.",
    normal: "Wi-Fi connects; the status bar shows a network on phones",
    otherwise: "No network and no baseband version: stop, restore the identity backup. Do not lock",
    usual: 240,
    latest: 900,
    neededBy: "Lock the bootloader again",
  });
  bench.updatesOff();
  bench.mode = "android-without-debugging";
}
