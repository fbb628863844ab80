import { createHash } from "node:crypto";
import fs from "node:fs";
import ICAL from "ical.js";
import { PNG } from "pngjs";
import PostalMime from "postal-mime";
import { expect, test } from "../rig/app";

test.use({ desk: "clearance" });

test("ten donors are asked in one go; a week later the due list says whom to remind", async ({ page }) => {
  await page.goto("/clearance");
  await page.getByRole("link", { name: "Ask many at once" }).click();
  const preview = page.getByRole("region", { name: "Preview" });
  await page.getByLabel("How to reach Jory Pell").focus();
  await expect(preview).toContainText("Dear Jory Pell");
  await page.getByLabel("Language for Jory Pell").selectOption("de");
  await expect(preview).toContainText("Guten Tag Jory Pell");
  await page
    .getByRole("row", { name: /Omar Feld/ })
    .getByLabel("donor has it")
    .check();
  await expect(preview).toContainText("Reset it from the settings");
  await page.getByRole("checkbox", { name: "Marlow & Finch" }).uncheck();
  await page.getByRole("button", { name: "Write to 10 donors" }).click();
  await expect(page.getByText("10 letters written")).toBeVisible();

  const download = page.waitForEvent("download");
  await page
    .getByRole("row", { name: /Omar Feld/ })
    .getByRole("link", { name: ".eml" })
    .click();
  const mail = await PostalMime.parse(fs.readFileSync(await (await download).path()));
  expect(mail.to).toEqual([expect.objectContaining({ address: "omar.feld@mail.example", name: "Omar Feld" })]);
  expect(mail.text).toContain("two-factor codes");

  await page.goto("/clearance/SF-16");
  await expect(page.getByRole("heading", { name: "Owner asked" })).toBeVisible();
  await page.goto("/due");
  const remind = page.getByRole("region", { name: "Remind", exact: true });
  await expect(remind.getByRole("link", { name: "SF-16" })).toHaveCount(0);
  await page.getByRole("button", { name: "+ 7 days" }).first().click();
  await expect(page.getByRole("heading", { name: "Due list, 2 Dec 2026" })).toBeVisible();
  for (const tag of ["SF-14", "SF-15", "SF-16", "SF-17", "SF-19", "SF-24"])
    await expect(remind.getByRole("link", { name: tag })).toBeVisible();
  const ics = page.waitForEvent("download");
  await page.getByRole("link", { name: /Take them into a calendar/ }).click();
  const calendar = new ICAL.Component(ICAL.parse(fs.readFileSync(await (await ics).path(), "utf8")));
  const reminders = calendar
    .getAllSubcomponents("vevent")
    .map((e) => new ICAL.Event(e))
    .filter((e) => e.summary.startsWith("Remind ") && e.startDate.toString() === "2026-12-02");
  expect(reminders.flatMap((e) => e.description.split(", "))).toEqual(
    expect.arrayContaining(["SF-14", "SF-16", "SF-24"]),
  );
});

test("found locked at the bench: the device falls back to Clearance and its plan closes", async ({ page, request }) => {
  await page.goto("/bench/TH-019");
  await page.getByText("Something is wrong").click();
  await page.getByLabel("What do you see?").fill("after the wipe the set-up names an account");
  await page.getByRole("button", { name: "It asks for an earlier account: stop" }).click();
  await expect(page.getByRole("alert").first()).toContainText("Stop. Clearance: account on it");
  await page.getByRole("link", { name: "settle the account lock" }).click();
  await expect(page.getByText("after the wipe the set-up names an account")).toBeVisible();
  const plan = await (await request.get("/batches/2026-11-autumn/plan.json")).json();
  expect(plan.devices.find((d: { tag: string }) => d.tag === "TH-019")).toMatchObject({
    verdict: "waiting",
    best: null,
    chosen: null,
  });
  await page.goto("/devices/TH-019");
  await expect(page.getByText(/Accepted way taken back \(Clearance: a lock turned up later\)/)).toBeVisible();
});

test("what “confirmed clear” takes is asked for, and the last entry can be taken back", async ({ page }) => {
  await page.goto("/clearance/SF-31");
  await page.getByLabel("How is it known?").fill("letter of the school");
  await expect(page.getByLabel("Signed out on the device, by its owner")).toHaveCount(0);
  await page.getByRole("button", { name: "Confirmed clear" }).click();
  await expect(page.getByRole("alert")).toContainText("The organisation released it in writing");
  await page.getByLabel("The organisation released it in writing").check();
  await page.getByRole("button", { name: "Confirmed clear" }).click();
  await expect(page.getByText("The gate is open")).toBeVisible();
  await page.getByLabel("How is it known?").fill("the letter was for another device");
  await page.getByRole("button", { name: "Take the last entry back" }).click();
  await expect(page.getByRole("heading", { name: "Release asked" })).toBeVisible();
});

