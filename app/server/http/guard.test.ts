import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { openStore } from "~/store/database";
import { turnToWrite } from "./guard";

const file = () => path.join(fs.mkdtempSync(path.join(os.tmpdir(), "upshift-turn-")), "lane.db");

test("a change waits for a long writing to end, and everything else goes on meanwhile", async () => {
  const place = file();
  const [mine, other] = [openStore(place), openStore(place)];
  other.exec("BEGIN IMMEDIATE");
  let ticks = 0;
  const clock = setInterval(() => {
    ticks++;
  }, 10);
  setTimeout(() => other.exec("COMMIT"), 300);
  await turnToWrite(mine);
  clearInterval(clock);
  expect(ticks).toBeGreaterThan(10);
  // The database's own patience is as it was.
  expect(mine.pragma("busy_timeout", { simple: true })).toBe(5000);
});

test("where its turn does not come, that is said, and nothing was changed", async () => {
  const place = file();
  const [mine, other] = [openStore(place), openStore(place)];
  other.exec("BEGIN IMMEDIATE");
  const refused = (await turnToWrite(mine, 100).catch((r: unknown) => r)) as Response;
  expect(refused.status).toBe(503);
  expect(await refused.text()).toContain("Nothing of yours was changed");
  other.exec("ROLLBACK");
  await turnToWrite(mine);
});
