import { execFileSync } from "node:child_process";
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
  const kept = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-kept-"));
  const flasher = () => new Flasher({ files: standInFolder(), kept, host: "127.0.0.1", port: ports.flasher });
  const card = path.join(kept, "card.img");
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
        if (step.deed.settings.rows.length) await setRowsAsShown(page, await program.listen());
        else await setAsShown(page, await program.listen());
        await program.close();
      } else if (step.deed.kind === "gate" && step.deed.gate.kind === "card") {
        makeCardAsShown(await shown.textContent(), step.deed.gate.folder, card);
        if (phone.state.card) phone.state.card.image = card;
      } else if (step.deed.kind === "gate" && step.deed.gate.kind === "keep" && step.deed.gate.how === "loader") {
        const program = flasher();
        await dumpTo(page, await program.listen(), kept);
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
      if (step.deed.kind === "gate" && step.deed.gate.kind === "keep" && step.deed.gate.how === "adb")
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
    } else {
      const slot = other.getByRole("combobox", { name, exact: true });
      await slot.selectOption(value.trim() === "leave empty" ? "" : value.trim());
    }
  }
  await other.getByRole("button", { name: "Start" }).click();
  await expect(other.locator("pre")).toContainText("1 succeeded, 0 failed");
  await other.close();
}

/** Dumps the board in the flasher's window, and picks each file on the bench page. */
async function dumpTo(page: Page, address: string, folder: string) {
  const other = await page.context().newPage();
  await other.goto(`${address}/?edition=board`);
  await other.getByLabel("Names begin with").fill("by-hand");
  await other.getByRole("button", { name: "Dump" }).click();
  await expect(other.locator("pre")).toContainText("images and the partition list dumped");
  await other.close();
  const files = fs.readdirSync(folder).filter((f) => f.startsWith("by-hand-"));
  await page.getByLabel(/Pick all 14 files at once/).setInputFiles(files.map((f) => path.join(folder, f)));
  await page.getByText("One by one").click();
  for (const digest of await page.getByLabel("SHA-256").all()) await expect(digest).toHaveValue(/^[0-9a-f]{64}$/);
}

/** Loads the list that the bench page shows, sets every row as its table says, and runs. */
async function setRowsAsShown(page: Page, address: string) {
  await page.getByText("The partition list, cleaned").click();
  const list = (await page.locator("section pre").first().textContent()) ?? "";
  const rows = await page
    .getByRole("table", { name: "Slots and ticks of the flasher" })
    .locator("tr")
    .evaluateAll((lines) =>
      lines.map((l) => ({
        row: l.querySelector("th")?.textContent ?? "",
        file: l.querySelector("code")?.textContent ?? null,
      })),
    );
  const other = await page.context().newPage();
  await other.goto(`${address}/?edition=board`);
  await other.getByLabel("Partition list").fill(list);
  await other.getByRole("button", { name: "Load the list" }).click();
  for (const { row, file } of rows) {
    if (file === null) continue;
    await other.getByLabel(`${row} ticked`, { exact: true }).check();
    await other.getByRole("combobox", { name: row, exact: true }).selectOption({ label: file });
  }
  await other.getByRole("button", { name: "Run" }).click();
  await expect(other.locator("pre")).toContainText("download OK");
  await other.close();
}

/** Unpacks as the page says, and puts the folder itself on a card of 8 GB. */
function makeCardAsShown(typed: string | null, folder: string, card: string) {
  const zip = /^unzip (\S+) -d unpacked/.exec(typed?.trim() ?? "")?.[1];
  expect(zip).toBeTruthy();
  const unpacked = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-unpacked-"));
  const env = { ...process.env, PATH: `${process.env.PATH}:/usr/sbin:/sbin` };
  const run = (program: string, ...words: string[]) => execFileSync(program, words, { env, stdio: "ignore" });
  run("unzip", "-q", path.join(standInFolder(), zip ?? ""), "-d", unpacked);
  const [found] = fs.readdirSync(unpacked, { recursive: true }).filter((f) => path.basename(String(f)) === folder);
  fs.writeFileSync(card, "");
  fs.truncateSync(card, 8_000_000_000);
  run("mkfs.vfat", "-F", "32", card);
  run("mcopy", "-s", "-i", card, path.join(unpacked, String(found)), "::/");
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
    // A connection that broke off is kept by the client's server for ten seconds before it is tried again.
    if (n > 0) await command("adb", ["-P", server, "disconnect", `127.0.0.1:${port}`]);
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
