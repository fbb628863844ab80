import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { openStore } from "~/store/database";
import { turnToWrite, writeSoon } from "./turn";

const file = () => path.join(fs.mkdtempSync(path.join(os.tmpdir(), "upshift-turn-")), "lane.db");

test("a change waits for a long writing to end, and everything else goes on meanwhile", async () => {
  const place = file();
  const [mine, other] = [openStore(place), openStore(place)];
  other.exec("BEGIN IMMEDIATE");
  // Only where everything else goes on does the writing ever end.
  let ticks = 0;
  const clock = setInterval(() => {
    if (++ticks === 12) other.exec("COMMIT");
  }, 10);
  await turnToWrite(mine);
  clearInterval(clock);
  expect(ticks).toBeGreaterThanOrEqual(12);
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

test("what nobody waits for is written as soon as a long writing has ended, and holds nobody up until then", async () => {
  const place = file();
  const [mine, other] = [openStore(place), openStore(place)];
  other.exec("BEGIN IMMEDIATE");
  let written = 0;
  const begun = performance.now();
  const soon = writeSoon(mine, () => void written++);
  expect(performance.now() - begun).toBeLessThan(1000);
  expect(written).toBe(0);
  setTimeout(() => other.exec("COMMIT"), 200);
  await soon;
  expect(written).toBe(1);
  // Where nobody writes it is done before the answer goes out.
  const now = writeSoon(mine, () => void written++);
  expect(written).toBe(2);
  await now;
  // Where somebody writes all the time it is given up, and nothing is thrown at whoever asked.
  other.exec("BEGIN IMMEDIATE");
  await writeSoon(mine, () => void written++, 100);
  expect(written).toBe(2);
  other.exec("ROLLBACK");
  expect(mine.pragma("busy_timeout", { simple: true })).toBe(5000);
});
