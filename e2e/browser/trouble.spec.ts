import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "../rig/app";

test.use({ desk: "trouble" });

test("what is seen is picked at the bench, and its next steps stand there with their commands", async ({ page }) => {
  page.setDefaultTimeout(15_000);
  await page.goto("/bench/TH-010");
  await page.getByRole("button", { name: /^Begin/ }).click();
  await expect(page.getByText(/^Step 1 of/)).toBeVisible();
  await page.getByText("Something is wrong").click();
  const seen = page.getByRole("navigation", { name: "Often seen here" });
  // At the first step, before anything was done, only one thing can be seen.
  await expect(seen.getByRole("link")).toHaveText(["Dark, warm, no key works"]);
  await seen.getByRole("link", { name: "Dark, warm, no key works" }).click();
  const help = page.getByRole("region", { name: "Dark, warm, no key works" });
  await expect(help.getByText("Perhaps the firmware")).toBeVisible();
  await expect(help.getByText("Keys for 30 s, then 30 minutes of charge")).toBeVisible();
  await expect(help.getByText(/A battery that gets hot or swells can burn/)).toBeVisible();
  await expect(help.getByText(/End the run as dead, for parts/i)).toBeVisible();
  // What was picked is the note that is written down.
  await expect(page.getByLabel("What do you see?")).toHaveValue("Dark, warm, no key works");
  expect((await new AxeBuilder({ page }).analyze()).violations.map((v) => v.id)).toEqual([]);

  // At the client's first look, a lead that shows nothing; a made-up pick is passed over.
  await page.goto("/bench/TH-010");
  for (let n = 0; n < 12; n++) {
    const title = await page.locator("#step").textContent();
    if (title?.includes("the device answers")) break;
    await page.getByRole("button", { name: /^Done/ }).click();
    await expect(page.locator("#step")).not.toHaveText(title ?? "");
  }
  await page.goto("/bench/TH-010?seen=nothing-on-computer");
  await expect(page.getByRole("region", { name: "Nothing shows on the computer" })).toContainText("The original lead");
  await page.goto("/bench/TH-010?seen=error-seven-addon");
  await expect(page.getByRole("region", { name: /Error 7/ })).toHaveCount(0);
});
