import { execFileSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { exhibitFolder, keepExhibit, readExhibit } from "~/app/server/clearance/exhibits";
import { dbFile } from "~/app/server/http/dbFile";
import { openStore } from "~/store/database";
import { addBatch, addDevices } from "~/store/devices";
import { allExhibits } from "~/store/exhibits";
import { verifyHistory } from "~/store/seal";
import { BackupRefused, makeBackup, restoreBackup } from "./backup";
import { backUpToday } from "./daily";

const hand = { by: "Oda", at: "2026-11-27T18:00:00Z" };
const PNG = Buffer.from(
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==",
  "base64",
);

/** A lane with a device and a photo, in a folder of its own. */
async function lane() {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-backup-"));
  const db = path.join(folder, "lane.db");
  const store = openStore(db);
  addBatch(store, { id: "b", title: "B", received: "2026-11-01", note: "" });
  addDevices(
    store,
    "b",
    [
      {
        tag: "T-1",
        serial: null,
        imei: null,
        donor: "",
        need: null,
        facts: [{ key: "android.release", value: "9", source: "typed", ...hand }],
      },
    ],
    hand,
  );
  expect(await keepExhibit(store, exhibitFolder(db), 1, { name: "a.png", bytes: PNG }, hand)).toBeNull();
  return { folder, db, store, file: path.join(folder, "b.tar.gz") };
}

test("a backup is made while the lane is open, and comes back as it was beside it", async () => {
  const { folder, db, store, file } = await lane();
  const made = await makeBackup(db, file, new Date(hand.at));
  expect(made.files).toHaveLength(2);
  store.exec("UPDATE device SET donor = 'later'");
  const back = path.join(folder, "back", "lane.db");
  expect((await restoreBackup(file, back)).history).toBe(made.history);
  const again = openStore(back);
  expect(again.prepare("SELECT donor FROM device").pluck().get()).toBe("");
  expect(verifyHistory(again)).toMatchObject({ ok: true });
  expect(Buffer.from(readExhibit(exhibitFolder(back), allExhibits(again)[0]) ?? [])).toEqual(PNG);
  // From outside: the system's own tar and sha256sum agree.
  const out = fs.mkdtempSync(path.join(folder, "tar-"));
  execFileSync("tar", ["xzf", file, "-C", out]);
  const digest = execFileSync("sha256sum", [path.join(out, "lane.db")], { encoding: "utf8" }).slice(0, 64);
  expect(made.files.find((f) => f.name === "lane.db")?.sha256).toBe(digest);
  expect(fs.readdirSync(folder).filter((n) => /making|restoring/.test(n))).toEqual([]);
});

test("a photo that is gone is counted, and the rest is backed up all the same", async () => {
  const { db, file } = await lane();
  expect((await makeBackup(db, file, new Date(hand.at))).missing).toBe(0);
  fs.rmSync(exhibitFolder(db), { recursive: true });
  expect(await makeBackup(db, file, new Date(hand.at))).toMatchObject({ missing: 1, files: [{ name: "lane.db" }] });
});

describe("which database is meant", () => {
  const before = { ...process.env };
  afterEach(() => {
    process.env = { ...before };
  });

  test.each([undefined, ""])("without UPSHIFT_DB (%j) it is the one that npm start serves", (set) => {
    if (set === undefined) delete process.env.UPSHIFT_DB;
    else process.env.UPSHIFT_DB = set;
    expect(dbFile()).toBe(path.resolve("data/lane.db"));
  });

  test("UPSHIFT_EVIDENCE is the folder of the one that runs, however its path is written, and of no other", () => {
    process.env.UPSHIFT_EVIDENCE = "/srv/photos";
    delete process.env.UPSHIFT_DB;
    expect(exhibitFolder("data/lane.db")).toBe("/srv/photos");
    process.env.UPSHIFT_DB = "data/ours.db";
    expect(exhibitFolder(path.resolve("data/ours.db"))).toBe("/srv/photos");
    expect(exhibitFolder("data/lane.db")).toBe(path.resolve("data/lane.db-files"));
  });
});

describe("what is no whole backup is refused, and nothing is left of it", () => {
  const refused = async (change: (made: Awaited<ReturnType<typeof lane>>) => void, says: RegExp) => {
    const made = await lane();
    await makeBackup(made.db, made.file, new Date(hand.at));
    change(made);
    const back = path.join(made.folder, "back.db");
    const thrown = await restoreBackup(made.file, back).catch((e: Error) => e);
    expect(thrown).toBeInstanceOf(BackupRefused);
    expect((thrown as Error).message).toMatch(says);
    expect(fs.readdirSync(made.folder).filter((n) => n.startsWith("back.db"))).toEqual([]);
  };
  const repack = (made: { folder: string; file: string }, change: (folder: string) => void) => {
    const out = fs.mkdtempSync(path.join(made.folder, "x-"));
    execFileSync("tar", ["xzf", made.file, "-C", out]);
    change(out);
    execFileSync("tar", [
      "czf",
      made.file,
      "-C",
      out,
      ...execFileSync("find", [".", "-type", "f", "-o", "-type", "l"], { cwd: out, encoding: "utf8" })
        .trim()
        .split("\n")
        .map((n) => n.slice(2)),
    ]);
  };

  test("cut short", () => refused((m) => fs.truncateSync(m.file, 900), /no whole archive/));
  test("no archive", () => refused((m) => fs.writeFileSync(m.file, "hello"), /no whole archive|no list/));
  test("a file that was changed", () =>
    refused((m) => repack(m, (out) => fs.appendFileSync(path.join(out, "lane.db"), "x")), /is not what was backed up/));
  test("a file that is missing", () =>
    refused(
      (m) => repack(m, (out) => fs.rmSync(path.join(out, "evidence"), { recursive: true })),
      /is not what was backed up/,
    ));
  test("a file that does not belong there", () =>
    refused((m) => repack(m, (out) => fs.writeFileSync(path.join(out, "evil.sh"), "x")), /holds “evil.sh”/));
  test("a link", () =>
    refused(
      (m) =>
        repack(m, (out) => {
          fs.rmSync(path.join(out, "lane.db"));
          fs.symlinkSync("/etc/passwd", path.join(out, "lane.db"));
        }),
      /holds “lane.db”/,
    ));

  test("where something is already", async () => {
    const made = await lane();
    await makeBackup(made.db, made.file, new Date(hand.at));
    await expect(restoreBackup(made.file, made.db)).rejects.toThrow(/there already/);
  });
});

test("one a day, and the oldest go", async () => {
  const { folder, db } = await lane();
  const kept = path.join(folder, "kept");
  for (let day = 1; day <= 5; day++)
    expect(await backUpToday(db, kept, 3, new Date(`2026-12-0${day}T03:00:00Z`))).not.toBeNull();
  expect(await backUpToday(db, kept, 3, new Date("2026-12-05T23:00:00Z"))).toBeNull();
  expect(fs.readdirSync(kept).sort()).toEqual([3, 4, 5].map((d) => `lane-2026-12-0${d}.tar.gz`));
});
