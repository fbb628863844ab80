import { expect, test } from "../rig/app";

test.use({ desk: "bench" });

import { phoneState, runScript, treat } from "../rig/bench";
import { benchThroughPages } from "../rig/volunteer";

// What a coordinator and a volunteer do, by role and label, with the real clients on the other end of the lead.

test("batch → match → bench → checkout: a tablet comes to Android 14, each step done as the page says", async ({
  page,
  request,
}) => {
  test.setTimeout(240_000);
  await page.goto("/match");
  await page.getByRole("link", { name: "Brisk & Tamm Sheaf 10", exact: true }).click();
  const card = page.getByRole("region", { name: /alike/ }).filter({ hasText: "TH-021" });
  await expect(card.getByText("Can go")).toBeVisible();
  await card.getByRole("button", { name: "Accept" }).click();
  await expect(card.getByText("Accepted", { exact: true })).toBeVisible();

  const plan = await (await request.get("/batches/2026-11-autumn/plan.json")).json();
  const device = plan.devices.find((d: { tag: string }) => d.tag === "TH-021");
  expect(device).toMatchObject({ verdict: "can-go", clearance: "confirmed-clear", chosen: { release: "14", api: 34 } });

  const report = await benchThroughPages(page, request, "TH-021", phoneState(treat("TH-021")));
  expect(report).toMatchObject({
    alive: true,
    boots: true,
    release: "14",
    api: 34,
    image: "plainsong-14-arm64",
    storage: "clean",
  });

  await page.getByRole("link", { name: "Go on to Checkout" }).click();
  await page.getByRole("button", { name: "Done: hand over" }).click();
  await expect(page.getByRole("alert")).toContainText("Not done yet");
  await page.getByLabel("Android version: measured or seen").fill("14");
  for (const right of await page.getByLabel("all right", { exact: true }).all()) await right.check();
  await page.getByLabel("Security patch: measured or seen").fill("2025-03-01");
  await page.getByRole("button", { name: "Done: hand over" }).click();
  await expect(page).toHaveURL(/\/checkout$/);
  await page
    .getByRole("link", { name: /Records/ })
    .first()
    .click();
  await expect(page.getByRole("row", { name: /TH-021/ })).toContainText("Android 14");

  await page.goto("/devices/TH-021");
  await expect(page.getByRole("row", { name: /Android version/ })).toContainText("typed in");
});

test("the script that is served brings the phone to what plan.json promises", async ({ request }) => {
  const plan = await (await request.get("/batches/2026-11-autumn/plan.json")).json();
  const device = plan.devices.find((d: { tag: string }) => d.tag === "TH-007");
  const script = await request.get("/devices/TH-007/runbook.sh");
  expect(script.headers()["content-type"]).toContain("text/x-shellscript");
  const run = await runScript(await script.text(), phoneState(treat("TH-007")));
  expect(run.status, run.stderr).toBe(0);
  expect(run.report).toMatchObject({
    boots: true,
    release: device.best.release,
    api: device.best.api,
    wipes: device.best.wipes,
  });
});

test("choosing another way takes a reason, and can be taken back", async ({ page }) => {
  await page.goto("/devices/TH-006/ways");
  const table = page.getByRole("table").first();
  await table.getByLabel("Why this one?").first().fill("the group knows this release");
  await table.getByRole("button", { name: "Choose this" }).first().click();
  await expect(page.getByText("Accepted", { exact: true })).toBeVisible();
  await page.goto("/devices/TH-006");
  await expect(page.getByText("not the proposed one: the group knows this release")).toBeVisible();
  await page.goto("/devices/TH-006/ways");
  await page.getByRole("button", { name: "Take the decision back" }).click();
  await expect(page.getByRole("button", { name: "Accept" })).toBeVisible();
});

test("the bench survives a reload, a killed server, and tells when something is wrong", async ({ page, app }) => {
  await page.goto("/bench/TH-010");
  await page.getByRole("button", { name: /^Begin/ }).click();
  await page.getByRole("button", { name: /^Done/ }).click();
  await expect(page.getByText(/Step 2 of/)).toBeVisible();
  await page.getByRole("button", { name: /Start the clock/ }).click();
  await expect(page.getByRole("timer")).toBeVisible();
  await page.reload();
  await expect(page.getByText(/Step 2 of/)).toBeVisible();
  await expect(page.getByRole("timer")).toBeVisible();
  await app.stop();
  await app.start();
  await page.reload();
  await expect(page.getByText(/Step 2 of/)).toBeVisible();
  await page.getByText("Something is wrong").click();
  await page.getByLabel("What do you see?").fill("battery shows 12 %");
  await page.getByRole("button", { name: /Write it down/ }).click();
  await expect(page.getByRole("alert")).toContainText("battery shows 12 %");
  await page.getByRole("button", { name: "Try this step again" }).click();
  await expect(page.getByRole("button", { name: /^Done/ })).toBeVisible();
});

test("a lock that turns up at the bench shuts the gate and stops the run", async ({ page, request }) => {
  await page.goto("/clearance/TH-004");
  await page.getByLabel("How is it known?").fill("the set-up asks for an account after all");
  await page.getByRole("button", { name: "A lock turned up later" }).click();
  await expect(page.getByText("The gate is shut")).toBeVisible();
  await page.goto("/bench/TH-004");
  await expect(page.getByRole("alert")).toContainText("Stop. Clearance");
  await expect(page.getByRole("button", { name: /^Begin/ })).toHaveCount(0);
  expect((await request.get("/devices/TH-004/runbook.sh")).status()).toBe(409);
  const plan = await (await request.get("/batches/2026-11-autumn/plan.json")).json();
  expect(plan.devices.find((d: { tag: string }) => d.tag === "TH-004")).toMatchObject({
    verdict: "waiting",
    best: null,
    alternatives: [],
  });
});

test("keys: digits for the stations, slash for search, question mark for the list", async ({ page }) => {
  await page.goto("/");
  await page.waitForLoadState("networkidle");
  await page.keyboard.press("3");
  await expect(page.getByRole("heading", { level: 1, name: "Match" })).toBeVisible();
  await page.keyboard.press("/");
  await page.keyboard.type("0113");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("link", { name: "TH-013" })).toBeVisible();
  await page.locator("h1").click();
  await page.keyboard.press("?");
  await expect(page.getByRole("heading", { name: "Keys" })).toBeVisible();
  await page.keyboard.press("Escape");
  await page.goto("/bench/TH-019");
  await page.waitForLoadState("networkidle");
  await page.keyboard.press(" ");
  await expect(page.getByText(/^Step 5 of \d+$/)).toBeVisible();
});
