import { expect, test } from "../rig/app";

test.use({ desk: "log" });

// What a client said, read at the bench page and made the step's note.
test("what the client said is read for the step it was said in, and becomes the step's note with one click", async ({
  page,
}) => {
  page.setDefaultTimeout(15_000);
  await page.goto("/bench/TH-019");
  await page.getByText("Something is wrong").click();
  await page.getByRole("link", { name: "It said something: have it read" }).click();
  await page.getByRole("button", { name: "Read it" }).click();
  await expect(page.getByText(/There is nothing to read/)).toBeVisible();
  const text = "* daemon started successfully\nerror: device offline\n<script>alert(1)</script>";
  await page.getByLabel(/Paste what the client/).fill(text);
  await page.getByRole("button", { name: "Read it" }).click();
  const reading = page.getByRole("region", { name: "The reading" });
  await expect(reading.getByText("Look first.")).toBeVisible();
  await expect(reading.getByText(/Line 2: The connection broke off/)).toBeVisible();
  await expect(reading.getByRole("row", { name: /<script>/ })).toContainText("not known");
  await page.getByRole("button", { name: /Write it down at step 4, and stop there/ }).click();
  await expect(page.getByText(/Something went wrong here: error: device offline/)).toBeVisible();
});

test("the same line in another step means another thing; a file is read as well, and one that is too large is refused in words", async ({
  page,
}) => {
  page.setDefaultTimeout(15_000);
  await page.goto("/bench/TH-006/log");
  const lines = "Failed to mount '/data' (Invalid argument)";
  const at = async (title: RegExp) => {
    const option = page.getByLabel("At which step").locator("option", { hasText: title }).first();
    await page.getByLabel("At which step").selectOption((await option.getAttribute("value")) ?? "");
    await page.getByLabel(/Paste what the client/).fill(lines);
    await page.getByRole("button", { name: "Read it" }).click();
  };
  await at(/Wipe cache, dalvik/);
  await expect(page.getByText("harmless here: It is about to be formatted anyway")).toBeVisible();
  await at(/Copy /);
  await expect(page.getByText(/Line 1: Storage can't be read/)).toBeVisible();
  await page.getByLabel(/Paste what the client/).fill("");
  await page
    .getByLabel("Or drop it as a file")
    .setInputFiles({ name: "log.txt", mimeType: "text/plain", buffer: Buffer.from("Status 0\n") });
  await page.getByRole("button", { name: "Read it" }).click();
  await expect(page.getByText("It went well.")).toBeVisible();
  await page
    .getByLabel("Or drop it as a file")
    .setInputFiles({ name: "log.txt", mimeType: "text/plain", buffer: Buffer.alloc(5_000_000, "a\n") });
  await page.getByRole("button", { name: "Read it" }).click();
  await expect(page.getByText(/more than 4 MB: give the last part/)).toBeVisible();
});
