import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { type APIRequestContext, expect, type Page } from "@playwright/test";
import type { Gate, Runbook } from "~/core/runbook/step";
import { Phone } from "~/phone/phone";
import type { PhoneReport, PhoneState } from "~/phone/state";
import { Flasher } from "~/standins/flasher/server";
import { command, freePort, standInFolder } from "./bench";

/**
 * A volunteer at the bench page: begins the run, and for each step does exactly what the page shows (the command in the
 * folder of files with the real client, or the gesture on the phone), then says done.
 *
 * @returns what became of the phone
 */
export async function benchThroughPages(
  page: Page,
  request: APIRequestContext,
  tag: string,
  state: PhoneState,
): Promise<PhoneReport> {
  const ports = {
    fastboot: await freePort(),
    adb: await freePort(),
    hands: await freePort(),
    flasher: await freePort(),
  };
  const flasher = () => new Flasher({ files: standInFolder(), host: "127.0.0.1", port: ports.flasher });
  const server = String(await freePort());
  const phone = new Phone(state, ports);
  await phone.start();
  const clients = {
    fastboot: ["-s", `tcp:127.0.0.1:${ports.fastboot}`],
    adb: ["-P", server, "-s", `127.0.0.1:${ports.adb}`],
  };
  try {
    await page.goto(`/bench/${tag}`);
    await page.getByRole("button", { name: /^Begin/ }).click();
    const { steps } = (await (await request.get(`/devices/${tag}/runbook.json`)).json()) as Runbook;
    const slot = "";
    for (const [i, step] of steps.entries()) {
      await expect(page.getByText(`Step ${i + 1} of ${steps.length}`)).toBeVisible();
      await expect(page.getByRole("heading", { name: step.title, exact: true })).toBeVisible();
      const shown = page.locator("section div > code");
      if (step.deed.kind === "hands") {
        const hold = step.deed.holds?.length ? `?hold=${await heldAsShown(page)}` : "";
        const address = `http://127.0.0.1:${ports.hands}/hands/${step.deed.code}${hold}`;
        const answer = await fetch(address, { method: "POST" });
        expect(answer.status, `${step.code}: ${await answer.text()}`).toBe(200);
      } else if (step.deed.kind === "flasher") {
        const program = flasher();
        await setAsShown(page, await program.listen());
        await program.close();
      } else if (step.deed.kind === "gate" && step.deed.gate.kind === "uninstall") {
        await waitForAdb(server, ports.adb);
        await takeAway(page, clients.adb);
      } else if (step.deed.kind === "gate" && step.deed.gate.kind === "keep") await waitForAdb(server, ports.adb);
      else if (await shown.count()) {
        const text = ((await shown.textContent()) ?? "").replace("<current slot>", slot);
        const [tool, ...words] = text.split(" ") as ["fastboot" | "adb", ...string[]];
        if (tool === "adb") await waitForAdb(server, ports.adb);
        const typed = words.map((w) =>
          /^[a-z0-9.-]+\/[\w.-]+$/i.test(w) && fs.existsSync(`${standInFolder()}/${w}`) ? `${standInFolder()}/${w}` : w,
        );
        let result = await command(tool, [...clients[tool], ...typed]);
        // Where the page says what to do when it fails, the volunteer does that.
        if (result.status !== 0 && step.deed.kind === "command")
          for (const [n, instead] of (step.deed.instead ?? []).entries()) {
            const again = await command(tool, [...clients[tool], ...instead.map(String)]);
            if (n === 0) result = again;
          }
        if (step.deed.kind === "command" && !step.deed.mayFail)
          expect(result.status, `${step.code}: ${result.stderr}`).toBe(0);
        const wanted = step.deed.kind === "gate" ? wantedOf(step.deed.gate) : null;
        if (wanted) expect(result.stdout + result.stderr, step.code).toContain(wanted);
      }
      if (step.deed.kind === "gate" && step.deed.gate.kind === "keep")
        await keepIdentity(page, step.deed.gate.partitions, [...clients.adb]);
      if (step.caution) await page.getByLabel("Yes, that is meant").check();
      await page.getByRole("button", { name: /^Done/ }).click();
    }
    await expect(page.getByText(`All ${steps.length} steps are done.`)).toBeVisible();
    return phone.report();
  } finally {
    await phone.stop();
    await command("adb", ["-P", server, "kill-server"]);
  }
}

