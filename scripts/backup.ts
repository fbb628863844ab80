// npm run backup -- FILE: database and evidence of UPSHIFT_DB in one archive, while the lane goes on.
import { makeBackup } from "~/app/server/backup/backup";
import { dbFile } from "~/app/server/http/context";

const [file] = process.argv.slice(2);
if (!file) {
  console.error("backup: npm run backup -- FILE.tar.gz   (the database is UPSHIFT_DB, or the demo's)");
  process.exit(2);
}
try {
  const made = await makeBackup(dbFile(), file, new Date());
  console.log(`${file}: ${made.files.length} files, history ${made.history}`);
} catch (error) {
  console.error(`backup: ${(error as Error).message}`);
  process.exit(1);
}
