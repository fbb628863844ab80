import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { expect, test } from "@playwright/test";
import { type LogContext, NO_CONTEXT } from "~/core/flashlog/pattern";
import { readLog } from "~/core/flashlog/readLog";
import type { OperationKind } from "~/core/ways/registry";
import { Phone } from "~/phone/phone";
import type { PhoneState } from "~/phone/state";
import { command, freePort, phoneState, standInFolder, treat } from "../rig/bench";

// What the unmodified public clients (Debian's adb and fastboot) say in refused and broken cases, captured here and read: no line of
// theirs may be one that nobody knows, and the verdict is the right one.

interface Clients {
  readonly fastboot: (...words: string[]) => Promise<string>;
  readonly adb: (...words: string[]) => Promise<string>;
  readonly state: PhoneState;
}

async function withPhone(tag: string, over: Partial<PhoneState>, act: (clients: Clients) => Promise<void>) {
  const state = { ...phoneState(treat(tag)), ...over };
  const ports = { fastboot: await freePort(), adb: await freePort(), hands: await freePort() };
  const server = String(await freePort());
  const phone = new Phone(state, ports);
  await phone.start();
  const said = async (tool: string, words: readonly string[]) => {
    // A client that waits for a device that is gone waits for ever.
    const { stdout, stderr } = await command("timeout", ["10", tool, ...words]);
    return `${stdout}${stderr}`;
  };
  try {
    await act({
      state,
      fastboot: (...words) => said("fastboot", ["-s", `tcp:127.0.0.1:${ports.fastboot}`, ...words]),
      adb: (...words) =>
        said("adb", ["-P", server, ...words.map((w) => w.replace("SERIAL", `127.0.0.1:${ports.adb}`))]),
    });
  } finally {
    await phone.stop();
    await command("adb", ["-P", server, "kill-server"]);
  }
}

const inOp = (operation: OperationKind): LogContext => ({ ...NO_CONTEXT, operation });
const file = (image: string, name: string) => path.join(standInFolder(), image, name);

function judged(text: string, verdict: string, pattern: string, context: LogContext = NO_CONTEXT) {
  const read = readLog(text, context);
  expect
    .soft(
      read.lines.filter((l) => l.tell === null).map((l) => l.text),
      text,
    )
    .toEqual([]);
  expect
    .soft([read.verdict, read.lines.map((l) => l.pattern)], text)
    .toEqual([verdict, expect.arrayContaining([pattern])]);
}

test("fastboot: what it says of refusals, and of what goes well", async () => {
  test.setTimeout(240_000);
  const open = { mode: "bootloader" as const, locked: false };
  await withPhone("TH-021", { mode: "bootloader" }, async ({ fastboot }) => {
    judged(await fastboot("flash", "vbmeta_a", file("slate10-vbmeta-10", "vbmeta.img")), "stop", "fastboot.locked");
    judged(await fastboot("erase", "userdata"), "stop", "fastboot.locked");
    judged(await fastboot("flashing", "unlock"), "stop", "fastboot.unlock-refused");
    judged(await fastboot("getvar", "unlocked"), "go-on", "fastboot.variable");
    judged(await fastboot("getvar", "no-such-thing"), "go-on", "fastboot.variable-unknown");
  });
  await withPhone("TH-021", open, async ({ fastboot, state }) => {
    judged(await fastboot("flash", "vbmeta_a", file("slate10-vbmeta-10", "vbmeta.img")), "go-on", "fastboot.okay");
    judged(
      await fastboot("flash", "nothing_a", file("slate10-vbmeta-10", "vbmeta.img")),
      "stop",
      "fastboot.no-partition",
    );
    judged(await fastboot("flash", "boot_a", "/nowhere/nothing.img"), "stop", "fastboot.no-file");
    judged(await fastboot("flashing", "unlock"), "do-this", "fastboot.already");
    judged(await fastboot("delete-logical-partition", "product_a"), "stop", "fastboot.mode");
    // A file system that Debian's client can't make.
    judged(await fastboot("-w"), "do-this", "fastboot.no-file-system");
    const plain = path.join(fs.mkdtempSync(path.join(os.tmpdir(), "upshift-log-")), "plain.img");
    fs.writeFileSync(plain, Buffer.alloc(4096, 7));
    judged(await fastboot("flash", "boot_a", plain), "stop", "fastboot.invalid-image");
    state.rooms.vbmeta = 10;
    judged(await fastboot("flash", "vbmeta_a", file("slate10-vbmeta-10", "vbmeta.img")), "stop", "fastboot.no-room");
  });
  await withPhone(
    "TH-003",
    { ...open, tempers: { refusesVars: [], hangsAtFirstBoot: false, dropsLeadAtDownload: 1 } },
    async ({ fastboot }) => {
      judged(await fastboot("flash", "boot_a", file("vista20-stock-12", "boot.img")), "do-this", "fastboot.unfinished");
    },
  );
  const nobody = await command("timeout", ["5", "fastboot", "getvar", "product"]);
  judged(nobody.stdout + nobody.stderr, "do-this", "fastboot.waiting");
});

