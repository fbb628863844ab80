import { filesOf, ofSlot, wantUnlocked, writeSeconds } from "~/core/runbook/commonSteps";
import type { Steps } from "~/core/runbook/steps";
import type { IndexedImage } from "~/core/upgrade/catalogueIndex";

/** The verification file to the current slot, verification off. */
export function flashVerificationSteps({ bench, slot, build }: Steps, { image }: IndexedImage) {
  bench.toBootloader();
  wantUnlocked(bench);
  bench.readSlot(slot.current);
  bench.flash("vbmeta", filesOf(image)[0], 2, ["--disable-verity", "--disable-verification"], {
    title: "Write the verification file, verification off",
    says: `It belongs to build ${image.build}${build.current ? ", which is what is installed" : ""}. Another build's file stops the device from starting.`,
  });
}

/** Product taken out of the shared room, on the slot that runs. */
export function removeProductSteps({ bench, slot }: Steps) {
  const { model } = bench;
  if (model.slots) {
    bench.toBootloader();
    bench.readSlot(slot.current);
  }
  bench.toUserspace(true);
  wantUnlocked(bench);
  bench.command("fastboot", ["delete-logical-partition", ofSlot("product", model.slots, slot.current)], {
    title: "Remove the product partition",
    says: "Makes room for the image. The slot is this device's own, not the one of a tutorial.",
    normal: "Deleting … OKAY",
    otherwise: "“No such file” means another slot: stop and read current-slot again",
    usual: 5,
    latest: 60,
    neededBy: "Write system",
  });
}

/** System erased and written; where userspace fastboot can, there, else in the bootloader. */
export function installGsiSteps({ bench }: Steps, { image }: IndexedImage) {
  const { model } = bench;
  if (model.logical && model.userspaceFastboot) bench.toUserspace();
  else bench.toBootloader();
  wantUnlocked(bench);
  bench.command("fastboot", ["erase", "system"], {
    title: "Erase system",
    says: "Clears the old system.",
    normal: "Erasing … OKAY",
    otherwise: "A failure here may be passed over: the next step writes over it",
    usual: 10,
    latest: 120,
    mayFail: true,
  });
  const file = filesOf(image)[0];
  const seconds = writeSeconds(bench, image, file);
  bench.flash("system", file, seconds, [], {
    says: `Writes ${file.name} in several parts. Do not touch the lead.`,
    otherwise:
      "“Not enough space to resize” means that the image does not fit: stop. Any other failure: repeat once on another port",
    latest: Math.max(1200, Math.round(seconds * 3)),
    neededBy: "the first start",
  });
}
