// npm run screenshots -- [DIR] [name…]: pictures of the main views at 1280×800, from the demo data, of a running demo.
import fs from "node:fs";
import path from "node:path";
import { chromium } from "@playwright/test";

const BASE = process.env.UPSHIFT_URL ?? "http://127.0.0.1:4310";

/** Main views: file name → address. */
const VIEWS: Record<string, string> = {
  today: "/",
  intake: "/intake",
  clearance: "/clearance",
  "clearance-case": "/clearance/TH-005",
  match: "/match",
  "match-group": "/match/velkora-vista20?batch=2026-11-autumn&need=messaging-phone",
  device: "/devices/TH-014",
  ways: "/devices/TH-017/ways",
  bench: "/bench",
  "bench-step": "/bench/TH-019",
  checkout: "/checkout/TH-015",
  records: "/records",
  models: "/models",
  image: "/images/wicklight-15-vesper",
  floors: "/floors/phone-with-bank",
  policy: "/policy",
  catalogue: "/catalogue",
};

const [folder = "docs/screenshots", ...only] = process.argv.slice(2);
fs.mkdirSync(folder, { recursive: true });
const browser = await chromium.launch({
  executablePath: "/usr/bin/chromium",
  args: [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
  ],
});
const page = await browser.newPage({
  viewport: { width: Number(process.env.WIDTH ?? 1280), height: Number(process.env.HEIGHT ?? 800) },
  locale: "en-GB",
  timezoneId: "Europe/London",
});
for (const [name, address] of Object.entries(VIEWS)) {
  if (only.length && !only.includes(name)) continue;
  await page.goto(BASE + address, { waitUntil: "networkidle" });
  await page.screenshot({ path: path.join(folder, `${name}.png`) });
  console.log(name);
}
await browser.close();
