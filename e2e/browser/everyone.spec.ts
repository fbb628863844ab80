import type { Page } from "@playwright/test";
import { expect, test } from "../rig/app";
import { violationsOn } from "../rig/axe";

test.use({ desk: "everyone" });

const PAGES = [
  "/",
  "/intake",
  "/intake/list",
  "/intake/device",
  "/intake/scan?tag=TH-001",
  "/intake/charge",
  "/aside?tag=TH-002",
  "/labels?tags=TH-001",
  "/clearance",
  "/clearance/TH-005",
  "/clearance/SF-06",
  "/due",
  "/clear-by",
  "/register",
  "/known?q=pad",
  "/models/new?tag=SF-37",
  "/intake/plugged",
  "/devices/SF-39",
  "/letters",
  "/letters/ask",
  "/letters/ask?kind=remind",
  "/letters/texts",
  "/letters/texts/ask.de",
  "/donors/Ilse%20Brandt",
  "/match",
  "/match/velkora-vista20?batch=2026-11-autumn&need=messaging-phone",
  "/devices/TH-014",
  "/devices/TH-012",
  "/devices/TH-017/ways",
  "/bench",
  "/bench/taught",
  "/bench/TH-019",
  "/bench/TH-019?dark",
  "/bench/TH-010",
  "/bench/TH-019/log",
  "/checkout",
  "/checkout/TH-015",
  "/records",
  "/models",
  "/models/quillon-q3",
  "/images",
  "/images/wicklight-15-vesper",
  "/files?device=TH-025",
  "/prepare?which=all&place=card",
  "/devices/TH-021/room",
  "/people",
  "/benches",
  "/many",
  "/devices/TH-020/packages",
  "/devices/TH-021/packages/new",
  "/images/tab8-clean-11",
  "/images/tab8-clean-11/edit/packages",
  "/coverage",
  "/rules",
  "/images/new",
  "/images/wicklight-15-vesper/edit/faults",
  "/models/quillon-q3/edit/flashing",
  "/groups",
  "/groups/new",
  "/groups/1",
  "/groups/1/letter",
  "/groups/1/letter?language=de",
  "/division",
  "/timetable",
  "/tonight",
  "/evenings",
  "/floors",
  "/floors/new",
  "/floors/phone-with-bank",
  "/floors/phone-with-bank/apps",
  "/floors/phone-with-bank/edit",
  "/catalogue",
  "/catalogue/packs/1",
  "/policy",
  "/search?q=lume",
  "/person",
  "/nowhere",
];

/** The narrow page differs by its frame, its tables and its forms: one of each is looked at. */
const NARROW = ["/", "/match", "/clearance/SF-06", "/bench/TH-019", "/letters/ask", "/division", "/tonight"];

/** One page for all addresses: a new one each would fetch and compile every script again. */
let shared: Page;
const broken: string[] = [];
test.beforeAll(async ({ browser, appOfWorker }) => {
  shared = await browser.newPage({ baseURL: appOfWorker.url });
  shared.on("pageerror", (error) => broken.push(error.message));
});
test.afterAll(() => shared.close());

for (const address of PAGES) {
  test(`no violations of level A or AA, no page wider than the screen, no script that breaks: ${address}`, async () => {
    const page = shared;
    broken.length = 0;
    await page.setViewportSize({ width: 1280, height: 800 });
    await page.goto(address);
    for (const width of [1280, 400]) {
      await page.setViewportSize({ width, height: 800 });
      if (width === 1280 || NARROW.includes(address)) expect(await violationsOn(page)).toEqual([]);
      // Tables and charts may scroll in their own frame; the page may not.
      const [scroll, client] = await page.evaluate(() => [
        document.documentElement.scrollWidth,
        document.documentElement.clientWidth,
      ]);
      expect(scroll, `the page is wider than ${width} px`).toBeLessThanOrEqual(client);
    }
    expect(broken).toEqual([]);
  });
}

test("no violations in states that only work brings about: errors, previews, a running clock, the list of keys", async ({
  page,
}) => {
  const clean = async (what: string) => {
    expect(await violationsOn(page), what).toEqual([]);
  };
  await page.goto("/intake/list");
  await page.getByLabel("Or paste the list").fill("tag,android,imei\nTH-001,nine,490154203237515\nTH-900,9,\n");
  await page.getByRole("button", { name: "Look at it first" }).click();
  await expect(page.getByRole("heading", { name: "2 rows, 1 to mend" })).toBeVisible();
  await clean("a list with problems");

  await page.goto("/intake/device");
  await page.getByLabel("Android version").fill("eleven");
  await page.getByRole("button", { name: "Take it in" }).click();
  await expect(page.getByText("This is not an Android version")).toBeVisible();
  await clean("a device with a wrong field");

  await page.goto("/checkout/TH-015");
  await page.getByRole("button", { name: "Done: hand over" }).click();
  await expect(page.getByRole("alert")).toContainText("Not done yet");
  await clean("a checkout that is not done");

  await page.goto("/bench/TH-019?dark");
  await page.getByRole("button", { name: /Start the clock/ }).click();
  await expect(page.getByRole("timer")).toBeVisible();
  await clean("a running clock, dark");
  await page.getByText("Something is wrong").click();
  await page.getByLabel("What do you see?").fill("nothing on the screen");
  await page.getByRole("button", { name: /Write it down/ }).click();
  await expect(page.getByRole("alert")).toBeVisible();
  await clean("a step that went wrong, dark");

  await page.goto("/catalogue");
  await page.getByLabel("Or paste it").fill("{");
  await page.getByRole("button", { name: "See what it would change" }).click();
  await expect(page.getByRole("alert")).toBeVisible();
  await clean("a pack that is none");
  const pack = await (await page.request.get("/catalogue.json?kind=need&title=Elsewhere")).json();
  pack.needs[0].note = "changed elsewhere";
  pack.needs[1].id = "another";
  await page.getByLabel("Or paste it").fill(JSON.stringify(pack));
  await page.getByRole("button", { name: "See what it would change" }).click();
  await expect(page.getByRole("heading", { name: "1 changed, 1 new" })).toBeVisible();
  await clean("a pack before it is taken in");

  await page.waitForLoadState("networkidle");
  await page.locator("h1").click();
  await page.keyboard.press("?");
  await expect(page.getByRole("heading", { name: "Keys" })).toBeVisible();
  await clean("the list of keys");
});

