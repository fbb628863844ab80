// Takes a list of 2,000 rows into a database in a process of its own, kills it without warning after so many rows (0: not at
// all), and says what the database holds then: node --import tsx e2e/rig/killedImport.ts FILE AFTER
import { spawn } from "node:child_process";
import { draftList, judgeList, takeList } from "~/app/server/intake/takeIn";
import { readCsv } from "~/core/lists/table";
import { openStore } from "~/store/database";
import { listBatches } from "~/store/devices";
import { listImports } from "~/store/imports";

const [file, after, child] = process.argv.slice(2);
const hand = { by: "test", at: "2026-11-25T10:00:00.000Z" };

if (child) {
  const store = openStore(file);
  takeList(store, Number(child), hand, (done) => {
    if (Number(after) > 0 && done >= Number(after)) process.kill(process.pid, "SIGKILL");
  });
} else {
  const store = openStore(file);
  const rows = Array.from({ length: 2000 }, (_, i) => `K-${i},VK-L8,9,${i % 100}`).join("\n");
  const table = readCsv(`tag,model,android,battery\n${rows}\n`);
  if (!table.ok) throw new Error(table.says);
  const batch = listBatches(store)[0].id;
  const open = listImports(store).find((l) => l.source === "killed");
  const list = open?.id ?? draftList(store, { batch, source: "killed", file: "x.csv", table }, hand);
  const run = spawn(process.execPath, ["--import", "tsx", process.argv[1], file, after, String(list)], {
    stdio: "inherit",
  });
  run.on("exit", (_code, signal) => {
    const { taken } = listImports(store).find((l) => l.id === list) ?? { taken: -1 };
    const waiting = judgeList(store, list)?.good.length ?? -1;
    console.log(JSON.stringify({ killed: signal === "SIGKILL", devices: taken, waiting }));
  });
}
