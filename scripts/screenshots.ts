// npm run screenshots -- [DIR] [name…]: pictures of the main views at 1280×800, from the demo data, of a running demo.
import fs from "node:fs";
import path from "node:path";
import { chromium, type Page } from "@playwright/test";
import { MIXED_DEVICE, mixedFiles } from "~/demo/mixed";
import { LAUNCH, READER } from "~/testing/chromium";

const BASE = process.env.UPSHIFT_URL ?? "http://127.0.0.1:4310";

/** A list with flaws, as it stands before it is taken in. */
const LIST = `Inventory;Modell;Seriennummer;IMEI 1;OS version;Akku;Spender
RG-01;ON-T8W;ONT0000901;;9;71,5 %;Rivergate school
RG-02;ON-T8W;ONT0000902;;nine;64 %;Rivergate school
RG-03;HL-10W;HLL0000903;;Android 10;80 %;Rivergate school
TH-001;VK-L8;VKL8000904;490154203237515;8.1;55 %;Drop-off desk
RG-05;ON-T8W;ONT0000120;;11;full;Rivergate school
RG-06;QL-Q3A;QLQ0000906;;10;62 %;Drop-off desk`;

/** Main views: file name → address, and what is done there before the picture is taken. */
const VIEWS: Record<string, string | ((page: Page) => Promise<void>)> = {
  today: "/",
  intake: "/intake",
  list: async (page) => {
    await page.goto(`${BASE}/intake/list`, { waitUntil: "networkidle" });
    await page.getByLabel("From which source").fill("Rivergate school");
    await page.getByLabel("Or paste the list").fill(LIST);
    await page.getByRole("button", { name: "Look at it first" }).click();
    await page.waitForURL(/intake\/lists/);
    // The columns were guessed; the rows are what one looks at.
    await page.locator("summary", { hasText: "What each column holds" }).click();
  },
  clearance: "/clearance",
  "clearance-case": "/clearance/SF-27",
  match: "/match",
  "match-group": "/match/velkora-vista20?batch=2026-11-autumn&need=messaging-phone",
  device: "/devices/TH-014",
  "bench-step": "/bench/TH-019",
  checkout: "/checkout/TH-015",
  // A run that is ended halfway, so that there is something to learn from.
  taught: async (page) => {
    const place = "3";
    const seen = "the animation runs for ever";
    const forms: Record<string, string>[] = [
      { act: "wrong", place, note: "it does not get past the animation" },
      { act: "end", place, end: "does-not-start", note: seen },
    ];
    for (const form of forms) await page.request.post(`${BASE}/bench/TH-019`, { form, headers: { origin: BASE } });
    await page.goto(`${BASE}/bench/taught`);
  },
  coverage: async (page) => {
    await page.goto(`${BASE}/coverage`, { waitUntil: "networkidle" });
    await page.getByRole("button", { name: /Mirevo Moro 7 .*Plainsong GSI 14: is stopped/ }).click();
  },
  files: async (page) => {
    await page.goto(`${BASE}/files?device=${MIXED_DEVICE}`, { waitUntil: "networkidle" });
    const files = [...(await mixedFiles())].map(([name, bytes]) => ({
      name,
      mimeType: "application/octet-stream",
      buffer: Buffer.from(bytes),
    }));
    await page.getByLabel("Files to look at").setInputFiles(files);
    await page.getByRole("button", { name: "3 wrong" }).click({ timeout: 30_000 });
  },
  prepare: "/prepare?which=all",
  floors: "/floors/phone-with-bank",
  policy: "/policy",
  // Last: devices are divided, and their needs with them.
  division: async (page) => {
    await page.goto(`${BASE}/division`, { waitUntil: "networkidle" });
    await page.getByRole("button", { name: /Divide/ }).click();
    await page.getByRole("button", { name: "Accept this division" }).waitFor({ timeout: 60_000 });
  },
  timetable: async (page) => {
    await page.goto(`${BASE}/division`, { waitUntil: "networkidle" });
    await page.getByRole("button", { name: "Accept this division" }).click();
    await page.getByRole("button", { name: "Take it back" }).waitFor();
    await page.goto(`${BASE}/timetable`, { waitUntil: "networkidle" });
    await page.getByRole("button", { name: "Work the timetable out" }).click();
    await page.getByText("Worked out at").waitFor({ timeout: 60_000 });
  },
  tonight: async (page) => {
    // On an evening: in the morning there is nothing to do yet.
    await page.goto(`${BASE}/tonight`, { waitUntil: "networkidle" });
    await page.getByRole("button", { name: "to the next evening" }).click();
    await page.waitForTimeout(4000);
    await page.setViewportSize({ width: 400, height: 800 });
    await page.goto(`${BASE}/tonight?who=Odile+Farrow`, { waitUntil: "networkidle" });
  },
};

/** Charts find their size, scripts load. */
const SETTLE_MS = 900;

const [folder = "docs/screenshots", ...only] = process.argv.slice(2);
fs.mkdirSync(folder, { recursive: true });
const browser = await chromium.launch(LAUNCH);
const { width, height } = READER.viewport;
const page = await browser.newPage({
  ...READER,
  viewport: { width: Number(process.env.WIDTH ?? width), height: Number(process.env.HEIGHT ?? height) },
});
for (const [name, address] of Object.entries(VIEWS)) {
  if (only.length && !only.includes(name)) continue;
  // The bench page keeps a connection open for as long as it is looked at: the network is never idle there.
  if (typeof address === "string") await page.goto(BASE + address, { waitUntil: "load" });
  else await address(page);
  await page.waitForTimeout(SETTLE_MS);
  await page.screenshot({ path: path.join(folder, `${name}.png`) });
  console.log(name);
}
await browser.close();
