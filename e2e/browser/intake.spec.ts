import { execFileSync } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { chromium } from "@playwright/test";
import ExcelJS from "exceljs";
import jsQR from "jsqr";
import { PNG } from "pngjs";
import QRCode from "qrcode";
import { startIntake } from "~/app/server/jobs/jobs";
import { imeiCheckDigit } from "~/core/device/imei";
import { openStore } from "~/store/database";
import { listImports, undoImport } from "~/store/imports";
import { LAUNCH } from "~/testing/chromium";
import { expect, test } from "../rig/app";
import { freshDatabase } from "../rig/databases";

test.use({ desk: "intake" });

/** Somebody else's workbook: other words for everything, no tags, days and percents as a spreadsheet has them, 20 flaws. */
async function foreignWorkbook(rows: number): Promise<Buffer> {
  const book = new ExcelJS.Workbook();
  const sheet = book.addWorksheet("Geräte");
  sheet.addRow(["Nr.", "Modell", "Seriennummer", "IMEI 1", "OS version", "Patch", "Akku", "Spender", "Bemerkung"]);
  const models = ["VK-V201", "VK-L8S", "QL-Q3A", "ON-T8W", "HL-10W", "MR-M7E"];
  for (let i = 1; i <= rows; i++) {
    const body = `3590002${String(i).padStart(7, "0")}`;
    const row: (string | number | Date)[] = [
      i,
      models[i % models.length],
      `XY${String(i).padStart(6, "0")}`,
      i % 6 === 3 ? "" : Number(body + imeiCheckDigit(body)),
      i % 2 ? "Android 10" : 9,
      new Date(Date.UTC(2020, i % 12, 5)),
      (30 + (i % 70)) / 100,
      ["Family A", "Family B", "Town hall"][i % 3],
      "",
    ];
    if (i % 30 === 0) row[4] = "zehn";
    if (i % 37 === 0 && i < 290) row[6] = "voll";
    if (i === 77) row[2] = "XY000001";
    if (i === 101) row[2] = "VKA1000101";
    if (i === 122) row[2] = "ONT0000120";
    sheet.addRow(row).getCell(7).numFmt = "0%";
  }
  return Buffer.from(await book.xlsx.writeBuffer());
}

test("an unfamiliar workbook with 300 rows and 20 flaws goes in, is mended in place, and is undone as a whole", async ({
  page,
  request,
}) => {
  test.setTimeout(120_000);
  const count = async () =>
    (await (await request.get("/batches/2026-11-autumn/plan.json")).json()).devices.length as number;
  const before = await count();
  await page.goto("/intake/list");
  await page.getByLabel("From which source").fill("Moss town hall");
  await page.getByLabel("File").setInputFiles({
    name: "geraete.xlsx",
    mimeType: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    buffer: await foreignWorkbook(300),
  });
  await page.getByRole("button", { name: "Look at it first" }).click();
  // 10 Android versions, 7 batteries, 3 serial numbers; line 101 of them has a flaw of its own.
  await expect(page.getByRole("heading", { name: "300 rows, 20 to mend" })).toBeVisible();
  await expect(page.getByLabel("What “Akku” holds")).toHaveValue("battery.percent");
  await expect(page.getByLabel("No column holds tags")).toHaveValue("MTH-");
  await page.getByRole("button", { name: "Take in 280 good rows, keep 20 to mend" }).click();
  await expect(page.getByText("280 devices taken in.")).toBeVisible();
  expect(await count()).toBe(before + 280);

  for (const box of await page.getByLabel(/^OS version, line/).all()) await box.fill("10");
  for (const box of await page.getByLabel(/^Akku, line/).all()) await box.fill("100 %");
  await page.getByLabel("Seriennummer, line 78").fill("XY000077");
  await page.getByLabel("What to do with line 102").selectOption("leave");
  await expect(page.getByRole("link", { name: "History of TH-020" })).toBeVisible();
  await page.getByLabel("What to do with line 123").selectOption("returning");
  await page.getByRole("button", { name: "Save and look again" }).click();
  await expect(page.getByRole("heading", { name: "19 rows, all good, 1 left out" })).toBeVisible();
  await page.getByRole("button", { name: "Take in 19 good rows" }).click();
  await expect(page.getByText("19 devices taken in.")).toBeVisible();
  expect(await count()).toBe(before + 299);

  await page.getByRole("button", { name: "Undo the import: withdraw 299 devices" }).click();
  await expect(page.getByText("Undone: 299 devices withdrawn.")).toBeVisible();
  expect(await count()).toBe(before);
  await expect(page.getByRole("heading", { name: "299 rows, all good, 1 left out" })).toBeVisible();
});

