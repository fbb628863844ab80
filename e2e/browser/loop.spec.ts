import { expect, test } from "../rig/app";
import { phoneState, runScript, standInFolder, treat } from "../rig/bench";

test.use({ desk: "loop" });

// What device and bench say comes back into the plan: with the real clients, the served script, and nobody at the page.

test("a script with LANE set drives the bench page to the end, untouched; what the device told becomes facts", async ({
  page,
  request,
  app,
}) => {
  test.setTimeout(240_000);
  await page.goto("/devices/TH-021/ways");
  await page.getByRole("button", { name: "Accept" }).click();
  const script = await (await request.get("/devices/TH-021/runbook.sh")).text();
  await page.goto("/bench/TH-021");
  await expect(page.getByRole("button", { name: /^Begin/ })).toBeVisible();
  const run = runScript(script, phoneState(treat("TH-021")), standInFolder(), { LANE: app.url });
  await expect(page.getByText(/^Step \d+ of \d+$/)).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(/All \d+ steps are done/)).toBeVisible({ timeout: 200_000 });
  const result = await run;
  expect(result.stderr).toBe("");
  expect(result.report).toMatchObject({ boots: true, release: "14" });
  await page.getByText(/Done so far/).click();
  await expect(page.getByText("checked by the machine").first()).toBeVisible();
  await expect(page.getByText("by hand").first()).toBeVisible();
  await page.goto("/devices/TH-021");
  const row = page.getByRole("row", { name: /^Bootloader locked/ });
  await expect(row).toContainText("no");
  await expect(row).toContainText("read from the device");
  await expect(page.getByRole("row", { name: /^Verification switched off/ })).toContainText("yes");
});

test("without the lane the script writes a file; dropped on the bench page it says the same, and the next script goes on there", async ({
  page,
  request,
  app,
}) => {
  test.setTimeout(240_000);
  await page.goto("/devices/TH-003/ways");
  await page.getByRole("button", { name: "Accept" }).click();
  const script = await (await request.get("/devices/TH-003/runbook.sh")).text();
  const state = phoneState(treat("TH-003"));
  // The lane is out of reach, and somebody forgets to allow the computer: it stops there.
  state.unlock.possible = true;
  const stopped = script.replace("hands 'android.authorise-computer'", "hands 'android.nobody-there'");
  const first = await runScript(stopped, state, standInFolder(), { LANE: "http://127.0.0.1:9" });
  expect(first.status).toBe(1);
  expect(first.stderr).toContain("STOP");
  await page.goto("/bench/TH-003");
  await page.getByText("By script", { exact: true }).click();
  await page
    .getByLabel(/The report file of a script/)
    .setInputFiles({ name: "report.jsonl", mimeType: "text/plain", buffer: Buffer.from(first.lines) });
  await page.getByRole("button", { name: "Take it in" }).click();
  await expect(page.getByText(/new lines taken in/)).toBeVisible();
  await expect(page.getByText(/Something went wrong here/)).toBeVisible();
  await page.getByRole("button", { name: "Try this step again" }).click();
  // The script that is served now begins where the run stands.
  const rest = await (await request.get("/devices/TH-003/runbook.sh")).text();
  expect(rest).toMatch(/^FROM=\d+$/m);
  const second = await runScript(rest, state, standInFolder(), { LANE: app.url });
  expect(second.stderr).toBe("");
  expect(second.stdout).toContain("Going on at step");
  expect(second.report).toMatchObject({ boots: true, release: "14" });
  await expect(page.getByText(/All \d+ steps are done/)).toBeVisible();
});

