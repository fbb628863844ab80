import { expect, test } from "../rig/app";

test.use({ desk: "errors" });

async function devices(request: import("@playwright/test").APIRequestContext): Promise<number> {
  return (await (await request.get("/batches/2026-11-autumn/plan.json")).json()).devices.length;
}

test.describe("device lists", () => {
  const paste = async (page: import("@playwright/test").Page, text: string) => {
    await page.goto("/intake/list");
    await page.getByLabel("Or paste the list").fill(text);
    await page.getByRole("button", { name: "Look at it first" }).click();
  };

  test("bad rows are named at their cell; good ones go in, the rest stays to mend", async ({ page, request }) => {
    const before = await devices(request);
    await paste(
      page,
      "tag,model number,android,imei\nTH-101,VK-L8,8.1,\nTH-001,VK-L8,9,\nTH-102,VK-L8,nine,\nTH-103,QL-Q3A,9,490154203237515\n",
    );
    await expect(page.getByRole("heading", { name: "4 rows, 2 to mend" })).toBeVisible();
    await expect(page.getByText("Tag TH-001 is in use already")).toBeVisible();
    await expect(page.getByText("There is no Android nine")).toBeVisible();
    await expect(page.getByText("should be 8, not 5")).toBeVisible();
    expect(await devices(request)).toBe(before);
    await page.getByRole("button", { name: "Take in 2 good rows, keep 2 to mend" }).click();
    await expect(page.getByText("2 devices taken in.")).toBeVisible();
    await expect(page.getByRole("heading", { name: "2 rows, 2 to mend" })).toBeVisible();
    await expect(page.getByLabel("android, line 4")).toHaveValue("nine");
    expect(await devices(request)).toBe(before + 2);
  });

  test("open quotes, a column said twice, a doubled tag: said where, kept, nothing written", async ({
    page,
    request,
  }) => {
    const before = await devices(request);
    await paste(page, 'tag,name\nTH-201,"Vista\nTH-202,Lume\n');
    await expect(page.getByRole("alert")).toContainText("quote");
    await expect(page.getByLabel("Or paste the list")).toHaveValue(/TH-202,Lume/);
    await paste(page, "Name,Product name\nVista 20,vesper\n");
    await page.getByLabel("What “Product name” holds").selectOption("model.name");
    await page.getByRole("button", { name: "Save and look again" }).click();
    await expect(page.getByRole("alert")).toContainText("“Name” and “Product name” can't both be the same column");
    await paste(page, "tag\nTH-203\nTH-203\n");
    await expect(page.getByText("Tag TH-203 stands on line 2 too")).toBeVisible();
    expect(await devices(request)).toBe(before);
  });

  test("encodings that can be told and that can't, and 30 MB", async ({ page, request }) => {
    const before = await devices(request);
    await page.goto("/intake/list");
    await page.getByLabel("File").setInputFiles({
      name: "list.csv",
      mimeType: "text/csv",
      buffer: Buffer.from("tag,donor\nTH-301,Andr\xe9\n", "latin1"),
    });
    await page.getByRole("button", { name: "Look at it first" }).click();
    await expect(page.getByText("it was read as Windows-1252")).toBeVisible();
    await page.goto("/intake/list");
    await page.getByLabel("File").setInputFiles({
      name: "list.csv",
      mimeType: "text/csv",
      buffer: Buffer.from("tag,donor\nTH-301,Andr\x82 M\x81ller\n", "latin1"),
    });
    await page.getByRole("button", { name: "Look at it first" }).click();
    await expect(page.getByRole("alert")).toContainText("not UTF-8");
    await page
      .getByLabel("File")
      .setInputFiles({ name: "big.csv", mimeType: "text/csv", buffer: Buffer.alloc(30_000_000, "tag\n") });
    await page.getByRole("button", { name: "Look at it first" }).click();
    await expect(page.getByRole("alert")).toContainText("larger than 20 MB");
    expect(await devices(request)).toBe(before);
  });
});

