import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { shell } from "~/phone/adb/shell";
import { Phone } from "~/phone/phone";
import { expect, test } from "../rig/app";
import { command, freePort, phoneState, treat } from "../rig/bench";
import { benchThroughPages } from "../rig/volunteer";

test.use({ desk: "cleaning" });

// A tablet that can't be unlocked: cleaned by a volunteer at the bench page with the real client, undone by the page's script,
// and offered the cleaning again.
const TAG = "SF-06";

test("the tablet that can't be unlocked is cleaned at the bench page, undone by script, and may be cleaned again", async ({
  page,
  request,
  app,
}) => {
  test.setTimeout(180_000);
  page.setDefaultTimeout(20_000);
  await page.goto(`/devices/${TAG}/ways`);
  // It is good enough as it is: the cleaning is offered beside the proposal, and somebody chooses it.
  await expect(page.getByRole("columnheader", { name: /stock cleaned/ })).toBeVisible();
  await page.getByLabel("Why this one?").fill("the family wants it light");
  await page.getByRole("button", { name: "Choose this" }).click();
  await expect(page.getByText("Accepted", { exact: true })).toBeVisible();
  const state = phoneState(treat(TAG));
  const report = await benchThroughPages(page, request, TAG, state);
  expect(report).toMatchObject({ boots: true, release: "11", storage: "clean" });

  await page.goto(`/devices/${TAG}`);
  await expect(page.getByRole("row", { name: /^Stock system cleaned by/ })).toContainText("tab8-clean-11");
  await page.getByRole("link", { name: "Packages that were taken away" }).click();
  await expect(page.getByText("14 of 14 are gone")).toBeVisible();
  await expect(page.getByRole("row", { name: /com\.ondarra\.mall/ })).toContainText("gone");

  // A list that was cut short is not “all gone”, and what was pasted stays.
  await page.getByLabel(/Paste what adb shell pm list packages says now/).fill("package:com.ondarra.mall");
  await page.getByRole("button", { name: "Compare with the list" }).click();
  await expect(page.getByText(/This is not the whole list/)).toBeVisible();
  await expect(page.getByLabel(/Paste what/)).toHaveValue("package:com.ondarra.mall");

  // The script puts all back and tells the lane.
  const script = await (await request.get(`/devices/${TAG}/packages-back.sh`)).text();
  Object.assign(state, { debugging: true, authorised: true });
  const ports = { fastboot: await freePort(), adb: await freePort(), hands: await freePort() };
  const server = String(await freePort());
  const phone = new Phone(state, ports);
  await phone.start();
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-back-"));
  const file = path.join(folder, "back.sh");
  fs.writeFileSync(file, script);
  try {
    const ran = await command("sh", [file], {
      ...process.env,
      ADB: `adb -P ${server} -s 127.0.0.1:${ports.adb}`,
      LANE: app.url,
      REPORT: path.join(folder, "report.jsonl"),
      KEEP: folder,
    });
    expect(ran.stderr).toBe("");
    expect(ran.stdout).toContain("All 14 are back");
  } finally {
    await phone.stop();
    await command("adb", ["-P", server, "kill-server"]);
  }
  expect(shell(state, "pm list packages")).toContain("com.ondarra.mall");
  await page.reload();
  await expect(page.getByText("0 of 14 are gone")).toBeVisible();
  await expect(page.getByText("None of them is missing now.")).toBeVisible();
  expect((await request.get(`/devices/${TAG}/packages-back.sh`)).status()).toBe(409);

  // The plan follows: the way it was accepted for no longer holds, and the cleaning is there to choose again.
  await page.goto(`/devices/${TAG}/ways`);
  await expect(page.getByRole("columnheader", { name: /stock cleaned/ })).toBeVisible();
});

test("a list is made from what a device lists: what must stay can't be ticked, and what goes must be named", async ({
  page,
}) => {
  await page.goto("/devices/TH-021/packages/new");
  await page.getByLabel("What the device lists").fill("error: device unauthorized");
  await page.getByRole("button", { name: "Look through it" }).click();
  await expect(page.getByText(/There is no package in what was pasted/)).toBeVisible();
  await page
    .getByLabel("What the device lists")
    .fill(
      "* daemon started\npackage:/system/priv-app/Phone/Phone.apk=com.android.phone\npackage:/system/app/Shop/Shop.apk=com.brisk.shop\npackage:/system/app/News/News.apk=com.brisk.news\n",
    );
  await page.getByRole("button", { name: "Look through it" }).click();
  await expect(page.getByText("Lines that are no package, left out: * daemon started")).toBeVisible();
  await expect(page.getByRole("row", { name: /com\.android\.phone/ })).toContainText("stays");
  await expect(page.getByLabel("com.android.phone goes")).toHaveCount(0);
  await page.getByLabel("com.brisk.shop goes").check();
  await page.getByRole("button", { name: "Put the list into the catalogue" }).click();
  await expect(page.getByText(/Say what com\.brisk\.shop is/)).toBeVisible();
  await expect(page.getByLabel("com.brisk.shop goes")).toBeChecked();
  await page.getByLabel("What com.brisk.shop is").fill("the maker's shop");
  await page.getByRole("button", { name: "Put the list into the catalogue" }).click();
  await expect(page.getByRole("heading", { name: "What goes, what stays" })).toBeVisible();
  await expect(page.getByRole("row", { name: /com\.brisk\.shop/ })).toContainText("nobody has tried it yet");
  // Its parts are edited like any other entry's; a shell's characters are refused at their row.
  await page.getByRole("link", { name: "What goes, what stays" }).click();
  await page.getByLabel("Package").nth(1).fill("com.brisk.news; reboot");
  await page.getByLabel("What it is").nth(1).fill("news");
  await page.getByRole("button", { name: /Save/ }).click();
  await expect(page.getByText(/Row 2: This is not a package name/)).toBeVisible();
});