test("a donor who stands once for a block of devices: offered, carried down, and taken in with each", async ({
  page,
}) => {
  await page.goto("/intake/list", { waitUntil: "networkidle" });
  await page.getByLabel("From which source").fill("Blocks");
  await page
    .getByLabel(/Or paste the list/)
    .fill("Spender;Modell;Seriennr\nRathaus;VK-L8S;BL-1\n;VK-L8S;BL-2\n;VK-L8S;BL-3\nSumme;3;\n");
  await page.getByRole("button", { name: "Look at it first" }).click();
  await expect(page.getByText(/“Spender” is empty below a value in lines of this list: 2/)).toBeVisible();
  await page.getByRole("checkbox", { name: /Spender/ }).check();
  await page.getByRole("button", { name: "Read it anew" }).click();
  await expect(page.getByText(/“Spender” was carried down/)).toBeVisible();
  const rows = page.getByRole("region", { name: "Rows of the list" });
  await expect(rows.getByRole("cell", { name: "Rathaus" })).toHaveCount(3);
  await page.getByRole("button", { name: "Take in 3 good rows" }).click();
  await expect(page.getByText("3 devices taken in")).toBeVisible();
});

test("what is no workbook is refused; a formula is never run, neither here nor in the spreadsheet it goes back to", async ({
  page,
  request,
}) => {
  await page.goto("/intake/list");
  const give = async (name: string, buffer: Buffer) => {
    await page.getByLabel("File").setInputFiles({ name, mimeType: "application/octet-stream", buffer });
    await page.getByRole("button", { name: "Look at it first" }).click();
  };
  await give("old.xls", Buffer.from([0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1]));
  await expect(page.getByRole("alert")).toContainText("old kind (.xls)");
  await give("list.xlsx", Buffer.from("PK\u0003\u0004 and nothing more"));
  await expect(page.getByRole("alert")).toContainText(/damaged|no workbook/);
  await give("list.csv", Buffer.from("tag,donor\nB 1,=cmd|' /C calc'!A0\n"));
  await expect(page.getByRole("heading", { name: "1 row, 1 to mend" })).toBeVisible();
  await expect(
    page.getByRole("region", { name: "Rows of the list" }).getByRole("cell", { name: "=cmd|' /C calc'!A0" }),
  ).toBeVisible();
  const csv = await (await request.get(`${new URL(page.url()).pathname}.csv`)).text();
  expect(csv).toContain("'=cmd|");
  expect(csv).not.toContain(",=cmd");
});

test("the process is killed in the middle of an import: all or nothing", () => {
  const copy = freshDatabase("demo");
  const kill = (after: number) =>
    execFileSync(process.execPath, ["--import", "tsx", "e2e/rig/killedImport.ts", copy, String(after)], {
      encoding: "utf8",
    });
  // Killed after 300 of 2,000 rows: nothing. Not killed: all.
  expect(JSON.parse(kill(300))).toEqual({ killed: true, devices: 0, waiting: 2000 });
  expect(JSON.parse(kill(0))).toEqual({ killed: false, devices: 2000, waiting: 0 });
});

