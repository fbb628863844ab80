import { badging, makeApk } from "../rig/apk";
import { expect, test } from "../rig/app";
import { Workshop } from "../rig/tools";

test.use({ desk: "floors" });

let shop: Workshop;
test.beforeEach(() => {
  shop = new Workshop();
});
test.afterEach(() => shop.done());

test("a new need: five dropped apps give the floor that aapt gives; what one of them costs; every change is taken back", async ({
  page,
}) => {
  await page.goto("/floors");
  await page.getByRole("link", { name: "A new need" }).click();
  await page.getByRole("button", { name: "Make the need" }).click();
  await expect(page.getByText("This must be filled in").first()).toBeVisible();
  await page.getByLabel("Name of the need").fill("Evening class");
  await page.getByLabel("For whom").fill("Language class at the library");
  await page.getByLabel("Wi-Fi").check();
  await page.getByLabel("First app").fill("Phrasebook");
  await page.getByLabel("Lowest release or API level").fill("eleventy");
  await page.getByRole("button", { name: "Make the need" }).click();
  await expect(page.getByText("“eleventy” is no Android version")).toBeVisible();
  await expect(page.getByLabel("For whom")).toHaveValue("Language class at the library");
  await page.getByLabel("Lowest release or API level").fill("5.0");
  await page.getByRole("button", { name: "Make the need" }).click();
  await expect(page.getByRole("heading", { name: "Apps of Evening class" })).toBeVisible();

  const apps = [
    { package: "example.notes", label: "Notes", minApi: 26 },
    { package: "example.bank", label: "Harbour Bank", minApi: 31, abis: ["arm64-v8a"] },
    { package: "example.reader", label: "Reader", minApi: null },
    { package: "example.chat", label: "Chat", minApi: 24, abis: ["armeabi-v7a", "arm64-v8a"] },
    {
      package: "example.scan",
      label: "Scanner",
      minApi: 29,
      asks: ['<uses-feature android:name="android.hardware.camera"/>'],
    },
  ].map((a) => makeApk(shop, a));
  shop.write("holiday.txt", "no app at all");
  await page.waitForLoadState("networkidle");
  await page.getByLabel("App packages to read").setInputFiles([...apps, "holiday.txt"].map((f) => shop.at(f)));
  await expect(page.getByText("5 read from app packages")).toBeVisible();
  await expect(page.getByText(/^holiday\.txt: /)).toBeVisible();
  const floor = Math.max(...apps.map((f) => badging(shop, f).minApi));
  await expect(page.getByText(`API ${floor}, set by Harbour Bank`)).toBeVisible();
  const table = page.getByRole("region", { name: "Apps", exact: true });
  await expect(table.getByRole("row", { name: /Harbour Bank/ })).toContainText("64-bit, arm64-v8a");
  await expect(table.getByRole("row", { name: /Scanner/ })).toContainText("camera");

  // A list with one bad row: the good one is in, the bad one is named and stays in the field.
  await page.getByLabel("List of apps (CSV)").fill("name,lowest,services\nTown bus,9,yes\nMaps,soon,\n");
  await page.getByRole("button", { name: "Take the list in" }).click();
  await expect(page.getByText("Line 3: “soon” is no Android version")).toBeVisible();
  await expect(table.getByRole("row", { name: /Town bus/ })).toContainText("services package");

  await page.getByRole("link", { name: "Evening class" }).click();
  await expect(page.getByText("Without it it would be Android 10 · API 29")).toBeVisible();
  const matrix = page.getByRole("region", { name: "Apps and releases" });
  await expect(matrix.getByRole("row", { name: /Run by release/ })).toContainText("6 of 7");

  // The last change is taken back by its button: the bus is gone again, and that is in the history too.
  await page.getByRole("button", { name: "Take the last change back" }).click();
  await expect(page.getByRole("status").filter({ hasText: "is again as it was" })).toBeVisible();
  await expect(matrix.getByRole("row", { name: /Town bus/ })).toHaveCount(0);
  await expect(page.getByRole("region", { name: "History" })).toContainText("is gone");
});

test("the floor of a need that devices wait for: dropping an app changes verdicts; a forecast with its band", async ({
  page,
}) => {
  await page.goto("/floors/phone-with-bank");
  await expect(page.getByText("Floor: Android 11 · API 30, set by Tarnbank.")).toBeVisible();
  await expect(page.getByText(/A straight line through 6 points/)).toBeVisible();
  const life = page.getByRole("region", { name: "When releases fall under the floor" });
  await expect(life.getByRole("row", { name: /Android 11/ })).toContainText(
    /about 2027\.0.*19 of 20 between 2025\.6 and 2028\.4/,
  );

  // An app that nothing runs: every device of the need falls out, and comes back when it is taken out.
  await page.getByRole("link", { name: "Change the apps" }).click();
  await page.getByLabel("App", { exact: true }).fill("Tomorrow");
  await page.getByLabel("Lowest release").fill("API 37");
  await page.getByRole("button", { name: "Add it" }).click();
  await expect(page.getByText("API 37, set by Tomorrow")).toBeVisible();
  const verdict = async () => {
    const plan = await (await page.request.get("/batches/2026-11-autumn/plan.json")).json();
    return plan.devices.find((d: { tag: string }) => d.tag === "TH-015").best;
  };
  expect(await verdict()).toBeNull();
  await page.getByRole("button", { name: "Take out Tomorrow" }).click();
  await expect(page.getByText("Tomorrow is not asked for any more")).toBeVisible();
  expect(await verdict()).not.toBeNull();

  await page.goto("/floors/phone-with-bank/edit");
  await page.getByLabel("What the floor was").fill("2024-01-01, 28\n1.3.2025, 29");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("Line 2: write it like 2024-03-01, 26")).toBeVisible();
  await page.getByLabel("What the floor was").fill("2024-01-01, 28\n2025-03-01, 10");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText(/A straight line through 2 points/)).toBeVisible();
  await expect(page.getByText("no band: two points only").first()).toBeVisible();
});

test("two people change one need: the slower one is told, nothing typed is lost", async ({ page, context }) => {
  const other = await context.newPage();
  for (const p of [page, other]) await p.goto("/floors/messaging-phone/edit");
  await other.getByLabel("Note").fill("Spare chargers wanted");
  await other.getByRole("button", { name: "Save" }).click();
  await expect(other.getByRole("heading", { name: "The group" })).toBeVisible();
  await page.getByLabel("Note").fill("Large letters wanted");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("alert")).toContainText("was changed by somebody else in the meantime");
  await expect(page.getByLabel("Note")).toHaveValue("Large letters wanted");
});
