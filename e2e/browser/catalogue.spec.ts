import fs from "node:fs";
import { Ajv2020 } from "ajv/dist/2020.js";
import { parse } from "csv-parse/sync";
import { expect, test } from "../rig/app";
import { noise, Workshop } from "../rig/tools";

type Row = Record<string, string>;

test.use({ desk: "catalogue" });

test("the matrix: marks with their reason and rule, filters in the address, from a cell to the rule", async ({
  page,
}) => {
  await page.goto("/coverage");
  await page.waitForLoadState("networkidle");
  await page.getByRole("button", { name: "Mirevo Moro 7 (marlin-peak), Plainsong GSI 14: is stopped" }).click();
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

test("a firmware that the model's order lacks is asked of the model: the question leads to its form", async ({
  page,
}) => {
  await page.goto("/devices/SF-56");
  await page.getByLabel("Write down").selectOption("firmware.version");
  await page.getByLabel("Value").fill("V2011R2");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  const question = page.getByRole("listitem").filter({ hasText: "Put firmware V2011R2 into its place" });
  await expect(question).not.toContainText("is not known");
  await question.getByRole("link", { name: "put it there" }).click();
  const order = page.getByLabel("Versions, oldest first");
  await order.fill((await order.inputValue()).replace("V20-11.2", "V20-11.2\nV2011R2"));
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("V20-11.2, V2011R2, V20-12.4")).toBeVisible();
  await page.goto("/devices/SF-56");
  await expect(page.getByText("Can go")).toBeVisible();
});

test("a file that no record knows becomes an image: drafted, mended, in the catalogue", async ({ page }) => {
  const shop = new Workshop();
  try {
    shop.write("raw.img", noise(500_000));
    shop.run("img2simg", "raw.img", "meadow-15-a64-ab.img");
    await page.goto("/files");
    await page.waitForLoadState("networkidle");
    await page.getByLabel("Files to look at").setInputFiles(shop.at("meadow-15-a64-ab.img"));
    await page.getByRole("button", { name: "More about meadow-15-a64-ab.img" }).click();
    await page.getByRole("link", { name: "Draft an image record from meadow-15-a64-ab.img" }).click();
    await expect(page.getByLabel("Short name")).toHaveValue("meadow-15-a64-ab");
    await expect(page.getByText("Guessed from the file's name, not read from it")).toContainText(
      "binder 64-bit (“a64”)",
    );
    await expect(page.getByLabel("Layout")).toHaveValue("ab");
    await page.getByRole("button", { name: "Put it into the catalogue" }).click();
    await expect(page.getByRole("alert")).toContainText("Nothing was saved");
    await page.getByLabel("Version", { exact: true }).fill("15.0");
    await page.getByLabel("Android version").fill("15");
    await page.getByLabel("Released").fill("2026-10-01");
    await page.getByLabel("Processor").selectOption("arm");
    await page.getByRole("button", { name: "Put it into the catalogue" }).click();
    await expect(page.getByRole("heading", { level: 1 })).toContainText("meadow 15 a64 ab");
    await expect(page.getByText("15.0", { exact: true })).toBeVisible();
    // From now on the file is known by its digest.
    await page.goto("/files");
    await page.waitForLoadState("networkidle");
    await page.getByLabel("Files to look at").setInputFiles(shop.at("meadow-15-a64-ab.img"));
    await expect(
      page.getByText("Its digest is that of meadow-15-a64-ab.img of meadow 15 a64 ab").first(),
    ).toBeVisible();
  } finally {
    shop.done();
  }
});

test("a pack: cut out, changed elsewhere and here, merged field by field, taken back as a whole", async ({ page }) => {
  // What is published as its schema is judged by ajv, not by us.
  const schema = await (await page.request.get("/catalogue.schema.json")).json();
  const validate = new Ajv2020({ strict: true }).compile(schema);
  await page.goto("/catalogue");
  await page.getByLabel("Title").fill("Demo catalogue");
  await page.getByLabel("Halvik Leaf 10 (linnet)").check();
  await page.getByLabel("Images made for no model in particular too").uncheck();
  const saving = page.waitForEvent("download");
  await page.getByRole("button", { name: "Save the pack (JSON)" }).click();
  const download = await saving;
  expect(download.suggestedFilename()).toBe("demo-catalogue.json");
  const pack = JSON.parse(fs.readFileSync(await download.path(), "utf8"));
  expect(validate(pack)).toBe(true);
  expect(pack.models.map((m: { id: string }) => m.id)).toEqual(["halvik-leaf"]);

  // Elsewhere: other keys, more waiting, a further name; an entry that points at a model which is not there.
  const [leaf] = pack.models;
  leaf.keys.recovery = "Hold all three keys";
  leaf.unlock.waitingDays = 3;
  pack.images.push({ ...pack.images[0], id: "rom-for-fern", models: ["fern"], title: "Rom for fern" });
  // Here: the same keys, and something of its own.
  // Scripts are there before anything is typed: what is typed while they take the page over may be joined to what stood there.
  await page.goto("/models/halvik-leaf/edit/flashing", { waitUntil: "networkidle" });
  await page.getByLabel("Keys to recovery").fill("Hold volume up for 10 s");
  await page.getByLabel("Keys to the bootloader").fill("Hold volume down for 10 s");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("Hold volume up for 10 s").first()).toBeVisible();

  await page.goto("/catalogue");
  await page
    .getByLabel("Or paste it")
    .fill('{"format":"upshift-lane-catalogue","version":1,"models":[{"id":"Not a name"}]}');
  await page.getByRole("button", { name: "See what it would change" }).click();
  await expect(page.getByRole("alert")).toContainText("models[0].id");
  await expect(page.getByLabel("Or paste it")).toHaveValue(/Not a name/);
  await page.getByLabel("File").setInputFiles({
    name: "from-elsewhere.json",
    mimeType: "application/json",
    buffer: Buffer.from(JSON.stringify(pack)),
  });
  await page.getByRole("button", { name: "See what it would change" }).click();
  const conflict = page.getByRole("region", { name: "Changed here and in the pack (1)" });
  await expect(conflict.getByRole("row", { name: /Keys to recovery/ })).toContainText("Hold all three keys");
  await expect(conflict.getByRole("radio", { name: /here: Hold volume up for 10 s/ })).toBeChecked();
  await expect(conflict.getByRole("row", { name: /Days of waiting/ })).toContainText("3");
  await expect(page.getByRole("region", { name: /No longer in the pack/ })).toBeVisible();
  await expect(page.getByText("rom-for-fern.models[0]")).toBeVisible();
  await conflict.getByRole("radio", { name: /in the pack: Hold all three keys/ }).check();
  await page.getByRole("button", { name: "Take in what is ticked" }).click();
  await expect(page.getByRole("alert").first()).toContainText("Nothing was changed: There is no model “fern”");
  await expect(conflict.getByRole("radio", { name: /in the pack: Hold all three keys/ })).toBeChecked();
  await conflict.getByRole("radio", { name: /here: Hold volume up for 10 s/ }).check();
  await page.getByLabel("Take Rom for fern").uncheck();
  await page.getByRole("button", { name: "Take in what is ticked" }).click();
  await expect(page.getByRole("heading", { name: /: 1 entry changed/ })).toBeVisible();
  const address = page.url();
  await page.getByRole("link", { name: "halvik-leaf", exact: true }).click();
  // Ours stood in the conflict, the pack's went in beside it, our own change stayed.
  await expect(page.getByText("Hold volume up for 10 s", { exact: true })).toBeVisible();
  await expect(page.getByText("Hold volume down for 10 s", { exact: true })).toBeVisible();
  await expect(page.getByText("after 3 days of waiting")).toBeVisible();

  // The same pack again presses nothing on anybody; taken back, everything is as before.
  await page.goto("/catalogue");
  await page.getByLabel("Or paste it").fill(JSON.stringify(pack));
  await page.getByRole("button", { name: "See what it would change" }).click();
  await expect(page.getByRole("heading", { name: "1 taken out here, 1 changed only here" })).toBeVisible();
  await page.getByRole("button", { name: "Throw the pack away" }).click();
  await expect(page.getByText("The pack is thrown away")).toBeVisible();
  await page.goto(address);
  await page.getByRole("button", { name: "Take all of it back" }).click();
  await expect(page.getByText("Undone: 1 entry")).toBeVisible();
  await page.getByRole("link", { name: "Choose the pack's for all" }).click();
  await expect(page.getByRole("radio", { name: /in the pack: Hold all three keys/ })).toBeChecked();
  await page.goto("/models/halvik-leaf");
  await expect(page.getByText("after 3 days of waiting")).toHaveCount(0);
});

test("lists: found by words, saved as CSV", async ({ page }) => {
  await page.goto("/images");
  await page.getByLabel("Title, model, build, file").fill("vesper wicklight");
  await page.getByRole("button", { name: "Show" }).click();
  await expect(page.getByRole("link", { name: "Wicklight 14", exact: true })).toBeVisible();
  await expect(page.getByRole("link", { name: "Plainsong GSI 14", exact: true })).toHaveCount(0);
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "Save as CSV" }).click(),
  ]);
  const rows = parse<Row>(fs.readFileSync(await download.path(), "utf8"), { columns: true, bom: true });
  expect(rows.length).toBeGreaterThan(0);
  expect(rows.every((r) => /vesper/.test(Object.values(r).join(" ")))).toBe(true);
  await page.goto("/models?q=leaf");
  await expect(page.getByRole("link", { name: "Halvik Leaf 10" })).toBeVisible();
  await expect(page.getByRole("row")).toHaveCount(2);
  const needs = parse<Row>(await (await page.request.get("/floors.csv")).text(), { columns: true, bom: true });
  expect(needs.filter((r) => r.need === "Messaging phone").length).toBeGreaterThan(1);
});
