// npm run restore -- FILE DATABASE: brings a backup back as a database that is not there yet.
import { restoreBackup } from "~/app/server/backup/backup";

const [file, db] = process.argv.slice(2);
if (!file || !db) {
  console.error("restore: npm run restore -- FILE.tar.gz DATABASE   (a place where nothing is)");
  process.exit(2);
}
try {
  const back = await restoreBackup(file, db);
  console.log(`${db}: as it was on ${back.at}, history ${back.history}. Start it with UPSHIFT_DB=${db} npm start`);
} catch (error) {
  console.error(`restore: ${(error as Error).message}`);
  process.exit(1);
}