test("a run that stops at “install the ROM” is ended with what is seen, planned to a rescue, and rescued by script", async ({
  page,
  request,
  app,
}) => {
  test.setTimeout(300_000);
  await page.goto("/devices/TH-006/ways");
  await page.getByRole("button", { name: "Accept" }).click();
  const state = phoneState(treat("TH-006"));
  const room = state.rooms.system;
  // The package says that it lacks room: error 7.
  state.rooms.system = 10;
  const script = await (await request.get("/devices/TH-006/runbook.sh")).text();
  await page.goto("/bench/TH-006");
  const first = await runScript(script, state, standInFolder(), { LANE: app.url });
  expect(first.status).toBe(1);
  expect(first.stderr).toContain("Error 7");
  expect(first.report.boots).toBe(false);
  await expect(page.getByText(/Something went wrong here.*Error 7/)).toBeVisible();
  await page.getByLabel("It does not start").check();
  await page.getByLabel("What do you see on the device?").fill("error 7, and no system any more");
  await page.getByRole("button", { name: "End the run" }).click();
  await expect(page).toHaveURL(/\/devices\/TH-006$/);
  await expect(page.getByRole("row", { name: /^The system starts/ })).toContainText("no");

  // The plan goes on from there: the recovery is on it, the bootloader is open.
  const plan = await (await request.get("/batches/2026-11-autumn/plan.json")).json();
  const told = plan.devices.find((d: { tag: string }) => d.tag === "TH-006");
  expect(told).toMatchObject({ station: "match", outcome: "open", chosen: null });
  expect(told.best.operations.map((o: { kind: string }) => o.kind)).not.toContain("unlock");
  await page.getByRole("link", { name: "Compare and decide" }).click();
  await page.getByRole("button", { name: "Accept" }).click();
  state.rooms.system = room;
  const rescue = await (await request.get("/devices/TH-006/runbook.sh")).text();
  const second = await runScript(rescue, state, standInFolder(), { LANE: app.url });
  expect(second.stderr).toBe("");
  expect(second.report).toMatchObject({ boots: true, alive: true, storage: "clean", release: told.best.release });

  // The next one of that model: its chance is lower than the handbook has it, and says why.
  await page.goto("/bench/taught");
  await expect(page.getByRole("row", { name: /^Install the ROM.*velkora-lume/ }).first()).toContainText("0 of 1");
  await page.goto("/devices/TH-008/ways");
  await expect(page.getByText(/install the ROM: 0 of 1/i).first()).toBeVisible();
});

test("a read-out that contradicts an accepted way stops it everywhere, and is accepted anew with one click", async ({
  page,
  request,
}) => {
  await page.goto("/devices/TH-001/ways");
  await page.getByRole("button", { name: "Accept" }).click();
  await page.goto("/devices/TH-001");
  // What is written before a page is awake may be lost on a busy machine.
  await page.waitForLoadState("networkidle");
  await page
    .getByLabel(/Output of adb shell getprop/)
    .fill(
      "[ro.build.display.id]: [VK11-RZ9A.210705.001]\n[ro.build.version.release]: [11]\n[ro.product.device]: [vesper]",
    );
  await page.getByRole("button", { name: "Read it" }).click();
  await expect(page.getByText("The accepted way goes no further.")).toBeVisible();
  for (const end of ["md", "sh", "json"]) {
    const answer = await request.get(`/devices/TH-001/runbook.${end}`);
    expect(answer.status()).toBe(409);
    expect(await answer.text()).toContain("VK11-RZ9A.210705.001");
  }
  await page.goto("/bench/TH-001");
  await expect(page.getByRole("button", { name: /^Begin/ })).toHaveCount(0);
  await page.getByRole("button", { name: /Accept what the plan proposes now/ }).click();
  await expect(page).toHaveURL(/\/bench\/TH-001$/);
  await expect(page.getByRole("button", { name: /^Begin/ })).toBeVisible();
});

test("reports from other sites, and ones that are none, are refused", async ({ request }) => {
  const post = (data: string, headers = {}) => request.post("/devices/TH-010/report", { data, headers });
  expect((await post("{}", { "sec-fetch-site": "cross-site" })).status()).toBe(403);
  expect((await post("nonsense\n")).status()).toBe(400);
  expect((await post('{"a":1}\n')).status()).toBe(400);
  expect((await request.get("/devices/TH-010/report")).status()).toBe(405);
});
