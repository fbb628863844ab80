import { expect, takenOver, test } from "../rig/app";

// What holds for every page.
test.use({ desk: "pages" });

/** Somebody else presses steps at the bench of a device. */
function othersWrite(url: string, tag: string) {
  let on = true;
  const others = (async () => {
    for (let n = 0; on; n++) {
      const body = new URLSearchParams({ act: n === 0 ? "begin" : n % 2 ? "done" : "undone", place: "0" });
      const headers = { origin: url };
      const { status } = await fetch(`${url}/bench/${tag}`, { method: "POST", body, headers, redirect: "manual" });
      expect(status).toBe(302);
      await new Promise((resolve) => setTimeout(resolve, 900));
    }
  })();
  return () => {
    on = false;
    return others;
  };
}

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
  const end = othersWrite(app.url, "TH-010");
  await page.waitForTimeout(1000);
  await page
    .getByRole("link", { name: /TH-019/ })
    .first()
    .click();
  await expect(page).toHaveURL(/\/bench\/TH-019/, { timeout: 8_000 });
  await end();
});

test("an answer, and what was typed with it, stay while others write", async ({ page, app }) => {
  await page.goto("/groups/new");
  await page.waitForLoadState("networkidle");
  await page.waitForTimeout(2500);
  await page.getByLabel("Name").fill("Ferry school");
  await page.getByLabel("Devices they asked for").fill("4");
  await page.getByLabel("Least useful number").fill("9");
  await page.getByLabel("By which day").fill("2026-12-14");
  await page.getByRole("button", { name: "Write the group down" }).click();
  await expect(page.getByRole("alert")).toBeVisible();
  const end = othersWrite(app.url, "TH-004");
  await page.waitForTimeout(5000);
  await expect(page.getByRole("alert")).toBeVisible();
  await expect(page.getByLabel("Name")).toHaveValue("Ferry school");
  await end();
});

test("what was typed before the scripts came stays when they come, and is what is sent", async ({ page }) => {
  let come = () => {};
  const held = new Promise<void>((resolve) => {
    come = resolve;
  });
  await page.route(/\.js$/, async (route) => {
    await held;
    await route.continue();
  });
  await page.goto("/evenings", { waitUntil: "commit" });
  await page.getByLabel("Hours, one rule a line").fill("FREQ=SECONDLY 18:00 180");
  await page.getByLabel("Line into the house, Mbit/s").fill("77");
  come();
  await takenOver(page);
  await page.waitForTimeout(500);
  await expect(page.getByLabel("Hours, one rule a line")).toHaveValue("FREQ=SECONDLY 18:00 180");
  await expect(page.getByLabel("Line into the house, Mbit/s")).toHaveValue("77");
  await page.getByRole("button", { name: "Save the hours" }).click();
  await expect(page.getByText(/Line 1: This is no rule of RFC 5545/)).toBeVisible();
});

test("what was sent when the lane did not answer is shown to be copied, and not where it had answered", async ({
  page,
}) => {
  const fill = async (least: string) => {
    await page.goto("/groups/new");
    await page.getByLabel("Name").fill("Ferry school");
    await page.getByLabel("Note").fill("Two of them\nwithout a camera");
    await page.getByLabel("Devices they asked for").fill("4");
    await page.getByLabel("Least useful number").fill(least);
    await page.getByLabel("By which day").fill("2026-12-14");
    await page.getByRole("button", { name: "Write the group down" }).click();
  };
  const sent = page.getByRole("region", { name: "What you sent" });
  await fill("9");
  await expect(page.getByRole("alert")).toBeVisible();
  await page.route(/match\.data|groups\/new\.data/, (route) => route.abort("connectionreset"));
  await page.getByRole("navigation").getByRole("link", { name: "Match" }).first().click();
  await expect(page.getByRole("heading", { name: "This did not work" })).toBeVisible();
  await expect(sent).toBeHidden();
  await fill("1");
  await expect(sent).toContainText("Ferry school");
  await expect(sent).toContainText("without a camera");
});

test("a house with five windows open has a connection left", async ({ context, page }) => {
  for (let n = 0; n < 4; n++) await (await context.newPage()).goto(n % 2 ? "/timetable" : "/tonight");
  await page.goto("/tonight");
  await page.waitForLoadState("networkidle");
  // All listen for news by now.
  await page.waitForTimeout(2500);
  await page.getByRole("link", { name: "Evenings" }).first().click();
  await expect(page.getByRole("heading", { level: 1, name: "Evenings" })).toBeVisible({ timeout: 8_000 });
});