test("a single device: every wrong field is told, what was typed stays", async ({ page }) => {
  await page.goto("/intake/device");
  await page.getByLabel("Tag", { exact: true }).fill("TH-001");
  await page.getByLabel("IMEI").fill("490154203237515");
  await page.getByLabel("Android version").fill("eleven");
  await page.getByRole("button", { name: "Take it in" }).click();
  await expect(page.getByText("should be 8, not 5")).toBeVisible();
  await expect(page.getByText("This is not an Android version")).toBeVisible();
  await expect(page.getByLabel("Tag", { exact: true })).toHaveValue("TH-001");
  await page.getByLabel("IMEI").fill("490154203237518");
  await page.getByLabel("Android version").fill("11");
  await page.getByRole("button", { name: "Take it in" }).click();
  await expect(page.getByText("Tag TH-001 is in use already")).toBeVisible();
  await page.getByLabel("Tag", { exact: true }).fill("TH-150");
  await page.getByRole("button", { name: "Take it in" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "TH-150" })).toBeVisible();
});

test.describe("catalogue documents", () => {
  const bring = async (page: import("@playwright/test").Page, text: string) => {
    await page.goto("/catalogue");
    await page.getByLabel("Or paste it").fill(text);
    await page.getByRole("button", { name: "See what it would change" }).click();
  };

  test("not JSON, not the schema, an unknown model", async ({ page, request }) => {
    const whole = await (await request.get("/catalogue.json")).text();
    await bring(page, "{ models: [");
    await expect(page.getByRole("alert")).toContainText("This is not JSON");
    const noFormat = JSON.parse(whole);
    noFormat.images[3].release = "eleventy";
    await bring(page, JSON.stringify(noFormat));
    await expect(page.getByRole("alert")).toContainText("images[3].release");
    const unknown = JSON.parse(whole);
    unknown.images[0].models = ["nobodys-phone"];
    await bring(page, JSON.stringify(unknown));
    await page.getByRole("button", { name: "Take in what is ticked" }).click();
    await expect(page.getByRole("alert").first()).toContainText("There is no model “nobodys-phone”");
    await expect(page.getByRole("row", { name: /nobodys-phone/ })).toBeVisible();
    expect(await (await request.get("/catalogue.json")).text()).toBe(whole);
  });

  test("a catalogue goes out, comes back changed, and plans follow it", async ({ page, request }) => {
    const whole = JSON.parse(await (await request.get("/catalogue.json")).text());
    const image = whole.images.find((i: { id: string }) => i.id === "wicklight-15-vesper");
    const faults = image.faults;
    image.faults = [];
    await bring(page, JSON.stringify(whole));
    await expect(page.getByRole("heading", { name: "1 changed", exact: true })).toBeVisible();
    await page.getByRole("button", { name: "Take in what is ticked" }).click();
    await expect(page.getByRole("heading", { name: /1 entry changed/ })).toBeVisible();
    const plan = await (await request.get("/batches/2026-11-autumn/plan.json")).json();
    expect(plan.devices.find((d: { tag: string }) => d.tag === "TH-001").best.release).toBe("15");
    image.faults = faults;
    await bring(page, JSON.stringify(whole));
    await page.getByRole("button", { name: "Take in what is ticked" }).click();
    await expect(page.getByRole("heading", { name: /1 entry changed/ })).toBeVisible();
    const back = await (await request.get("/batches/2026-11-autumn/plan.json")).json();
    expect(back.devices.find((d: { tag: string }) => d.tag === "TH-001").best.release).toBe("14");
  });
});

