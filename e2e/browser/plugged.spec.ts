import fs from "node:fs";
import net from "node:net";
import os from "node:os";
import path from "node:path";
import { Phone } from "~/phone/phone";
import { expect, RunningApp, test } from "../rig/app";
import { command, freePort, phoneState, treat } from "../rig/bench";

test.use({ desk: "plugged" });

// From outside: the real adb and fastboot clients, against several simulated phones at once.
test("two phones over adb, one in the bootloader, one not authorised, one that answers nothing: listed, told, read", async ({
  page,
}) => {
  test.setTimeout(180_000);
  const server = String(await freePort());
  const ports = async () => ({ fastboot: await freePort(), adb: await freePort(), hands: await freePort() });
  const start = async (tag: string, mode: "system" | "bootloader", authorised: boolean) => {
    const own = await ports();
    const phone = new Phone({ ...phoneState(treat(tag)), mode: "bootloader" }, own);
    await phone.start();
    if (mode === "system") {
      const hands = ["keys.start", "android.remove-accounts", "android.enable-debugging"];
      if (authorised) hands.push("android.authorise-computer");
      for (const code of hands) await fetch(`http://127.0.0.1:${own.hands}/hands/${code}`, { method: "POST" });
      await command("adb", ["-P", server, "connect", `127.0.0.1:${own.adb}`]);
    }
    return { phone, ...own };
  };
  // Takes the connection and says nothing, as a phone with a hanging daemon does.
  const mute = net.createServer((socket) => socket.on("error", () => socket.destroy()));
  const mutePort = await freePort();
  await new Promise<void>((resolve) => mute.listen(mutePort, "127.0.0.1", () => resolve()));
  const one = await start("TH-001", "system", true);
  const two = await start("TH-006", "system", true);
  const locked = await start("TH-002", "system", false);
  const boot = await start("TH-010", "bootloader", true);
  void command("adb", ["-P", server, "connect", `127.0.0.1:${mutePort}`]);

  const app = new RunningApp(await freePort(), "demo", "", {
    ANDROID_ADB_SERVER_PORT: server,
    UPSHIFT_FASTBOOT_TCP: `127.0.0.1:${boot.fastboot}`,
  });
  await app.start();
  try {
    const item = (port: number) =>
      page.getByRole("listitem").filter({ has: page.getByText(`…${String(port).slice(-4)}`) });
    await expect(async () => {
      await page.goto(`${app.url}/intake/plugged`);
      await expect(item(one.adb)).toContainText("Ready", { timeout: 500 });
      await expect(item(two.adb)).toContainText("Ready", { timeout: 500 });
      await expect(item(locked.adb)).toContainText("Not authorised", { timeout: 500 });
    }).toPass({ timeout: 60_000 });
    await expect(item(locked.adb)).toContainText("allow this computer");
    await expect(item(locked.adb).getByRole("button")).toHaveCount(0);
    await expect(item(mutePort)).toContainText("Offline");
    await expect(item(mutePort)).toContainText("original cable");

    await item(two.adb).getByRole("button", { name: /^Read/ }).click();
    await expect(page.getByRole("heading", { name: /Velkora Lumiro/ })).toBeVisible();
    await expect(page.getByLabel("It is this device, by its serial number")).toHaveValue("TH-006");
    await page.getByRole("button", { name: "Write it down" }).click();
    await expect(page.getByText("Written to TH-006")).toBeVisible();

    await item(boot.fastboot).getByRole("button", { name: /^Read/ }).click();
    await page.getByLabel(/It is this device|Which device is it/).fill("TH-001");
    await page.getByRole("button", { name: "Write it down" }).click();
    await expect(page.getByRole("alert")).toContainText("read-out is of another device");
    await page.goto(`${app.url}/devices/TH-006`);
    await expect(page.getByRole("row", { name: /Code name/ })).toContainText("read from the device");
    await expect(page.getByRole("row", { name: /Binder/ })).toContainText("64");
  } finally {
    await app.stop();
    await Promise.all([one, two, locked, boot].map((p) => p.phone.stop()));
    mute.close();
    await command("adb", ["-P", server, "kill-server"]);
  }
});

test("no client, and one that hangs: told, and the page comes all the same", async ({ page }) => {
  test.setTimeout(120_000);
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-clients-"));
  const hangs = path.join(folder, "adb");
  fs.writeFileSync(hangs, "#!/bin/sh\nexec sleep 600\n", { mode: 0o755 });
  const app = new RunningApp(await freePort(), "demo", "", {
    UPSHIFT_ADB: hangs,
    UPSHIFT_FASTBOOT: path.join(folder, "no-such-program"),
  });
  await app.start();
  try {
    await page.goto(`${app.url}/intake/plugged`);
    await expect(page.getByText("adb did not answer within 6 seconds and was stopped")).toBeVisible();
    await expect(page.getByText("fastboot is not on this computer")).toBeVisible();
    await page.goto(`${app.url}/register`);
    await expect(page.getByText("No register is set up here.")).toBeVisible();
    // Nothing of what a page says becomes a word of a command: only what the client lists is read.
    const answer = await page.request.post(`${app.url}/intake/plugged`, {
      form: { do: "read", client: "adb", serial: "$(touch /tmp/x); --help" },
      headers: { origin: app.url },
    });
    expect(answer.status()).toBe(409);
  } finally {
    await app.stop();
  }
});
