import { execFileSync } from "node:child_process";
import fs from "node:fs";
import type { Page } from "@playwright/test";
import { MIXED_DEVICE, mixedFiles } from "~/demo/mixed";
import { makeApk } from "../rig/apk";
import { expect, test } from "../rig/app";
import { noise, Workshop } from "../rig/tools";

test.use({ desk: "files" });

let shop: Workshop;
test.beforeEach(() => {
  shop = new Workshop();
});
test.afterEach(() => shop.done());

const drop = (page: Page, names: readonly string[]) =>
  page.getByLabel("Files to look at").setInputFiles(names.map((n) => shop.at(n)));
const row = (page: Page, name: string) => page.getByRole("listitem", { name, exact: true });

async function mixed(page: Page) {
  const files = await mixedFiles();
  for (const [name, bytes] of files) shop.write(name, bytes);
  await page.goto(`/files?device=${MIXED_DEVICE}`);
  await page.waitForLoadState("networkidle");
  await drop(page, [...files.keys()]);
}

test("a folder with twelve mixed files is sorted out: two damaged, one of another region", async ({ page }) => {
  const began = Date.now();
  await mixed(page);
  await expect(page.getByRole("button", { name: "5 right" })).toBeVisible();
  await expect(page.getByRole("button", { name: "3 wrong" })).toBeVisible();
  await expect(page.getByRole("button", { name: "4 can't tell" })).toBeVisible();
  // Two minutes is what a person may need; the machine's part is seconds.
  expect(Date.now() - began).toBeLessThan(120_000);

  await page.getByRole("button", { name: "3 wrong" }).click();
  await expect(page.getByRole("listitem").filter({ has: page.getByText("wrong", { exact: true }) })).toHaveCount(3);
  await expect(row(page, "plainsong-14-arm64.img")).toContainText("cut short");
  await expect(row(page, "larder-14-arm64.zip")).toContainText("its digest is another");
  await expect(row(page, "vbmeta-south.img")).toContainText("the same release for another region or variant");
  await page.getByRole("button", { name: "3 wrong" }).click();
  await expect(row(page, "vbmeta.img")).toContainText("Its digest is that of vbmeta.img");

  // What was found out is kept, and stands there after a new start of the page.
  await page.reload();
  await expect(page.getByRole("table").getByRole("row", { name: /vbmeta-south\.img/ })).toContainText("wrong");
});

test("one small partition is taken out of a package, with the bytes that are in it", async ({ page }) => {
  await mixed(page);
  const card = row(page, "leaf-full-12.zip");
  await expect(card).toContainText("another package of that build");
  await card.getByRole("button", { name: "More about leaf-full-12.zip" }).click();
  await expect(card).toContainText("post-sdk-level");
  const saved = page.waitForEvent("download");
  await card.getByRole("button", { name: "Save vbmeta.img" }).click();
  const file = await (await saved).path();
  const expected = (await mixedFiles()).get("vbmeta.img") as Uint8Array;
  expect(fs.readFileSync(file).equals(Buffer.from(expected))).toBe(true);
});

test("a digest from the page it came from, a digest list that sha256sum accepts, a loader board's rows", async ({
  page,
}) => {
  await mixed(page);
  const card = row(page, "logo.img.gz");
  await card.getByRole("button", { name: "More about" }).click();
  const typed = card.getByLabel("Compare with a digest from the page it came from");
  const own = execFileSync("md5sum", [shop.at("logo.img.gz")], { encoding: "utf8" }).slice(0, 32);
  await typed.fill(`MD5: ${own.toUpperCase()}`);
  await expect(card.getByText("MD5 agrees")).toBeVisible();
  await typed.fill("0".repeat(64));
  await expect(card.getByText("SHA-256 does not agree")).toBeVisible();
  await typed.fill("abc");
  await expect(card.getByText("No SHA-256 or MD5 in it")).toBeVisible();

  const saved = page.waitForEvent("download");
  await page.getByRole("link", { name: "Save digest list" }).click();
  fs.copyFileSync(await (await saved).path(), shop.at("list"));
  expect(shop.run("sha256sum", "-c", "list").trim().split("\n")).toHaveLength(12);

  await row(page, "parameter.img").getByRole("button", { name: "More about" }).click();
  const rows = page.getByRole("region", { name: "Rows for a restore" }).getByRole("row");
  await expect(rows.filter({ hasText: "boot.img" })).toContainText("✓ yes");
  await expect(rows.filter({ hasText: "userdata" })).toContainText("never ticked");
});

