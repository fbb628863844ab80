import { eraseData, filesOf, wantUnlocked, writeSeconds } from "~/core/runbook/commonSteps";
import type { Steps } from "~/core/runbook/steps";
import type { IndexedImage } from "~/core/upgrade/catalogueIndex";
import { scriptOf } from "./rules";

/** The script's own lines, one step each, in its own order. */
export function makerScriptSteps({ bench, build }: Steps, { image }: IndexedImage) {
  const { lines } = scriptOf(image.script ?? "");
  bench.toBootloader();
  wantUnlocked(bench);
  const refs = filesOf(image);
  // The last restart is the device's first start: data is formatted before it.
  const last = lines.findLastIndex((l) => l.kind === "restart");
  lines.forEach((line, i) => {
    if (i === last && line.words?.length === 1) return;
    const says = `Line ${line.line} of the maker's script: ${line.says}.`;
    const file = refs.find((r) => r.name === line.write?.file);
    if (line.write && file)
      bench.flash(line.write.partition, file, writeSeconds(bench, image, file), line.write.flags, { says });
    else if (line.check)
      bench.wantVar(line.check.name, line.check.expect, line.check.name, "The package is for another board: stop");
    else if (line.kind === "wipe") return;
    else if (line.words)
      bench.command("fastboot", line.words, {
        title: line.says,
        says,
        normal: "OKAY",
        otherwise: "Note what it says and stop",
        usual: 15,
        latest: 180,
      });
  });
  // A donated device keeps nothing, whichever variant of the script was taken.
  eraseData(bench);
  build.current = image.build;
}