test("a list is taken in by a thread that tells how far it is, and stops with nothing done when it is cancelled", async ({
  app,
}) => {
  const store = openStore(app.db);
  const hand = { by: "test", at: "2026-11-25T10:00:00.000Z" };
  const rows = Array.from({ length: 8000 }, (_, i) => `J-${i},VK-L8,9,${i % 100}`).join("\n");
  const bytes = new TextEncoder().encode(`tag,model,android,battery\n${rows}\n`);
  const read = startIntake({
    what: "read",
    db: app.db,
    bytes,
    file: "j.csv",
    batch: "2026-11-autumn",
    source: "J",
    hand,
  });
  await read.finished;
  expect(read).toMatchObject({ state: "done", devices: 0 });
  const taken = () => listImports(store).find((l) => l.id === read.list)?.taken;

  const first = startIntake({ what: "take", db: app.db, list: read.list, hand });
  await expect.poll(() => first.done, { intervals: [5] }).toBeGreaterThan(200);
  first.cancel();
  await first.finished;
  expect(first).toMatchObject({ state: "refused", says: "Cancelled. Nothing was taken in", of: 8000 });
  expect(taken()).toBe(0);

  const second = startIntake({ what: "take", db: app.db, list: read.list, hand });
  await second.finished;
  expect(second).toMatchObject({ state: "done", devices: 8000, done: 8000 });
  expect(taken()).toBe(8000);
  expect(undoImport(store, read.list, hand)).toBe(8000);

  const broken = startIntake({
    what: "read",
    db: app.db,
    bytes: new Uint8Array([0x50, 0x4b, 3, 4, 9]),
    file: "x.xlsx",
    batch: "2026-11-autumn",
    source: "J",
    hand,
  });
  await broken.finished;
  expect(broken).toMatchObject({ state: "refused", says: expect.stringMatching(/damaged|no workbook/) });
  store.close();
});

test("at the table the scanner types: tag, IMEI, serial, next; a wrong digit is told; undone by a button", async ({
  page,
}) => {
  await page.goto("/intake/scan?tags=TH-");
  await page.waitForLoadState("networkidle");
  const answer = page.getByRole("status");
  const scan = async (text: string, says: RegExp) => {
    // No click and no focus: the scanner types wherever the cursor stands.
    await page.keyboard.type(text);
    await page.keyboard.press("Enter");
    await expect(answer).toHaveText(says);
    await expect(page.getByLabel("Scan", { exact: true })).toHaveValue("");
  };
  await scan("TH-301", /New device TH-301/);
  await scan("490154203237518", /IMEI …7518/);
  await scan("SNX0000301", /Serial number …0301/);
  await scan("TH-302", /New device TH-302/);
  await page.keyboard.type("490154203237515");
  await page.keyboard.press("Enter");
  await expect(answer).toContainText("should be 8, not 5");
  await scan("490154203237518", /belongs to TH-301/);
  await page.getByRole("button", { name: "Undo : device of TH-302" }).click();
  await expect(page.getByRole("button", { name: "Undo : device of TH-302" })).toHaveCount(0);
  await page.goto("/search?q=0301");
  await expect(page.getByRole("link", { name: "TH-301" })).toBeVisible();
});

test("a swollen device leaves the lane at once and is not on the charging list", async ({ page }) => {
  await page.goto("/intake/charge");
  await expect(page.getByRole("link", { name: "TH-005" })).toBeVisible();
  await page.goto("/devices/TH-005");
  await page.getByRole("link", { name: "Swollen, hot, wet, broken glass?" }).click();
  await page.getByLabel(/Battery swollen/).check();
  await page.getByRole("button", { name: "Set it aside now" }).click();
  await expect(page.getByText("TH-005 is set aside.")).toBeVisible();
  await expect(page.getByText("recycling yard, gate 2")).toBeVisible();
  await page.goto("/intake/charge");
  await expect(page.getByRole("link", { name: "TH-005" })).toHaveCount(0);
  await page.goto("/devices/TH-005");
  await expect(page.getByText("Not this way")).toBeVisible();
});