test.describe("without scripts", () => {
  test.use({ javaScriptEnabled: false });

  test("every page reads, and the main forms work", async ({ page }) => {
    test.setTimeout(240_000);
    for (const address of PAGES.filter((p) => p !== "/nowhere")) {
      await page.goto(address);
      await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
    }
    await page.goto("/intake");
    await page.getByLabel("Name").fill("Winter box");
    await page.getByLabel("Received on").fill("2026-12-01");
    await page.getByRole("button", { name: "Make the batch" }).click();
    await page
      .getByLabel("Or paste the list")
      .fill(
        "tag;model number;android;system;bootloader locked;need\nW-1;ON-T8W;9;stock;yes;Reading tablet\nW-2;ON-T8W;x;;;\n",
      );
    await page.getByRole("button", { name: "Look at it first" }).click();
    await expect(page.getByRole("heading", { name: "2 rows, 1 to mend" })).toBeVisible();
    await page.getByRole("button", { name: /Take in 1 good row/ }).click();
    await expect(page.getByText("1 device taken in.")).toBeVisible();

    await page.goto("/clearance/W-1");
    await page.getByLabel("How is it known?").fill("the owner signed out here, set-up goes through");
    await page.getByLabel("Signed out on the device, by its owner").check();
    await page.getByLabel("Started anew: the set-up showed no earlier account").check();
    await page.getByRole("button", { name: "Confirmed clear" }).click();
    await expect(page.getByText("The gate is open")).toBeVisible();

    await page.goto("/devices/W-1");
    await page.getByLabel("Write down").selectOption("build.number");
    await page.getByLabel("Value").fill("OT9-PZ9A.190705.002");
    await page.getByRole("button", { name: "Save", exact: true }).click();
    await expect(page.getByRole("row", { name: /Full build number/ })).toBeVisible();
    await page.getByLabel("Write down").selectOption("firmware.version");
    await page.getByLabel("Value").fill("T8-9.2");
    await page.getByRole("button", { name: "Save", exact: true }).click();
    await expect(page.getByText("Can go")).toBeVisible();

    await page.goto("/devices/W-1/ways");
    await page.getByRole("button", { name: "Accept" }).click();
    await expect(page.getByText("Accepted", { exact: true })).toBeVisible();
    await page.goto("/bench/W-1");
    await page.getByRole("button", { name: /^Begin/ }).click();
    await page.getByRole("button", { name: /^Done/ }).click();
    await expect(page.getByText("Step 2 of")).toBeVisible();
    await page.getByRole("button", { name: /The step before/ }).click();
    await expect(page.getByText("Step 1 of")).toBeVisible();

    await page.goto("/person");
    await page.getByLabel("Your name").fill("Ines Varro");
    await page.getByRole("button", { name: "Remember me" }).click();
    await expect(page.getByRole("link", { name: "Ines Varro" }).first()).toBeVisible();
    await page.goto("/match");
    await page.getByLabel("Need").selectOption("reading-tablet");
    await page.getByRole("button", { name: "Show" }).click();
    await expect(page.getByRole("link", { name: /Ondarra Tidepad 8/ }).first()).toBeVisible();
  });
});

test("by keyboard alone: from the lane to an accepted way", async ({ page }) => {
  await page.goto("/match?batch=2026-11-autumn");
  await page.waitForLoadState("networkidle");
  const tabTo = async (name: RegExp, role: "link" | "button") => {
    const target = page.getByRole(role, { name }).last();
    for (let n = 0; n < 120; n++) {
      await page.keyboard.press("Tab");
      if (await target.evaluate((el) => el === document.activeElement)) return;
    }
    throw new Error(`the keyboard does not reach ${name}`);
  };
  await tabTo(/^Mirevo Moro 7$/, "link");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Mirevo Moro 7");
  await tabTo(/^Accept/, "button");
  await page.keyboard.press("Enter");
  await expect(page.getByText("Accepted", { exact: true })).toBeVisible();
});