test("a letter text is edited with the letter in view; a name that does not exist is told and nothing is lost", async ({
  page,
}) => {
  await page.goto("/letters/texts/remind.en", { waitUntil: "networkidle" });
  await page.getByLabel("Text").fill("Dear {{donor}}, please look at {{steps}} once more.");
  await expect(page.getByRole("region", { name: "Preview" })).toContainText("Dear J. Sample, please look at {{steps}}");
  await page.getByRole("button", { name: "Save the text" }).click();
  await expect(page.getByRole("alert")).toContainText("{{steps}}");
  await expect(page.getByLabel("Text")).toHaveValue("Dear {{donor}}, please look at {{steps}} once more.");
  await page.getByLabel("Text").fill("Dear {{donor}}, please look at these once more:\n{{devices}}");
  await page.getByRole("button", { name: "Save the text" }).click();
  await expect(page.getByText("Saved. The next letter uses it.")).toBeVisible();
  await page.getByRole("button", { name: "Bring back the one that ships" }).click();
  await expect(page.getByLabel("Text")).toHaveValue(/a while ago we asked you/);
});

test("photos and papers of a case: told by what is in them, shown, listed in the export, deleted", async ({ page }) => {
  await page.goto("/clearance/SF-30");
  const give = async (name: string, buffer: Buffer) => {
    await page.getByLabel("Add a photo or a PDF").setInputFiles({ name, mimeType: "image/png", buffer });
    await page.getByRole("button", { name: "Keep it" }).click();
  };
  await give("photo.png", Buffer.from("<html><script>alert(1)</script></html>"));
  await expect(page.getByRole("alert")).toContainText("judged by what is in it");
  const png = new PNG({ width: 4, height: 4 });
  const bytes = PNG.sync.write(png);
  await give("screen.png", bytes);
  const link = page.getByRole("link", { name: "screen.png" });
  await expect(link).toBeVisible();
  const file = (await link.getAttribute("href")) ?? "";
  const answer = await page.request.get(file);
  expect(answer.headers()).toMatchObject({ "content-type": "image/png", "x-content-type-options": "nosniff" });
  expect(Buffer.compare(await answer.body(), bytes)).toBe(0);
  const digest = createHash("sha256").update(bytes).digest("hex");
  const csv = await (await page.request.get("/clearance.csv")).text();
  expect(csv).toContain(`screen.png sha256:${digest}`);
  // The export shows the ends of numbers only, unless a person asks for the whole.
  expect(csv).not.toContain("VKA1000101");
  expect(await (await page.request.get("/clearance.csv?numbers=whole")).text()).toContain("VKA1000101");
  await page.getByRole("button", { name: "Delete screen.png" }).click();
  await expect(page.getByText(/screen.png, taken away/)).toBeVisible();
  expect((await page.request.get(file)).status()).toBe(404);
});

test("a donor's contact: a wrong address is told, a second tab too; the follow-up days are the house's own", async ({
  page,
  context,
}) => {
  const address = "/donors/Pia%20Lorenz";
  const other = await context.newPage();
  await page.goto(address);
  await other.goto(address);
  await page.getByLabel("E-mail").fill("pia lorenz at home");
  await page.locator("form:has([name=email])").evaluate((form: HTMLFormElement) => {
    form.noValidate = true;
  });
  await page.getByRole("button", { name: "Save the contact" }).click();
  await expect(page.getByText("This is not an e-mail address")).toBeVisible();
  await expect(page.getByLabel("E-mail")).toHaveValue("pia lorenz at home");
  await page.getByLabel("E-mail").fill("pia@mail.example");
  await page.getByRole("button", { name: "Save the contact" }).click();
  await expect(page.getByText("Saved.")).toBeVisible();
  await page.getByRole("button", { name: "Undo the last change" }).click();
  await expect(page.getByLabel("E-mail")).toHaveValue("");
  await other.getByLabel("Telephone").fill("0550 0199");
  await other.getByRole("button", { name: "Save the contact" }).click();
  await expect(other.getByRole("alert")).toContainText("changed by somebody else");
  await expect(other.getByLabel("Telephone")).toHaveValue("0550 0199");

  await page.goto("/clearance/SF-27");
  await expect(page.getByText("Remind a second time")).toBeVisible();
  await page.goto("/policy");
  await page.getByLabel("Remind again after, days").fill("5");
  await page.getByRole("button", { name: "Save the policy" }).click();
  await expect(page.getByRole("alert")).toContainText("The second reminder comes after the first");
  await expect(page.getByLabel("Remind again after, days")).toHaveValue("5");
  await page.getByLabel("Remind again after, days").fill("28");
  await page.getByRole("button", { name: "Save the policy" }).click();
  await expect(page.getByText("Saved.")).toBeVisible();
  await page.goto("/clearance/SF-27");
  await expect(page.getByText(/Remind a second time: 9 Dec 2026/)).toBeVisible();
});

test("the register: not checked yet, a queue that outlives the process, and a hit that stops the device", async ({
  page,
  app,
  register,
}) => {
  test.setTimeout(90_000);
  await page.goto("/devices/SF-22");
  await expect(page.getByText("not checked yet")).toBeVisible();
  register.mood = "busy";
  await page.goto("/register");
  await page.getByRole("button", { name: /^Ask about \d+ devices/ }).click();
  await expect(page.getByRole("row", { name: /SF-22/ })).toContainText("waits");
  await app.stop();
  register.mood = "well";
  await app.start();
  await expect(async () => {
    await page.goto("/register");
    await expect(page.getByRole("row", { name: /SF-22/ })).toContainText("reported lost", { timeout: 500 });
  }).toPass({ timeout: 60_000 });
  await page.goto("/aside");
  await expect(page.getByRole("listitem").filter({ hasText: "SF-22" })).toContainText("hand it over as local law says");
});
