// Makes a database: node scripts/run.mjs scripts/load-demo.ts FILE [--empty]
import { loadDemo } from "~/demo/load";
import { openStore } from "~/store/database";
import { listBatches } from "~/store/devices";

const [file, option] = process.argv.slice(2);
const store = openStore(file);
if (option !== "--empty" && listBatches(store).length === 0) loadDemo(store);
store.close();
