import { spawn } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { expect, test } from "@playwright/test";
import { readReadOut } from "~/core/device/readOut";
import { readSparse } from "~/core/files/sparse";
import { Phone } from "~/phone/phone";
import {
  catalogue,
  command,
  freePort,
  phoneState,
  sheetOf,
  standInFolder,
  treat,
  wayTo,
  writeScript,
} from "../rig/bench";

const tmp = () => fs.mkdtempSync(path.join(os.tmpdir(), "upshift-outside-"));

// From outside: simg2img (Debian, android-sdk-libsparse-utils) expands what we write to the size that we read.
test("our sparse images are sparse images for AOSP's own tool", async () => {
  const folder = tmp();
  for (const id of ["plainsong-14-arm64", "plainsong-12-arm64"]) {
    const file = path.join(standInFolder(), id, `${id}.img`);
    const out = path.join(folder, "raw.img");
    expect((await command("simg2img", [file, out])).status).toBe(0);
    expect(fs.statSync(out).size).toBe(readSparse(fs.readFileSync(file)).expanded);
    fs.rmSync(out);
  }
});

// From outside: img2simg makes a sparse image; we read its size.
test("we read the sparse images that AOSP's own tool makes", async () => {
  const folder = tmp();
  const raw = Buffer.alloc(4096 * 300);
  raw.write("some data at the start");
  raw.write("and in the middle", 4096 * 150);
  fs.writeFileSync(path.join(folder, "raw"), raw);
  expect((await command("img2simg", [path.join(folder, "raw"), path.join(folder, "sparse")])).status).toBe(0);
  expect(readSparse(fs.readFileSync(path.join(folder, "sparse")))).toMatchObject({
    blockSize: 4096,
    expanded: raw.length,
  });
});

// From outside: sha256sum (GNU coreutils) on the files that demo:files writes.
test("demo:files writes every file with the digest of the catalogue", async () => {
  const folder = tmp();
  const run = await command("npm", ["run", "-s", "demo:files", "--", folder]);
  expect(run.status, run.stderr).toBe(0);
  const list = catalogue.images.flatMap((i) => i.files.map((f) => `${f.sha256}  ${i.id}/${f.name}`)).join("\n");
  fs.writeFileSync(path.join(folder, "SHA256SUMS"), `${list}\n`);
  const check = await command("sh", ["-c", `cd '${folder}' && sha256sum --strict -c SHA256SUMS`]);
  expect(check.status, check.stdout.slice(-300)).toBe(0);
});

// From outside: dash, the plain POSIX shell of Debian, reads every script; none runs.
test("every way's script is a POSIX script", async () => {
  const folder = tmp();
  for (const tag of ["TH-001", "TH-006", "TH-014", "TH-017", "TH-019", "TH-021", "TH-023", "TH-024"]) {
    const treated = treat(tag);
    for (const way of treated.plan.ways)
      fs.writeFileSync(
        path.join(folder, `${tag}-${treated.plan.ways.indexOf(way)}.sh`),
        writeScript(sheetOf(treated, way)),
      );
  }
  const files = fs.readdirSync(folder);
  expect(files.length).toBeGreaterThan(30);
  for (const file of files) {
    const run = await command("dash", ["-n", path.join(folder, file)]);
    expect(run.stderr, file).toBe("");
    expect(run.status).toBe(0);
  }
});