test("a large file shows how far it is and how fast, and is cancelled", async ({ page }) => {
  shop.write("large.bin", "");
  fs.truncateSync(shop.at("large.bin"), 6_000_000_000);
  shop.write("after.bin", noise(1000));
  await page.goto("/files");
  await page.waitForLoadState("networkidle");
  await drop(page, ["large.bin", "after.bin"]);
  await expect(row(page, "large.bin")).toContainText(/MB of 6\.0 GB, \d+ MB a second, about \d+ s left/);
  await expect(row(page, "after.bin")).toContainText("waits");
  await row(page, "large.bin").getByRole("button", { name: "Cancel" }).click();
  await expect(row(page, "large.bin")).toContainText("cancelled");
  await expect(row(page, "after.bin")).toContainText("Not a kind of file that is known here");
  await row(page, "large.bin").getByRole("button", { name: "Put away" }).click();
  await expect(row(page, "large.bin")).toBeHidden();
});

test("a file whose record has no digest yet gives it one, once; apps are held against the device", async ({
  page,
  app,
}) => {
  const { default: Database } = await import("better-sqlite3");
  const store = new Database(app.db);
  store
    .prepare("UPDATE image SET doc = json_set(doc, '$.files[0].sha256', NULL) WHERE id = 'tallgrass-13-lumen'")
    .run();
  store.prepare("UPDATE revision SET n = n + 1 WHERE topic = 'catalogue'").run();
  store.close();
  shop.write("META-INF/com/android/metadata", "ota-type=BLOCK\npre-device=lumen\npost-sdk-level=33\n");
  shop.run("zip", "-q", "-r", "tallgrass-13-lumen.zip", "META-INF");
  makeApk(shop, { package: "example.bank", label: "Harbour Bank", minApi: 33, abis: ["arm64-v8a"] });
  await page.goto("/files?device=TH-008");
  await page.waitForLoadState("networkidle");
  await drop(page, ["tallgrass-13-lumen.zip", "example.bank.apk"]);
  const card = row(page, "tallgrass-13-lumen.zip");
  await expect(card).toContainText("the catalogue has no digest of it to compare with");
  await card.getByRole("button", { name: "More about" }).click();
  await card.getByRole("button", { name: /^Write size and digest/ }).click();
  await expect(card).toContainText("Its digest is that of tallgrass-13-lumen.zip");
  await expect(row(page, "example.bank.apk")).toContainText("It needs Android 13 · API 33; this runs Android 9");
  await page.goto("/images/tallgrass-13-lumen");
  const own = execFileSync("sha256sum", [shop.at("tallgrass-13-lumen.zip")], { encoding: "utf8" }).slice(0, 64);
  await expect(page.getByRole("region", { name: "Files", exact: true }).first()).toContainText(own);
  await expect(page.getByRole("region", { name: "History" })).toContainText(own);
});

test("what is no report is refused, and a device that is not there is said", async ({ page, app }) => {
  const headers = { origin: app.url };
  const answer = await page.request.post("/files/seen", { data: { name: "x", sha256: "zz" }, headers });
  expect(answer.status()).toBe(400);
  await page.goto("/files?device=NOBODY");
  await expect(page.getByText("There is no device NOBODY")).toBeVisible();
});

