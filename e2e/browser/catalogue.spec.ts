import { expect, test } from "../rig/app";
import { noise, Workshop } from "../rig/tools";

test.use({ desk: "catalogue" });

test("the matrix: marks with their reason and rule, filters in the address, from a cell to the rule", async ({
  page,
}) => {
  await page.goto("/coverage");
  await page.waitForLoadState("networkidle");
  await page.getByRole("button", { name: "Mirevo M7 (marlin-peak), Plainsong GSI 14: is stopped" }).click();
  const chosen = page.getByRole("region", { name: "The chosen cell" });
  await expect(chosen).toContainText("The catalogue has no verification file for this board");
  await expect(chosen).toContainText("verification.missing");
  await chosen.getByRole("link", { name: /^A generic image needs the verification file/ }).click();
  await expect(page).toHaveURL(/\/rules#verification\.missing$/);
  await page.goBack();
  await page.getByLabel("Kind").selectOption("gsi");
  await page.getByLabel("State").selectOption("stopped");
  await page.getByRole("button", { name: "Show" }).click();
  await expect(page).toHaveURL(/kind=gsi&state=stopped/);
  await expect(page.getByText("0 fits", { exact: true })).toBeVisible();
  await page.getByLabel("Model", { exact: true }).fill("nobody");
  await page.getByRole("button", { name: "Show" }).click();
  await expect(page.getByText("Nothing in the catalogue is like this")).toBeVisible();
});

test("an image is changed in parts: a fault, a wrong row, withdrawn; differences are shown; all is taken back", async ({
  page,
}) => {
  await page.goto("/images/wicklight-14-vesper");
  await page.getByRole("link", { name: "Known faults" }).click();
  const last = page.locator("fieldset").filter({ hasText: "Faults" }).locator("div.grid");
  const free = last.nth((await last.count()) - 2);
  await free.getByLabel("Hardware").selectOption("camera");
  await free.getByLabel("What is wrong").fill("x");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText(/^Row \d: /)).toBeVisible();
  await page
    .getByLabel("What is wrong")
    .nth((await last.count()) - 2)
    .fill("The camera shows a black picture");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("Camera: The camera shows a black picture")).toBeVisible();
  const history = page.getByRole("region", { name: "History" });
  await expect(history).toContainText("is new");
  // The planner knows: the matrix tells of the fault.
  await page.goto("/coverage?kind=rom&q=vesper");
  await expect(
    page.getByRole("button", { name: "Velkora Vista 20 (vesper), Wicklight 14: fits, with known faults" }),
  ).toBeVisible();

  await page.goto("/images/wicklight-14-vesper/edit/withdrawn");
  await page.getByLabel("Withdrawn on").fill("2026-11-20");
  await page.getByLabel("Why").fill("It loops at the start picture");
  await page.getByLabel("Successor").selectOption("wicklight-15-vesper");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("Withdrawn on 2026-11-20: It loops at the start picture")).toBeVisible();
  await page.getByRole("button", { name: "Take the last change back" }).click();
  await expect(page.getByText("is again as it was")).toBeVisible();
  await expect(page.getByText("It loops at the start picture.")).toHaveCount(0);

  await page.getByText("Write down another").click();
  await page.getByLabel("Image", { exact: true }).selectOption("larder-14-arm64");
  await page.getByLabel("What goes wrong").fill("The set-up stops at the second page");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByRole("link", { name: "larder-14-arm64" })).toBeVisible();
  await page.getByRole("button", { name: "Take out the pair with larder-14-arm64" }).click();
  await expect(page.getByText("It may be combined with larder-14-arm64 again")).toBeVisible();
});

test("a model is changed in parts: what points nowhere is refused and kept; the planner follows", async ({ page }) => {
  await page.goto("/models/ondarra-tab8");
  await page.getByRole("link", { name: "Firmware" }).click();
  const rows = page.locator("fieldset").filter({ hasText: "Ranges that kill boards" }).locator("div.grid");
  const free = rows.nth((await rows.count()) - 2);
  await free.getByLabel("From").fill("T8-9.2");
  await free.getByLabel("To").fill("T8-77");
  await free.getByLabel("What happens").fill("The board dies at the next update");
  await free.getByLabel("Safe base").fill("T8-11.1");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("alert")).toContainText("“T8-77” is not in this model's firmware order");
  await expect(free.getByLabel("What happens")).toHaveValue("The board dies at the next update");
  await free.getByLabel("To").fill("T8-9.2");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("Firmware T8-9.2 to T8-9.2: The board dies at the next update")).toBeVisible();
  await page.getByRole("link", { name: "Who it is" }).click();
  await page.getByLabel("Model numbers").fill("");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("alert")).toContainText("Nothing was saved");
});

test("a file that no record knows becomes an image: drafted, mended, in the catalogue", async ({ page }) => {
  const shop = new Workshop();
  try {
    shop.write("raw.img", noise(500_000));
    shop.run("img2simg", "raw.img", "meadow-15-arm64.img");
    await page.goto("/files");
    await page.waitForLoadState("networkidle");
    await page.getByLabel("Files to look at").setInputFiles(shop.at("meadow-15-arm64.img"));
    await page.getByRole("button", { name: "More about meadow-15-arm64.img" }).click();
    await page.getByRole("link", { name: "Draft an image record from meadow-15-arm64.img" }).click();
    await expect(page.getByLabel("Short name")).toHaveValue("meadow-15-arm64");
    await page.getByRole("button", { name: "Put it into the catalogue" }).click();
    await expect(page.getByRole("alert")).toContainText("Nothing was saved");
    await page.getByLabel("Version", { exact: true }).fill("15.0");
    await page.getByLabel("Android version").fill("15");
    await page.getByLabel("Released").fill("2026-10-01");
    await page.getByLabel("Processor").selectOption("arm64");
    await page.getByRole("button", { name: "Put it into the catalogue" }).click();
    await expect(page.getByRole("heading", { level: 1 })).toContainText("meadow 15 arm64");
    // From now on the file is known by its digest.
    await page.goto("/files");
    await page.waitForLoadState("networkidle");
    await page.getByLabel("Files to look at").setInputFiles(shop.at("meadow-15-arm64.img"));
    await expect(page.getByText("Its digest is that of meadow-15-arm64.img of meadow 15 arm64").first()).toBeVisible();
  } finally {
    shop.done();
  }
});
