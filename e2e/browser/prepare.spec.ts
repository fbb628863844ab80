import { spawnSync } from "node:child_process";
import fs from "node:fs";
import { demoCatalogue, writeStandIns } from "~/demo/catalogue";
import { expect, test } from "../rig/app";
import { Workshop } from "../rig/tools";

test.use({ desk: "prepare" });

let shop: Workshop;
test.beforeEach(() => {
  shop = new Workshop();
});
test.afterEach(() => shop.done());

const BATCH = "batch=2026-11-autumn";

test("a batch's files: listed once, checked by sha256sum and by the script, taken by the bench scripts", async ({
  page,
}) => {
  // What the coordinator does: look at what is accepted, take the proposed ways in too.
  await page.goto("/bench");
  await page.getByRole("link", { name: "Files to prepare" }).click();
  await page.getByLabel("Devices", { exact: true }).selectOption("all");
  await page.getByRole("button", { name: "Show" }).click();
  const table = page.getByRole("region", { name: "Files to prepare" });
  await expect(table.getByRole("row").filter({ hasText: "tallgrass-12-lumen-r2.zip" })).toHaveCount(1);
  await expect(page.getByRole("heading", { name: "Comes over the air" })).toBeVisible();

  const save = async (name: string) => {
    const saved = page.waitForEvent("download");
    await page.getByRole("link", { name }).click();
    fs.copyFileSync(await (await saved).path(), shop.at(name.replaceAll(" ", "-")));
    return name.replaceAll(" ", "-");
  };
  const list = await save("Save SHA256SUMS");
  const script = await save("Save the script that checks the folder");

  // "Fetched": the stand-ins of the demo, as a folder of folders.
  writeStandIns(demoCatalogue(), shop.folder);
  const paths = shop.run("sha256sum", "-c", list).trim().split("\n");
  expect(paths.length).toBe((await table.getByRole("row").count()) - 1);
  expect(shop.run("sh", script)).toContain(`All ${paths.length} files are there, ${paths.length} digests agree`);

  // The bench scripts of the first lane take the folder: the files' gate is passed; the next step waits for a device, in vain.
  for (const tag of ["TH-001", "TH-013"]) {
    const sheet = await (await page.request.get(`/devices/${tag}/runbook.sh`)).text();
    shop.write("run.sh", sheet);
    const env = { ...process.env, FILES: shop.folder, ADB: "false", FASTBOOT: "false", PHONE_HANDS: "" };
    const run = spawnSync("sh", [shop.at("run.sh")], {
      env,
      input: "\n".repeat(50),
      encoding: "utf8",
      timeout: 4_000,
    });
    expect(run.stdout).toMatch(/\[1\/\d+\] Check the files[\s\S]*\[2\/\d+\]/);
    expect(run.stderr).not.toMatch(/is not in|SHA-256/);
  }

  // One file damaged, one missing: both are named.
  const rom = shop.at("tallgrass-12-lumen-r2/tallgrass-12-lumen-r2.zip");
  fs.appendFileSync(rom, "x");
  const gone =
    paths[0].replace(/: OK$/, "") === "tallgrass-12-lumen-r2/tallgrass-12-lumen-r2.zip" ? paths[1] : paths[0];
  fs.rmSync(shop.at(gone.replace(/: OK$/, "")));
  const checked = spawnSync("sh", [shop.at(script), shop.folder], { encoding: "utf8" });
  expect(checked.status).toBe(1);
  expect(checked.stdout + checked.stderr).toContain("tallgrass-12-lumen-r2/tallgrass-12-lumen-r2.zip: FAILED");
  expect(checked.stderr).toContain(`Missing: ${gone.replace(/: OK$/, "")}`);
});

test("packages on a card: FAT32, short names, folder at the root; a size that is none is said", async ({ page }) => {
  await page.goto(`/prepare?${BATCH}&which=all&place=card&gb=8`);
  await expect(page.getByRole("heading", { name: "Memory card of 8 GB, FAT32" })).toBeVisible();
  await expect(page.getByText(/^\/update\/rom-12-lumen\.zip/)).toBeVisible();
  await page.getByLabel("Size, GB").fill("many");
  await page.getByRole("button", { name: "Show" }).click();
  await expect(page.getByText("Write a number from 0.5 to 2048")).toBeVisible();
  const csv = await (await page.request.get(`/prepare/files.csv?${BATCH}&which=all`)).text();
  expect(csv).toContain("tallgrass-12-lumen-r2/tallgrass-12-lumen-r2.zip");
  expect((await page.request.get(`/prepare/nothing?${BATCH}`)).status()).toBe(404);
});