// Published: ISO/IEC 18004; read from the picture of the page by jsQR, which shares no code with the writer.
test("labels: the codes on the page are read by an independent decoder; the sheet prints at its size", async ({
  page,
  app,
}) => {
  await page.goto("/labels?tags=TH-001+TH-002+SF-03&sheet=a4-24&used=1");
  const sheet = page.getByRole("img", { name: /^Sheet 1/ });
  const box = await sheet.boundingBox();
  if (!box) throw new Error("no sheet");
  // 210 mm at 96 dots an inch.
  expect(box.width).toBeCloseTo((210 / 25.4) * 96, -1);
  await page.setViewportSize({ width: 1280, height: 1400 });
  const shot = PNG.sync.read(await sheet.screenshot({ scale: "css" }));
  const scale = shot.width / 210;
  const found = [1, 2, 3].map((place) => {
    const x = Math.round((place % 3) * 70 * scale);
    const y = Math.round((0.5 + Math.floor(place / 3) * 37) * scale);
    const cut = new PNG({ width: Math.floor(70 * scale), height: Math.floor(37 * scale) });
    PNG.bitblt(shot, cut, x, y, Math.min(cut.width, shot.width - x), cut.height, 0, 0);
    return jsQR(new Uint8ClampedArray(cut.data), cut.width, cut.height)?.data;
  });
  expect(found).toEqual(["SF-03", "TH-001", "TH-002"].map((tag) => `${app.url}/devices/${tag}`));
  await page.emulateMedia({ media: "print" });
  await expect(page.getByRole("heading", { name: "Labels" })).toBeHidden();
  const pdf = (await page.pdf({ preferCSSPageSize: true })).toString("latin1");
  // PDF points: 210 × 297 mm are 595 × 842.
  const [, width, height] = /\/MediaBox\s*\[\s*0\s+0\s+([\d.]+)\s+([\d.]+)/.exec(pdf) ?? [];
  expect([Math.round(Number(width)), Math.round(Number(height))]).toEqual([595, 842]);
  expect(pdf.match(/\/Type\s*\/Page[^s]/g)).toHaveLength(1);
});

/** A picture of a QR code as a film of one frame, as Chromium's stand-in for a camera takes it (YUV4MPEG2). */
function filmOf(text: string): Buffer {
  const [width, height, module] = [640, 480, 12];
  const { modules } = QRCode.create(text, { errorCorrectionLevel: "M" });
  const light = Buffer.alloc(width * height, 235);
  const left = Math.floor((width - modules.size * module) / 2);
  const top = Math.floor((height - modules.size * module) / 2);
  for (let y = 0; y < modules.size * module; y++)
    for (let x = 0; x < modules.size * module; x++)
      if (modules.get(Math.floor(y / module), Math.floor(x / module))) light[(top + y) * width + left + x] = 16;
  const colour = Buffer.alloc((width * height) / 2, 128);
  return Buffer.concat([Buffer.from(`YUV4MPEG2 W${width} H${height} F10:1 Ip A1:1 C420mpeg2\nFRAME\n`), light, colour]);
}

test("the camera reads our own label and takes the device up", async ({ app }) => {
  test.setTimeout(100_000);
  const film = path.join(path.dirname(app.db), "label.y4m");
  fs.writeFileSync(film, filmOf(`${app.url}/devices/TH-303`));
  const browser = await chromium.launch({
    ...LAUNCH,
    args: [
      ...LAUNCH.args,
      "--use-fake-ui-for-media-stream",
      "--use-fake-device-for-media-stream",
      `--use-file-for-fake-video-capture=${film}`,
    ],
  });
  try {
    const page = await browser.newPage();
    await page.goto(`${app.url}/intake/scan?tags=TH-`, { waitUntil: "networkidle" });
    // On a busy machine the film runs slowly, and a first press may come before the page listens.
    const use = page.getByRole("button", { name: "Use the camera" });
    await expect(async () => {
      if (await use.isVisible()) await use.click();
      await expect(page.getByRole("status")).toContainText("TH-303", { timeout: 20_000 });
    }).toPass({ timeout: 80_000 });
    await page.getByRole("button", { name: "Stop the camera" }).click();
  } finally {
    await browser.close();
  }
});
