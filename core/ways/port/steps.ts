import { filesOf } from "~/core/runbook/commonSteps";
import type { Steps } from "~/core/runbook/steps";
import type { IndexedImage } from "~/core/upgrade/catalogueIndex";
import { intoRecovery, wipeAdvanced } from "../recovery-packages/steps";

/** Both packages of the port, queued in a custom recovery, without a restart between them. */
export function installPortSteps(steps: Steps, { image }: IndexedImage) {
  const { bench } = steps;
  intoRecovery(steps);
  wipeAdvanced(bench);
  const files = filesOf(image);
  files.forEach((file, i) => {
    bench.command("adb", ["push", { file: `${image.id}/${file.name}` }, `/sdcard/${file.name}`], {
      title: `Copy package ${i + 1} of ${files.length}: ${file.name}`,
      says: "Copies the package, still zipped, to the device.",
      normal: "1 file pushed",
      otherwise: "If storage can't be read it is encrypted: stop, or bring both on a stick",
      usual: Math.max(5, Math.round(file.bytes / 20_000_000)),
      latest: Math.max(120, Math.round(file.bytes / 4_000_000)),
    });
  });
  bench.hands(`recovery.install-queued.${image.id}`, {
    title: `Install both packages, queued: ${files.map((f) => f.name).join(", then ")}`,
    says: `In the recovery: Install, choose ${files[0].name}, add ${files[1]?.name ?? "the second"} to the queue, swipe once. Never restart between the two.`,
    normal:
      "“done” twice. Lines about an invalid sparse header or a device that could not be written, while the parts count up, are harmless here",
    otherwise: "“Error 7”: another base. Stop and note the line above it",
    usual: 420,
    latest: 1500,
    neededBy: "the first start",
  });
}
