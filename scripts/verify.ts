// npm run verify -- [DATABASE]: works the running digest over the history out anew and says whether anything was changed.
import fs from "node:fs";
import { dbFile } from "~/app/server/http/dbFile";
import { openStore } from "~/store/database";
import { verifyHistory } from "~/store/seal";

const file = process.argv[2] ?? dbFile();
if (!fs.existsSync(file)) {
  console.error(`verify: there is no database ${file}`);
  process.exit(2);
}
const store = openStore(file);
const seen = verifyHistory(store);
store.close();
if (seen.ok) {
  const lines = [
    `${seen.rows} rows of history under ${seen.seals} seals are as they were written.`,
    ...(seen.unsealed ? [`${seen.unsealed} newer rows wait for the next seal.`] : []),
    `Last digest: ${seen.digest}  (write it down elsewhere: whoever rewrites all seals can't rewrite that)`,
  ];
  console.log(lines.join("\n"));
} else {
  console.error(`The history was changed. ${seen.says}.`);
  process.exitCode = 1;
}
