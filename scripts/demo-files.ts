// npm run demo:files -- DIR: writes small stand-in files for all demo images, with the digests of the catalogue.
// npm run demo:files -- DIR mixed: writes a download folder with twelve files to be sorted out on the Files page.
import path from "node:path";
import { demoCatalogue, writeStandIns } from "~/demo/catalogue";
import { MIXED_DEVICE, writeMixed } from "~/demo/mixed";

const [folder, what] = process.argv.slice(2);
if (!folder || folder.startsWith("-") || (what !== undefined && what !== "mixed")) {
  console.error("Say where to: npm run demo:files -- DIR, or npm run demo:files -- DIR mixed");
  process.exit(2);
}
const full = path.resolve(folder);
if (what === "mixed") {
  const count = await writeMixed(full);
  console.log(`${count} files written to ${full}. Drop the folder on the Files page, held against ${MIXED_DEVICE}.`);
} else {
  const count = writeStandIns(demoCatalogue(), full);
  console.log(
    `${count} files written to ${full}. They are stand-ins for the demo: no phone but the simulated one takes them.`,
  );
}
