import { chromium } from "@playwright/test";
import { LAUNCH, READER } from "~/testing/chromium";

/**
 * The coverage matrix in a browser.
 *
 * @returns until its first marks are painted, median of five; and within what time 19 of 20 frames of a fling come; both in ms
 */
export async function measureMatrix(address: string): Promise<{ readonly shown: number; readonly frame: number }> {
  const browser = await chromium.launch(LAUNCH);
  try {
    const page = await browser.newPage(READER);
    const shown: number[] = [];
    for (let i = 0; i < 5; i++) {
      await page.goto(address, { waitUntil: "load" });
      // The browser writes the paint down after it was shown.
      await page.waitForFunction(() => performance.getEntriesByName("first-contentful-paint").length > 0);
      shown.push(
        await page.evaluate(() => performance.getEntriesByName("first-contentful-paint")[0]?.startTime ?? Number.NaN),
      );
      if ((await page.locator("[aria-label='Coverage matrix'] button").count()) === 0) throw new Error("no marks");
    }
    await page.waitForLoadState("networkidle");
    const frame = await page.evaluate(async () => {
      const matrix = document.querySelector("[aria-label='Coverage matrix']") as HTMLElement;
      const gaps: number[] = [];
      let last = performance.now();
      for (let i = 0; i < 120; i++) {
        matrix.scrollTop += 45;
        matrix.scrollLeft += 90;
        await new Promise((resolve) => requestAnimationFrame(resolve));
        gaps.push(performance.now() - last);
        last = performance.now();
      }
      return gaps.sort((a, b) => a - b)[Math.floor(gaps.length * 0.95)];
    });
    return { shown: shown.sort((a, b) => a - b)[2], frame };
  } finally {
    await browser.close();
  }
}