test("adb: connections, copies, packages and apps", async () => {
  await withPhone("TH-020", { mode: "android", debugging: true, authorised: false }, async ({ adb }) => {
    await adb("connect", "SERIAL");
    judged(await adb("-s", "SERIAL", "shell", "getprop"), "do-this", "adb.unauthorised");
    judged(await adb("-s", "127.0.0.1:1", "shell", "true"), "do-this", "adb.nobody");
  });
  await withPhone("TH-020", { mode: "android", debugging: true, authorised: true }, async ({ adb }) => {
    await adb("connect", "SERIAL");
    const list = "tab8-clean-11";
    judged(await adb("-s", "SERIAL", "install", "-g", file(list, "plainkeys-1.9.apk")), "went-well", "pm.success");
    judged(await adb("-s", "SERIAL", "install", file("tab8-ota-11", "update.zip")), "do-this", "pm.refused");
    const taken = await adb(
      "-s",
      "SERIAL",
      "shell",
      "pm uninstall com.ondarra.mall || pm uninstall --user 0 com.ondarra.mall",
    );
    judged(taken, "went-well", "pm.system-package", inOp("clean-stock"));
    judged(taken, "do-this", "pm.system-package");
    judged(await adb("-s", "SERIAL", "shell", "pm", "list", "packages"), "go-on", "pm.list");
    judged(await adb("-s", "SERIAL", "shell", "ime", "enable", "a.b/.C"), "do-this", "pm.component");
  });
  await withPhone("TH-006", { mode: "recovery" }, async ({ adb }) => {
    await adb("connect", "SERIAL");
    const folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-log-"));
    judged(
      await adb(
        "-s",
        "SERIAL",
        "push",
        file("larder-11-arm64", fs.readdirSync(path.join(standInFolder(), "larder-11-arm64"))[0]),
        "/sdcard/a.zip",
      ),
      "went-well",
      "adb.pushed",
    );
    judged(
      await adb("-s", "SERIAL", "pull", "/dev/block/by-name/persist", path.join(folder, "p.img")),
      "do-this",
      "adb.not-copied",
    );
    judged(await adb("-s", "SERIAL", "push", "/nowhere.zip", "/sdcard/"), "do-this", "adb.not-copied");
  });
});

test("adb sideload: taken, and refused", async () => {
  await withPhone("TH-001", { mode: "sideload" }, async ({ adb }) => {
    await adb("connect", "SERIAL");
    // The maker's recovery takes nothing foreign.
    const refused = readLog(
      await adb("-s", "SERIAL", "sideload", file("wicklight-14-vesper", "wicklight-14-vesper.zip")),
    );
    expect(refused.lines.filter((l) => l.tell === null)).toEqual([]);
    expect([refused.verdict, refused.lines[0].pattern]).toEqual(["go-on", "adb.transferred"]);
    judged(
      await adb("-s", "SERIAL", "sideload", file("wicklight-14-vesper", "wicklight-14-vesper.zip")),
      "do-this",
      "adb.sideload-refused",
    );
  });
});
