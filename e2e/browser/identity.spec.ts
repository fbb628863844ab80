import { expect, test } from "../rig/app";

test.use({ desk: "identity" });

test("one name on two boards: the page asks for what tells them apart, and the answer settles it", async ({ page }) => {
  await page.goto("/intake");
  await expect(page.getByRole("row", { name: /TH-012/ })).toContainText("the end of the model number HN5-…");
  await page.getByRole("link", { name: "TH-012" }).click();
  const who = page.getByRole("region", { name: "Who is it?" });
  await who.getByRole("button", { name: /^HN5-IN/ }).click();
  await expect(page.getByRole("link", { name: "Halvik Note 5" })).toBeVisible();
  await expect(who).toHaveCount(0);
  // Undo: the button was the wrong one.
  await page.getByRole("button", { name: /^Take back ?: typed in: model number HN5-IN/ }).click();
  await expect(page.getByRole("region", { name: "Who is it?" })).toBeVisible();
});

test("a list of supported devices is loaded, searched, and names a device; a model is drafted from what is known", async ({
  page,
}) => {
  await page.goto("/known");
  const load = async (text: string) => {
    await page.getByLabel(/Load a list|Replace the list/).setInputFiles({
      name: "supported.csv",
      mimeType: "text/csv",
      buffer: Buffer.from(text),
    });
    await page.getByRole("button", { name: "Load", exact: true }).click();
  };
  await load("brand,name\nOndarra,Pad 7\n");
  await expect(page.getByRole("alert")).toContainText("no column “device”, “model”");
  await load("\uFEFFbrand,name,device,model\nOndarra,Pad 7,osier,ON-P7\nHalvik,Leaf 8,alder,HL-8W\n");
  await expect(page.getByText("2 devices are in the list now.")).toBeVisible();
  await page.getByLabel("Look for a model number, code name or name").fill("osier");
  await page.getByRole("button", { name: "Look" }).click();
  await expect(page.getByRole("row", { name: /Pad 7/ })).toContainText("ON-P7");

  await page.goto("/devices/SF-37");
  await page.getByRole("button", { name: "code name osier" }).click();
  await expect(page.getByRole("row", { name: /Code name/ })).toContainText("osier");
  await page.getByRole("link", { name: "draft a model from what is known" }).click();
  await expect(page.getByLabel("Maker")).toHaveValue("Ondarra");
  await page.getByRole("button", { name: "Put it into the catalogue" }).click();
  await expect(page.getByRole("alert")).toContainText("Some of it must be known");
  await expect(page.getByLabel("Code name")).toHaveValue("osier");
  await page.getByLabel("Board").fill("OSR-7");
  await page.getByLabel("Form").selectOption("tablet");
  await page.getByLabel("Sold with Android").fill("4.4");
  await page.getByLabel("CPU type").selectOption("arm");
  await page.getByLabel("Flashed through").selectOption("fastboot");
  for (const no of ["Vendor interface (Treble)", "Two slots", "Userspace fastboot", "System inside a super partition"])
    await page.getByLabel(no).selectOption("no");
  await page.getByLabel("Room for the system partition, bytes").fill("1073741824");
  await page.getByLabel("Bootloader can be unlocked").selectOption("no");
  await page.getByLabel("Firmware versions, oldest first").fill("P7-1.0");
  await page.getByRole("button", { name: "Put it into the catalogue" }).click();
  await expect(page.getByRole("heading", { name: /Ondarra Pad 7/ })).toBeVisible();

  // Android 4.4: a lock is impossible only where this maker has none of its own. Unknown is not taken for no.
  await page.goto("/clearance/SF-37");
  await expect(page.getByText("only the maker could have put a lock on it")).toBeVisible();
  await page.getByLabel("How is it known?").fill("Android 4.4 in Settings");
  await page.getByRole("button", { name: "No lock possible" }).click();
  await expect(page.getByRole("alert")).toContainText("write down whether this maker has one");
  await page.goto("/devices/SF-37");
  await page.getByLabel("Write down").selectOption("lock.maker");
  await page.getByLabel("Value").fill("no");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("row", { name: /Maker's own lock/ })).toContainText("no");
  await page.goto("/clearance/SF-37");
  await page.getByLabel("How is it known?").fill("Android 4.4 in Settings, and this maker has no lock");
  await page.getByRole("button", { name: "No lock possible" }).click();
  await expect(page.getByText("The gate is open")).toBeVisible();
});