test("a read-out of another device is refused, of another model too, and kept", async ({ page }) => {
  await page.goto("/devices/TH-002");
  await page.getByLabel(/Output of adb/).fill("[ro.serialno]: [ZZ99]\n[ro.build.version.release]: [13]");
  await page.getByRole("button", { name: "Read it" }).click();
  await expect(page.getByRole("alert")).toContainText("read-out is of another device");
  await expect(page.getByLabel(/Output of adb/)).toHaveValue(/ZZ99/);
  await page.getByLabel(/Output of adb/).fill("[ro.product.device]: [marlin-peak]\n[ro.build.version.release]: [13]");
  await page.getByRole("button", { name: "Read it" }).click();
  await expect(page.getByRole("alert")).toContainText("read-out is of another model");
  await page.getByLabel(/Output of adb/).fill("hello");
  await page.getByRole("button", { name: "Read it" }).click();
  await expect(page.getByRole("alert")).toContainText("holds no read-out");
  await page
    .getByLabel(/Output of adb/)
    .fill("[ro.serialno]: [VKA1000102]\n[ro.build.version.security_patch]: [2021-08-05]");
  await page.getByRole("button", { name: "Read it" }).click();
  await expect(page.getByRole("row", { name: /Security patch date/ })).toContainText("2021-08-05");
  await expect(page.getByRole("row", { name: /Security patch date/ })).toContainText("read from the device");
});

test("tags, batches and pages that are not there", async ({ page, request }) => {
  for (const address of [
    "/devices/NOPE",
    "/bench/NOPE",
    "/clearance/NOPE",
    "/models/nope",
    "/images/nope",
    "/floors/nope",
    "/nope",
  ]) {
    const answer = await page.goto(address);
    expect(answer?.status(), address).toBe(404);
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("That is not here");
  }
  const plan = await request.get("/batches/nope/plan.json");
  expect(plan.status()).toBe(404);
  expect(await plan.json()).toMatchObject({ error: "no-such-batch" });
  expect(await (await request.get("/devices/nope/runbook.json")).json()).toMatchObject({ error: "no-such-device" });
});

test("two tabs: the second edit of the same row is told, and keeps what was typed", async ({ page, context }) => {
  const other = await context.newPage();
  await page.goto("/devices/TH-008");
  await other.goto("/devices/TH-008");
  // A page follows what others write, but not while somebody is writing in it.
  const third = await context.newPage();
  await third.goto("/devices/TH-008");
  await other.getByLabel("Donor").fill("Second tab");
  await page.getByLabel("Donor").fill("First tab");
  await page.getByRole("button", { name: "Save details" }).click();
  await expect(page.getByLabel("Donor")).toHaveValue("First tab");
  await expect(page.getByText("Details changed")).toBeVisible();
  await expect(third.getByLabel("Donor")).toHaveValue("First tab");
  await third.close();
  await other.getByRole("button", { name: "Save details" }).click();
  await expect(other.getByRole("alert")).toContainText("changed by somebody else");
  // The form is far down the page, and stays where it was.
  await expect(other.getByRole("alert")).toBeInViewport();
  await expect(other.getByLabel("Donor")).toHaveValue("Second tab");
  await page.reload();
  await expect(page.getByLabel("Donor")).toHaveValue("First tab");
});

test("two tabs: a clearance case and the policy", async ({ page, context }) => {
  const other = await context.newPage();
  await page.goto("/clearance/TH-025");
  await other.goto("/clearance/TH-025");
  await other.getByLabel("How is it known?").fill("seen at the set-up");
  await page.getByRole("button", { name: "An account is on it" }).click();
  await expect(page.getByRole("heading", { name: "Account on it" })).toBeVisible();
  await other.getByRole("button", { name: "Confirmed clear" }).click();
  await expect(other.getByRole("alert")).toContainText("Somebody else moved this case on");
  await expect(other.getByLabel("How is it known?")).toHaveValue("seen at the set-up");
  // A note collides with nothing: both entries stand.
  await other.getByRole("button", { name: "Only write this note" }).click();
  await expect(other.getByRole("listitem").filter({ hasText: "seen at the set-up" })).toBeVisible();
  await expect(other.getByRole("listitem").filter({ hasText: "An account is on it" })).toBeVisible();

  await page.goto("/policy");
  await other.goto("/policy");
  await other.getByLabel("Battery floor, percent").fill("80");
  await page.getByLabel("Battery floor, percent").fill("70");
  await page.getByRole("button", { name: "Save the policy" }).click();
  await expect(page.getByText("Saved.")).toBeVisible();
  await other.getByRole("button", { name: "Save the policy" }).click();
  await expect(other.getByRole("alert")).toContainText("changed by somebody else");
  await expect(other.getByLabel("Battery floor, percent")).toHaveValue("80");
});