// From outside: what the real clients print of a phone is what the reader takes.
test("read-outs by the real adb and fastboot become the phone's own facts", async () => {
  const treated = treat("TH-001");
  const ports = { fastboot: await freePort(), adb: await freePort(), hands: await freePort() };
  const server = String(await freePort());
  const phone = new Phone({ ...phoneState(treated), mode: "bootloader" }, ports);
  await phone.start();
  try {
    const vars = await command("fastboot", ["-s", `tcp:127.0.0.1:${ports.fastboot}`, "getvar", "all"]);
    const read = readReadOut(vars.stdout + vars.stderr);
    expect(read).toMatchObject({ kind: "getvar", serial: "VKA1000101" });
    expect(Object.fromEntries(read.facts)).toMatchObject({
      "model.codename": "vesper",
      "bootloader.locked": true,
      "slot.current": "a",
      "slots.count": 2,
      "firmware.version": "V20-10.1",
    });
    for (const code of ["keys.start", "android.remove-accounts", "android.enable-debugging"])
      await fetch(`http://127.0.0.1:${ports.hands}/hands/${code}`, { method: "POST" });
    // Not allowed on the device yet: the client must say so.
    const adb = (...words: string[]) => command("adb", ["-P", server, ...words]);
    await adb("connect", `127.0.0.1:${ports.adb}`);
    expect((await adb("devices")).stdout).toContain("unauthorized");
    await adb("disconnect");
    await fetch(`http://127.0.0.1:${ports.hands}/hands/android.authorise-computer`, { method: "POST" });
    await adb("connect", `127.0.0.1:${ports.adb}`);
    const props = await adb("-s", `127.0.0.1:${ports.adb}`, "shell", "getprop");
    expect(Object.fromEntries(readReadOut(props.stdout).facts)).toMatchObject({
      "model.number": "VK-V201",
      "android.release": "10",
      "build.number": "VK10-QZ9A.200705.002",
      "cpu.arch": "arm64",
    });
  } finally {
    await phone.stop();
    await command("adb", ["-P", server, "kill-server"]);
  }
});

test("npm run phone: a phone from a state file, its report over HTTP and in the file when it is ended", async () => {
  const folder = tmp();
  const state = path.join(folder, "state.json");
  const report = path.join(folder, "report.json");
  fs.writeFileSync(state, JSON.stringify(phoneState(treat("TH-019"))));
  const [fastboot, adb, hands] = [await freePort(), await freePort(), await freePort()];
  const child = spawn(
    "npm",
    [
      "run",
      "-s",
      "phone",
      "--",
      "--state",
      state,
      "--fastboot-port",
      `${fastboot}`,
      "--adb-port",
      `${adb}`,
      "--hands-port",
      `${hands}`,
      "--report",
      report,
    ],
    { stdio: "pipe", detached: true },
  );
  try {
    const address = `http://127.0.0.1:${hands}`;
    for (let n = 0; n < 100; n++) {
      if (
        await fetch(`${address}/report`).then(
          () => true,
          () => false,
        )
      )
        break;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    expect((await fetch(`${address}/hands/nothing-like-this`, { method: "POST" })).status).toBe(409);
    expect((await fetch(`${address}/hands/android.take-update.tab8-ota-10`, { method: "POST" })).status).toBe(200);
    const live = await (await fetch(`${address}/report`)).json();
    expect(live).toMatchObject({
      alive: true,
      boots: true,
      release: "10",
      api: 29,
      image: "tab8-ota-10",
      bootloader: "locked",
      slot: null,
      storage: "donor",
      wipes: 0,
    });
    process.kill(-(child.pid as number), "SIGTERM");
    await new Promise((resolve) => child.once("exit", resolve));
    for (let n = 0; n < 50 && !fs.existsSync(report); n++) await new Promise((resolve) => setTimeout(resolve, 50));
    expect(JSON.parse(fs.readFileSync(report, "utf8"))).toEqual(live);
  } finally {
    child.kill("SIGKILL");
  }
});

test("npm run phone: bad options and files are told", async () => {
  const folder = tmp();
  fs.writeFileSync(path.join(folder, "bad.json"), "{");
  const phone = (...words: string[]) => command("npm", ["run", "-s", "phone", "--", ...words]);
  expect((await phone()).stderr).toContain("--device TAG");
  expect((await phone("--state", path.join(folder, "bad.json"))).stderr).toContain("can't be read as JSON");
  expect((await phone("--device", "X", "--db", path.join(folder, "none.db"))).stderr).toContain("there is no database");
  expect((await phone("--device", "X", "--hands-port", "99999")).status).toBe(2);
});

test("a script that is stopped by hand waits for Enter, and ends without an answer", async () => {
  const treated = treat("TH-019");
  const file = path.join(tmp(), "run.sh");
  fs.writeFileSync(file, writeScript(sheetOf(treated, wayTo(treated.plan, "tab8-ota-11"))));
  const run = await command("sh", [file], { ...process.env, FILES: standInFolder(), PHONE_HANDS: "" });
  expect(run.status).toBe(1);
  expect(run.stdout).toContain("Press Enter when that is done");
  expect(run.stderr).toContain("No answer");
});
