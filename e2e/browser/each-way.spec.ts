import { expect, test } from "../rig/app";
import { phoneState, treat } from "../rig/bench";
import { benchThroughPages } from "../rig/volunteer";

test.use({ desk: "each-way" });

// Clearance → Match → Bench → Checkout through the pages, for one device of each way, with the real clients on a phone that
// keeps its own book. Way D goes the same road in main-job.spec.ts.
const DEVICES = [
  { way: "A, official update", tag: "TH-002", ends: "vista20-ota-12", locked: true },
  { way: "B, firmware pack and ROM from a recovery", tag: "TH-006", ends: "tallgrass-12-lumen-r2", locked: false },
  { way: "C, sideload with a waiting time", tag: "TH-017", ends: "wicklight-15-m7", locked: false },
  {
    way: "F, stock package, locked again",
    tag: "TH-001",
    ends: "vista20-stock-12",
    locked: true,
    because: "the group wants the maker's own system",
  },
  {
    way: "E, generic image in download mode, by the stand-in flasher",
    tag: "SF-42",
    batch: "2026-10-families",
    ends: "plainsong-14-arm64-small",
    locked: false,
    because: "the group asks for a newer system",
  },
  {
    way: "G, loader board, dumped first",
    tag: "SF-43",
    batch: "2026-10-families",
    ends: "hearth3-stock-11",
    locked: true,
  },
  { way: "F, card update", tag: "SF-44", batch: "2026-10-families", ends: "folio9-card-10", locked: true },
  {
    way: "F and H, the maker's script, then another model's system",
    tag: "SF-45",
    batch: "2026-10-families",
    ends: "vista-port-13-lorne",
    locked: false,
    because: "the group knows what a port is",
  },
  { way: "K, down a release through stock", tag: "TH-003", ends: "wicklight-14-vesper", locked: false },
] as const;

for (const device of DEVICES) {
  test(`${device.way}: ${device.tag}`, async ({ page, request }) => {
    test.setTimeout(240_000);
    await page.goto(`/clearance/${device.tag}`);
    await expect(page.getByText("The gate is open")).toBeVisible();

    await page.goto(`/devices/${device.tag}/ways`);
    if ("because" in device) {
      const { plan } = treat(device.tag);
      const chosen = plan.ways.find((w) => w.image === device.ends);
      const picker = page.getByText(/Set other ways side by side/);
      // Few ways stand side by side by themselves.
      if (await picker.count()) {
        await picker.click();
        // A page that is still waking up may lose a tick: a person would tick it again.
        await expect(async () => {
          if ((await page.getByRole("checkbox").count()) === 0) await picker.click();
          await page.getByRole("checkbox").first().waitFor({ timeout: 2000 });
          for (const box of await page.getByRole("checkbox").all())
            await box.setChecked((await box.getAttribute("value")) === chosen?.id);
          await page.getByRole("button", { name: /Compare/ }).click();
          await expect(page.getByRole("table").first().getByRole("columnheader")).toHaveCount(1, { timeout: 3000 });
        }).toPass();
      }
      const column = page.locator("form", { has: page.locator(`input[name="way"][value="${chosen?.id}"]`) });
      await column.getByLabel("Why this one?").fill(device.because);
      await column.getByRole("button", { name: "Choose this" }).click();
    } else await page.getByRole("button", { name: "Accept" }).click();
    await expect(page.getByText("Accepted", { exact: true })).toBeVisible();

    const report = await benchThroughPages(page, request, device.tag, phoneState(treat(device.tag)));
    const plan = await (
      await request.get(`/batches/${"batch" in device ? device.batch : "2026-11-autumn"}/plan.json`)
    ).json();
    const { chosen } = plan.devices.find((d: { tag: string }) => d.tag === device.tag);
    expect(report).toMatchObject({
      alive: true,
      boots: true,
      image: device.ends,
      release: chosen.release,
      wipes: chosen.wipes,
      storage: "clean",
      accountLock: false,
    });
    expect(report.bootloader).toBe(device.locked ? "locked" : "unlocked");

    await page.getByRole("link", { name: "Go on to Checkout" }).click();
    await page.getByLabel("Android version: measured or seen").fill(chosen.release);
    for (const right of await page.getByLabel("all right", { exact: true }).all()) await right.check();
    const promised = await page
      .getByRole("row", { name: /Security patch/ })
      .getByRole("cell")
      .nth(1)
      .textContent();
    await page.getByLabel("Security patch: measured or seen").fill(promised ?? "");
    await page.getByRole("button", { name: "Done: hand over" }).click();
    await expect(page).toHaveURL(/\/checkout$/);
    await page.goto("/records");
    await expect(page.getByRole("row", { name: new RegExp(device.tag) })).toContainText("handed over");
  });
}
