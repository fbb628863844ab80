import { execFileSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { expect, test } from "@playwright/test";
import { readLog } from "~/core/flashlog/readLog";
import { DEFAULT_POLICY, type Policy } from "~/core/policy/policy";
import type { Runbook, Step } from "~/core/runbook/step";
import {
  later,
  phoneState,
  type RunResult,
  runScript,
  sheetOf,
  standInFolder,
  treat,
  wayTo,
  writeScript,
} from "../rig/bench";

// Download mode, judged from outside: the sheet's settings list goes to the stand-in flasher and nothing else, the tars are
// checked by their MD5, the keys are held for the seconds the sheet says, and the phone decides what came of it.

const GSI = "plainsong-14-arm64-small";

type Change = (step: Step) => Step | readonly Step[];

/** The same sheet with exactly one mistake in it. */
function spoil(sheet: Runbook, code: string, change: Change): Runbook {
  const at = sheet.steps.findIndex((s) => s.code.startsWith(code));
  if (at < 0) throw new Error(`the mistake was not made: no step ${code}`);
  return { ...sheet, steps: sheet.steps.flatMap((s, i) => (i === at ? change(s) : s)) };
}

const leaveOut: Change = () => [];

const tick =
  (name: string, on: boolean): Change =>
  (step) => {
    if (step.deed.kind !== "flasher") throw new Error(`${step.code} is nothing for the flasher`);
    const { settings } = step.deed;
    const ticks = settings.ticks.map((t) => (t.tick === name ? { ...t, on } : t));
    return { ...step, deed: { ...step.deed, settings: { ...settings, ticks } } };
  };

const slot =
  (name: string, file: string | null): Change =>
  (step) => {
    if (step.deed.kind !== "flasher") throw new Error(`${step.code} is nothing for the flasher`);
    const { settings } = step.deed;
    const slots = settings.slots.map((s) => (s.slot === name ? { ...s, file } : s));
    return { ...step, deed: { ...step.deed, settings: { ...settings, slots } } };
  };

const held =
  (first: number, second: number): Change =>
  (step) => {
    if (step.deed.kind !== "hands" || !step.deed.holds) throw new Error(`${step.code} holds no keys`);
    const [a, b] = step.deed.holds;
    return {
      ...step,
      deed: {
        ...step.deed,
        holds: [
          { ...a, seconds: first },
          { ...b, seconds: second },
        ],
      },
    };
  };

function toGeneric() {
  const treated = treat("SF-42");
  return { treated, sheet: sheetOf(treated, wayTo(treated.plan, GSI)), state: phoneState(treated) };
}

async function withMistake(code: string, change: Change): Promise<RunResult> {
  const { sheet, state } = toGeneric();
  return runScript(writeScript(spoil(sheet, code, change)), state);
}

/** A device that runs the generic image, and its sheet back to stock. */
function backToStock() {
  const { treated, sheet } = toGeneric();
  const after = later(treated, sheet);
  const way = wayTo(after.plan, "dale6-stock-11");
  const state = phoneState(after);
  // It was in somebody's hands since.
  state.data = { kind: "generic", api: 34, donor: false };
  return { after, way, back: sheetOf(after, way), state };
}

test("from stock to a generic image and back to stock, the same phone, by the sheet's settings and nothing else", async () => {
  const { treated, sheet, state } = toGeneric();
  const there = await runScript(writeScript(sheet), state);
  expect(there.stderr).toBe("");
  expect(there.status).toBe(0);
  const count = there.stdout.split("\n").find((l) => l.includes("succeeded, 0 failed")) ?? "";
  expect(readLog(count).verdict).toBe("went-well");
  expect(there.report).toMatchObject({
    boots: true,
    image: GSI,
    release: "14",
    bootloader: "unlocked",
    storage: "clean",
  });
  expect(there.report.trail).toContain("the fuse blew: a foreign image was written");

  const after = later(treated, sheet);
  expect(after.facts.get("fuse.blown")?.value).toBe(true);
  const back = sheetOf(after, wayTo(after.plan, "dale6-stock-11"));
  const again = await runScript(writeScript(back), state);
  expect(again.stderr).toBe("");
  expect(again.status).toBe(0);
  expect(again.report).toMatchObject({ boots: true, image: "dale6-stock-11", release: "11", storage: "clean" });
  // The fuse stays blown: no way home mends it.
  expect(state.download?.fuseBlown).toBe(true);
});

test("a phone of another region, a lower fuse level: refused by the plan and by the phone", async () => {
  const { after, back, state } = backToStock();
  expect(after.plan.stops.map((s) => [s.image, s.code])).toEqual(
    expect.arrayContaining([
      ["dale6-stock-10", "firmware.fuse"],
      ["dale6-stock-11-south", "stock.other-region"],
    ]),
  );
  for (const [folder, why] of [
    ["dale6-stock-10", "fuse level 2 is below this device's 3"],
    ["dale6-stock-11-south", "this is for model SH-D6G"],
  ]) {
    const wrong = spoil(back, "flasher.stock", (step) =>
      step.deed.kind === "flasher"
        ? {
            ...step,
            deed: {
              ...step.deed,
              settings: {
                ...step.deed.settings,
                slots: step.deed.settings.slots.map((s) => ({
                  ...s,
                  file: s.file?.replace("dale6-stock-11", folder) ?? null,
                })),
              },
            },
          }
        : step,
    );
    const run = await runScript(writeScript(wrong), structuredClone(state));
    expect(run.status).toBe(1);
    expect(run.stdout).toContain(`Refused: bootloader: ${why}`);
    // What the flasher said, captured here, is read as a stop with its own reason.
    const refused = run.stdout.split("\n").find((l) => l.startsWith("Refused:")) ?? "";
    expect(readLog(refused).verdict).toBe("stop");
    expect(readLog(refused).because?.pattern).toMatch(/^flasher\.(fuse|region)$/);
    expect(run.stderr).toContain("0 succeeded, 1 failed");
  }
});

test("restart by itself left ticked, or the keys too late: Android starts and puts its own recovery back", async () => {
  for (const [code, change] of [
    ["flasher.recovery", tick("restart-by-itself", true)],
    ["keys.download-to-recovery", held(12, 7)],
    ["keys.download-to-recovery", held(7, 2)],
  ] as const) {
    const run = await withMistake(code, change);
    expect(run.status).toBe(1);
    expect(run.report.trail).toContain("the stock system put its own recovery back");
    expect(run.report.image).not.toBe(GSI);
  }
  const short = await withMistake("keys.download-to-recovery", held(3, 7));
  expect(short.stderr).toContain("still in download mode");
});

test("the unlock switch was not seen greyed: the device locks itself again and refuses what is foreign", async () => {
  const run = await withMistake("android.see-toggle", leaveOut);
  expect(run.status).toBe(1);
  expect(run.stdout).toContain("not signed by the maker, and the device is locked");
  expect(run.report).toMatchObject({ bootloader: "locked", boots: true });
  expect(run.report.trail).not.toContain("the fuse blew: a foreign image was written");
});

test("without the patched verification file it does not start", async () => {
  const without = await withMistake("flasher.recovery", slot("Extra", null));
  expect(without.report.boots).toBe(false);
  expect(without.report.trail.join()).toContain("verification is on");
});

test("encryption: run once only, or no restart into the recovery before copying: nothing can be copied", async () => {
  for (const code of ["recovery.encryption-off", "recovery.restart-recovery"]) {
    const run = await withMistake(code, leaveOut);
    expect(run.status).toBe(1);
    expect(run.stderr).toContain("Required key not available");
    expect(run.report.image).not.toBe(GSI);
  }
});

test("ticks of the stock restore: the partition table or erasing takes the phone's own numbers away", async () => {
  for (const name of ["partition-table", "erase-first"]) {
    const { back, state } = backToStock();
    await runScript(writeScript(spoil(back, "flasher.stock", tick(name, true))), state);
    expect(Object.values(state.identity)).toEqual([""]);
  }
  const { back, state } = backToStock();
  const off = await runScript(writeScript(spoil(back, "flasher.stock", tick("restart-by-itself", false))), state);
  expect(off.stderr).toContain("The set-up screen does not come");
});

test("the other ticks: a bootloader that no slot holds is not renewed, and the clock harms nothing", async () => {
  const twice = await withMistake("flasher.recovery", tick("bootloader-twice", true));
  expect(twice.status).toBe(1);
  expect(twice.stdout).toContain("the bootloader is to be renewed, and no slot holds one");
  expect(twice.report.trail.join()).not.toContain("fuse blew");
  const { back, state } = backToStock();
  const clock = await runScript(writeScript(spoil(back, "flasher.stock", tick("reset-the-clock", false))), state);
  expect(clock.stderr).toBe("");
  expect(clock.report).toMatchObject({ boots: true, image: "dale6-stock-11" });
});

test("the keeping edition leaves what another system left behind: it does not start", async () => {
  const { back, state } = backToStock();
  const keep = slot("Land", "dale6-stock-11/land-keeping.tar.md5");
  const run = await runScript(writeScript(spoil(back, "flasher.stock", keep)), state);
  expect(run.report.boots).toBe(false);
  expect(run.report.trail.join()).toContain("it must be formatted");
});

test("a tar whose MD5 is wrong: nothing is written", async () => {
  const { back, state } = backToStock();
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-tars-"));
  fs.cpSync(path.join(standInFolder(), "dale6-stock-11"), path.join(folder, "dale6-stock-11"), { recursive: true });
  const body = path.join(folder, "dale6-stock-11", "body.tar.md5");
  const bytes = fs.readFileSync(body);
  bytes[600] ^= 1;
  fs.writeFileSync(body, bytes);
  const before = JSON.stringify(state.partitions);
  // The digest gate would find it first: here the person did not look.
  const careless = spoil(back, "gate.files", leaveOut);
  const run = await runScript(writeScript(careless), state, folder);
  expect(run.stdout).toContain("Body: its MD5 is not the one behind its end");
  expect(JSON.stringify(state.partitions)).toBe(before);
});

/** A FAT32 stick of 8 GB; the file takes no room until something is written. */
function newStick(): string {
  const file = path.join(fs.mkdtempSync(path.join(os.tmpdir(), "upshift-stick-")), "stick.img");
  fs.writeFileSync(file, "");
  fs.truncateSync(file, 8_000_000_000);
  const env = { ...process.env, PATH: `${process.env.PATH}:/usr/sbin:/sbin` };
  execFileSync("mkfs.vfat", ["-F", "32", file], { env, stdio: "ignore" });
  return file;
}

test("encryption left on by the house: the image comes on a stick, past the storage that can't be read", async () => {
  const policy: Policy = { ...DEFAULT_POLICY, encryption: "leave" };
  const treated = treat("SF-42", {}, policy);
  const sheet = sheetOf(treated, wayTo(treated.plan, GSI), policy);
  const state = phoneState(treated);
  state.stick = newStick();
  const run = await runScript(writeScript(sheet), state, undefined, { STICK: state.stick });
  expect(run.stderr).toBe("");
  expect(run.report).toMatchObject({ boots: true, image: GSI });
});

test("neither computer nor second phone: a recovery that is on it takes the image from a stick, all by hand", async () => {
  const policy: Policy = { ...DEFAULT_POLICY, host: "none" };
  const makes = { "recovery.image": "harbourlight-4-dale", "verification.off": true, "bootloader.locked": false };
  const earlier = { steps: [{ makes }], operations: [] } as unknown as Runbook;
  const treated = later(treat("SF-42", {}, policy), earlier, policy);
  const way = wayTo(treated.plan, GSI);
  expect(way.operations.map((o) => o.kind)).toEqual(["install-gsi-stick"]);
  const sheet = sheetOf(treated, way, policy);
  expect(sheet.steps.some((s) => s.deed.kind === "command")).toBe(false);
  const state = phoneState(treated);
  // It came with the verification file switched off, the day the recovery was written.
  const vbmeta = state.partitions.vbmeta;
  if (vbmeta) vbmeta.verificationOff = true;
  state.stick = newStick();
  const run = await runScript(writeScript(sheet), state, undefined, { STICK: state.stick });
  expect(run.stderr).toBe("");
  expect(run.report).toMatchObject({ boots: true, image: GSI });
});
