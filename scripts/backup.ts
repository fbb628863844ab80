// npm run backup -- FILE: database and evidence of UPSHIFT_DB in one archive, while the lane goes on.
import { makeBackup } from "~/app/server/backup/backup";
import { exhibitFolder } from "~/app/server/clearance/exhibits";
import { dbFile } from "~/app/server/http/dbFile";

const [file] = process.argv.slice(2);
if (!file) {
  console.error("backup: npm run backup -- FILE.tar.gz   (the database is UPSHIFT_DB, or data/lane.db)");
  process.exit(2);
}
try {
  const made = await makeBackup(dbFile(), file, new Date());
  console.log(
    `${file}: ${made.files.length === 1 ? "one file" : `${made.files.length} files`}, history ${made.history}`,
  );
  if (made.missing)
    console.error(
      `backup: ${made.missing} photos or papers that cases name are not in ${exhibitFolder(dbFile())}, so they are not in it either. Is UPSHIFT_EVIDENCE what the lane runs with?`,
    );
} catch (error) {
  console.error(`backup: ${(error as Error).message}`);
  process.exit(1);
}
