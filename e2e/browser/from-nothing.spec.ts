import { expect, type Locator, type Page, test } from "@playwright/test";
import { RunningApp } from "../rig/app";
import { freePort } from "../rig/bench";

// From an empty database to the first device that can go: twelve phones of three models that nobody has written down.
let app: RunningApp;
test.beforeAll(async () => {
  app = new RunningApp(await freePort(), "empty");
  await app.start();
});
test.afterAll(() => app.stop());
// What comes later goes on with what is there by then.
test.describe.configure({ mode: "serial" });

/** Counts what a coordinator types, and on how many pages. */
class Coordinator {
  readonly pages = new Set<string>();
  fields = 0;

  constructor(readonly page: Page) {}

  async type(field: Locator, text: string) {
    await field.fill(text);
    this.count();
  }
  async choose(field: Locator, label: string) {
    await field.selectOption({ label });
    this.count();
  }
  async tick(field: Locator) {
    await field.check();
    this.count();
  }
  async press(name: string) {
    await this.page.waitForLoadState("networkidle");
    this.pages.add(new URL(this.page.url()).pathname.replace(/\d+/, "N"));
    await this.page.getByRole("button", { name, exact: true }).click();
    await this.page.waitForLoadState("networkidle");
  }
  private count() {
    this.fields++;
  }
}

const NAMES = ["Fennick Arlo 5", "Fennick Arlo 6", "Osterby Pebble"];
const LIST = [
  "tag,model name,model number,serial,android",
  ...Array.from(
    { length: 12 },
    (_, i) => `Q-${i + 1},${NAMES[i % 3]},${["FN-A5", "FN-A6", "OB-P1"][i % 3]},QX00${100 + i},10`,
  ),
].join("\n");

const READ_OUT = `[ro.serialno]: [QX00100]
[ro.product.manufacturer]: [Fennick]
[ro.product.model]: [FN-A5]
[ro.product.device]: [arlo]
[ro.product.board]: [kestrel2]
[ro.product.cpu.abi]: [arm64-v8a]
[ro.product.first_api_level]: [28]
[ro.build.version.release]: [10]
[ro.build.version.security_patch]: [2021-02-01]
[ro.build.display.id]: [FA5-QKQ1.200114.002]
[ro.boot.flash.locked]: [1]
[ro.boot.verifiedbootstate]: [green]
[ro.treble.enabled]: [true]
[ro.build.ab_update]: [false]
[ro.oem_unlock_supported]: [1]
[gsm.version.baseband]: [A5.2.11]`;

test("twelve phones of three unknown models: on five pages, with fifteen fields at most, the first one can go", async ({
  page,
}) => {
  const me = new Coordinator(page);
  await page.goto(`${app.url}/`, { waitUntil: "networkidle" });
  await me.type(page.getByLabel("The group's name"), "Reading room");
  await me.type(page.getByLabel(/Its apps, one a line/), "Messenger, 8.0\nTimetable, API 30");
  await me.press("Write it down");

  await me.type(page.getByLabel("Where they come from"), "Harbour school");
  await me.type(page.getByLabel(/Or paste it/), LIST);
  await me.press("Look at it first");

  await me.choose(page.getByLabel(/Who waits for them/), "Reading room");
  await me.press("Take in 12 good rows");
  await expect(page.getByText("12 devices taken in")).toBeVisible();

  // The home page leads on: three models, four devices each.
  await page.goto(`${app.url}/`, { waitUntil: "networkidle" });
  for (const name of NAMES) await expect(page.getByRole("link", { name })).toBeVisible();
  await page.getByRole("link", { name: NAMES[0] }).click();
  await me.type(page.getByLabel(/says of itself/), READ_OUT);
  await me.press("Read it");
  await expect(page.getByLabel("Maker", { exact: true })).toHaveValue("Fennick");
  await expect(page.getByLabel("Code name")).toHaveValue("arlo");
  await expect(page.getByLabel("Sold with Android")).toHaveValue("9");
  await expect(page.getByLabel("CPU type")).toHaveValue("arm64");
  await expect(page.getByLabel("Two slots")).toHaveValue("no");
  await expect(page.getByLabel("Bootloader can be unlocked")).toHaveValue("yes");
  // Nobody knows: it stays empty, and is no "no".
  await expect(page.getByLabel("Userspace fastboot")).toHaveValue("");
  await me.choose(page.getByLabel("Form", { exact: true }), "phone");
  await me.choose(page.getByLabel("Flashed through"), "fastboot");
  await me.press("Put it into the catalogue");
  await expect(page.getByText("not known yet: each device is asked").first()).toBeVisible();

  await page.goto(`${app.url}/images/new?kind=official-update&model=fennick-arlo-5`, { waitUntil: "networkidle" });
  await me.type(page.getByLabel("Version", { exact: true }), "11-3");
  await me.type(page.getByLabel("Android version"), "11");
  await me.type(page.getByLabel("Released"), "2022-03-01");
  await me.type(page.getByLabel("Where this comes from"), "the maker's update page");
  await me.press("Put it into the catalogue");
  await expect(page).toHaveURL(/\/images\/fennick-arlo-5-official-update-android-11/);

  await page.goto(`${app.url}/many`, { waitUntil: "networkidle" });
  await me.tick(page.getByRole("checkbox", { name: "Q-1", exact: true }));
  await me.tick(page.getByLabel(/Never signed in: set up as new/));
  await me.type(page.getByLabel("Who saw it, when, how"), "Ina, today, at the desk: new in its box");
  await me.press("Confirm them clear");
  await expect(page.getByText("Written for 1 device")).toBeVisible();

  await page.goto(`${app.url}/devices/Q-1`);
  await expect(page.getByText("Can go", { exact: true }).first()).toBeVisible();
  expect([...me.pages].length, [...me.pages].join()).toBeLessThanOrEqual(5);
  expect(me.fields).toBeLessThanOrEqual(15);
});

test("a number that the list of supported devices has twice: both are shown, and none is taken before somebody chooses", async ({
  page,
}) => {
  await page.goto(`${app.url}/known`, { waitUntil: "networkidle" });
  const list =
    "brand,name,device,model\nFennick,Arlo 6,arlo6,FN-A6\nFennick,Arlo 6 LTE,arlo6lte,FN-A6\nOsterby,Pebble,pebble,OB-P1\n";
  await page
    .locator('input[type="file"]')
    .setInputFiles({ name: "known.csv", mimeType: "text/csv", buffer: Buffer.from(list) });
  await page.getByRole("button", { name: "Load", exact: true }).click();
  await expect(page.getByText("3 devices are in the list now")).toBeVisible();

  await page.goto(`${app.url}/models/new?tag=Q-2`, { waitUntil: "networkidle" });
  const both = page.getByRole("region", { name: "Your list of supported devices knows 2 of this number or name" });
  await expect(both.getByRole("link")).toHaveText(["Fennick Arlo 6, arlo6", "Fennick Arlo 6 LTE, arlo6lte"]);
  await expect(page.getByLabel("Code name")).toHaveValue("");
  await both.getByRole("link", { name: "arlo6lte" }).click();
  await expect(page.getByLabel("Code name")).toHaveValue("arlo6lte");
  await expect(page.getByLabel("Maker", { exact: true })).toHaveValue("Fennick");

  // One match alone fills in what is missing.
  await page.goto(`${app.url}/models/new?tag=Q-3`, { waitUntil: "networkidle" });
  await expect(page.getByLabel("Code name")).toHaveValue("pebble");
});