test("room: what was read decides, is drawn, feeds the planner, and is taken back", async ({ page }) => {
  const vars = (system: string, product: string) =>
    `(bootloader) partition-size:super:0xF0000000\n(bootloader) partition-size:system_a:${system}\n(bootloader) is-logical:system_a:yes\n(bootloader) partition-size:product_a:${product}\n(bootloader) is-logical:product_a:yes\n(bootloader) partition-size:vendor_a:0x58000000\n(bootloader) is-logical:vendor_a:yes\n(bootloader) current-slot:a\nFinished.\n`;
  await page.goto("/devices/TH-021");
  await page.getByRole("link", { name: "Room for images" }).click();
  await expect(page.getByText("Nothing was read from this device yet")).toBeVisible();
  const read = page.getByLabel("Output of “fastboot getvar all”, or of the layout tool");
  await read.fill("nothing of use");
  await page.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByRole("alert")).toContainText("tells no size of a partition");
  await expect(read).toHaveValue("nothing of use");
  // 3840 MiB of super, 1408 of vendor, 600 of product, 1 for the layout: 1831 are left, 2431 without product.
  await read.fill(vars("0x70000000", "0x25800000"));
  await page.getByRole("button", { name: "Keep it" }).click();
  const answers = page.getByRole("region", { name: "Images and their room" });
  await expect(answers.getByRole("row", { name: /Plainsong GSI 14 small/ })).toContainText("Fits, 39 MiB to spare");
  await expect(answers.getByRole("row", { name: /Plainsong GSI 12/ })).toContainText(
    "Fits after removing product_a, 280 MiB",
  );
  await expect(answers.getByRole("row", { name: /Plainsong GSI 14 2,458/ })).toContainText(
    "Does not fit by 27 MiB, even after removing product_a",
  );
  // The planner says the same, with its own reason.
  const plan = await (await page.request.get("/batches/2026-11-autumn/plan.json")).json();
  const { stops } = plan.devices.find((d: { tag: string }) => d.tag === "TH-021");
  const stop = stops.find((x: { image: string }) => x.image === "plainsong-14-arm64");
  expect(stop).toMatchObject({ code: "gsi.room" });
  expect(stop.says).toMatch(/MiB larger than the room/);
  await page.goto("/devices/TH-021/room");
  await page.getByRole("button", { name: "Take the last reading back" }).click();
  await expect(page.getByText("Nothing was read from this device yet")).toBeVisible();

  // A super layout file, dropped on Files, is kept as the room of the device it is held against.
  await mixed(page);
  const card = row(page, "super_layout.img");
  await card.getByRole("button", { name: "More about" }).click();
  await card.getByRole("button", { name: `Keep this as the room of ${MIXED_DEVICE}` }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText(MIXED_DEVICE);
  // 4500 MiB of the group − 780 − 600 − 310.
  await expect(page.getByText("2.9 GB for a system")).toBeVisible();
});

test("a partition list that does not say what its numbers count is asked for it; a second flash has its own rows", async ({
  page,
}) => {
  shop.write("list.txt", "mtdparts=nand0:0x2000@0x2000(uboot),0x8000@0x4000(boot),-@0xc000(userdata);sd0:0x400(spare)");
  shop.write("boot.img", noise(40_000));
  await page.goto("/files");
  await page.waitForLoadState("networkidle");
  await drop(page, ["list.txt", "boot.img"]);
  const list = row(page, "list.txt");
  await list.getByRole("button", { name: "More about list.txt" }).click();
  const boot = list.getByRole("row", { name: /boot/ }).filter({ hasNotText: "uboot" });
  await expect(list.getByText("What do its numbers count?")).toBeVisible();
  await expect(list).not.toContainText("✓ yes");
  await expect(list).toContainText("can't tell");
  await list.getByLabel("bytes", { exact: true }).check();
  await expect(boot).toContainText("too large");
  await list.getByLabel("sectors of 512 bytes").check();
  await expect(boot).toContainText("✓ yes");
  await expect(boot).toContainText((0x8000 * 512).toLocaleString("en"));
  await expect(list.getByRole("region", { name: "Rows on sd0" })).toContainText((0x400 * 512).toLocaleString("en"));
});