/** Keys and seconds as the page shows them, for the hands port. */
async function heldAsShown(page: Page): Promise<string> {
  const lines = await page.locator("section li", { has: page.locator("kbd") }).evaluateAll((items) =>
    items.map((item) => ({
      keys: [...item.querySelectorAll("kbd")].map((k) => (k.textContent ?? "").replaceAll(" ", "-")),
      seconds: /for (\d+) s/.exec(item.textContent ?? "")?.[1] ?? "0",
    })),
  );
  return lines.map((l) => `${l.keys.join("_")}:${l.seconds}`).join(",");
}

/** Sets the flasher's own page as the table on the bench page says, line by line, starts it, and waits for its count. */
async function setAsShown(page: Page, address: string) {
  const rows = await page
    .getByRole("table", { name: "Slots and ticks of the flasher" })
    .locator("tr")
    .evaluateAll((lines) =>
      lines.map((l) => [...l.querySelectorAll("th, td:last-child")].map((c) => c.textContent ?? "")),
    );
  const other = await page.context().newPage();
  await other.goto(address);
  for (const [name, value] of rows) {
    if (/ticked$/.test(value.trim())) {
      const box = other.getByLabel(name);
      if (/not ticked/.test(value)) await box.uncheck();
      else await box.check();
    } else await other.getByLabel(name).selectOption(value.trim() === "leave empty" ? "" : value.trim());
  }
  await other.getByRole("button", { name: "Start" }).click();
  await expect(other.locator("pre")).toContainText("1 succeeded, 0 failed");
  await other.close();
}

/** Types each line of the page, and pastes what the client lists afterwards. */
async function takeAway(page: Page, adb: readonly string[]) {
  const lines = ((await page.locator("section div > code").textContent()) ?? "").trim().split("\n");
  for (const line of lines) {
    const typed = /^adb shell '(.*)'$/.exec(line)?.[1];
    expect(typed, line).toBeTruthy();
    await command("adb", [...adb, "shell", typed ?? ""]);
  }
  const listed = await command("adb", [...adb, "shell", "pm", "list", "packages"]);
  await page.getByLabel(/Afterwards: paste what/).fill(listed.stdout);
}

/** Pulls the partitions as the page's command says, and picks the files on the page. */
async function keepIdentity(page: Page, partitions: readonly string[], adb: readonly string[]) {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-kept-"));
  for (const partition of partitions) {
    const text = `adb pull /dev/block/by-name/${partition} ${partition}.img`;
    await expect(page.locator("section div > code")).toContainText(text);
    const file = path.join(folder, `${partition}.img`);
    const pulled = await command("adb", [...adb, "pull", `/dev/block/by-name/${partition}`, file]);
    expect(pulled.status, pulled.stderr).toBe(0);
    const fields = page.getByRole("group", { name: partition });
    await fields.getByLabel(/Pick the file/).setInputFiles(file);
    await expect(fields.getByLabel("SHA-256")).toHaveValue(/^[0-9a-f]{64}$/);
  }
}

/** Plugs in again until the client sees the device: what a person does when nothing answers yet. */
async function waitForAdb(server: string, port: number) {
  for (let n = 0; n < 40; n++) {
    await command("adb", ["-P", server, "connect", `127.0.0.1:${port}`]);
    const state = await command("adb", ["-P", server, "-s", `127.0.0.1:${port}`, "get-state"]);
    if (state.status === 0 && !/offline/.test(state.stdout)) return;
    await new Promise((resolve) => setTimeout(resolve, 250));
  }
}

/** What a client's answer must hold at a gate; null where nothing is compared. */
function wantedOf(gate: Gate): string | null {
  if (gate.kind === "adb-state") return gate.state;
  if (gate.kind === "userspace") return "yes";
  return "expect" in gate ? gate.expect : null;
}
