import { execFile } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { promisify } from "node:util";

const run = promisify(execFile);

/** What an application of the tests may begin with. */
export type Beginning = "demo" | "empty";

const folder = () => {
  const { UPSHIFT_TEST_DATABASES } = process.env;
  if (!UPSHIFT_TEST_DATABASES)
    throw new Error("e2e/rig/databases.ts has not run: start the tests with playwright test");
  return UPSHIFT_TEST_DATABASES;
};

/** A database of a test's own, in a folder of its own. */
export function freshDatabase(kind: Beginning): string {
  const file = path.join(fs.mkdtempSync(path.join(os.tmpdir(), "upshift-app-")), "test.db");
  fs.copyFileSync(path.join(folder(), `${kind}.db`), file);
  return file;
}

/** Runs once before all tests: loading the demo takes longer than copying it for each of them. */
export default async function makeDatabases() {
  const made = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-databases-"));
  const load = (file: string, ...options: string[]) =>
    run(process.execPath, ["--import", "tsx", "scripts/load-demo.ts", path.join(made, file), ...options]);
  await Promise.all([load("demo.db"), load("empty.db", "--empty")]);
  process.env.UPSHIFT_TEST_DATABASES = made;
  return () => fs.rmSync(made, { recursive: true, force: true });
}
