import { expect, test } from "../rig/app";

// What holds for every page.
test.use({ desk: "pages" });

test("on paper a page has the whole width, and no menu: also on paper that lies", async ({ page }) => {
  await page.setViewportSize({ width: 1123, height: 794 });
  await page.emulateMedia({ media: "print" });
  for (const address of ["/match", "/timetable", "/devices/TH-019/ways"]) {
    await page.goto(address);
    await expect(page.getByRole("navigation").first()).toBeHidden();
    expect((await page.getByRole("main").boundingBox())?.width, address).toBeGreaterThan(1000);
  }
});

test("whoever is on the way to another page arrives, also while others write all the time", async ({ page, app }) => {
  await page.goto("/bench");
  await page.waitForLoadState("networkidle");
  // It listens for news by now.
  await page.waitForTimeout(2500);
  await page.route(/\/bench\/TH-019\.data/, async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 3500));
    await route.continue().catch(() => {});
  });
  let on = true;
  const others = (async () => {
    for (let n = 0; on; n++) {
      const body = new URLSearchParams({ act: n === 0 ? "begin" : n % 2 ? "done" : "undone", place: "0" });
      const headers = { origin: app.url };
      const { status } = await fetch(`${app.url}/bench/TH-010`, { method: "POST", body, headers, redirect: "manual" });
      expect(status).toBe(302);
      await new Promise((resolve) => setTimeout(resolve, 900));
    }
  })();
  await page.waitForTimeout(1000);
  await page
    .getByRole("link", { name: /TH-019/ })
    .first()
    .click();
  await expect(page).toHaveURL(/\/bench\/TH-019/, { timeout: 8_000 });
  on = false;
  await others;
});
