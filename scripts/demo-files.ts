// npm run demo:files -- DIR: writes small stand-in files for all demo images, with the digests of the catalogue.
import path from "node:path";
import { demoCatalogue, writeStandIns } from "~/demo/catalogue";

const folder = process.argv[2];
if (!folder) {
  console.error("Say where to: npm run demo:files -- DIR");
  process.exit(2);
}
const count = writeStandIns(demoCatalogue(), path.resolve(folder));
console.log(
  `${count} files written to ${path.resolve(folder)}. They are stand-ins for the demo: no phone but the simulated one takes them.`,
);
