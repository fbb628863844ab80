import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { expect, test } from "@playwright/test";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import { readIdentityValue } from "~/core/runbook/identityCopy";
import type { ReportLine } from "~/core/runbook/report";
import { writeRestoreScript } from "~/core/runbook/restoreIdentity";
import type { PhoneState } from "~/phone/state";
import { command, phoneState, runScript, sheetOf, treat, wayTo, writeScript } from "../rig/bench";

// From outside: the unmodified public fastboot and adb clients (Debian) run each way's script against a phone that keeps
// its own book. What the plan promised is compared with what the phone became.
const WAYS = [
  { way: "A official updates, then a reset", tag: "TH-019", image: "tab8-ota-11" },
  { way: "B firmware pack and ROM from a recovery", tag: "TH-006", image: "tallgrass-12-lumen-r2" },
  { way: "B with 32 bits, base taken over the air", tag: "TH-023", image: "tallgrass-9-emberlin" },
  { way: "B away from dangerous firmware", tag: "TH-014", image: "emberfield-12-quarry" },
  { way: "C sideload through the ROM's own recovery, stock base first", tag: "TH-001", image: "wicklight-14-vesper" },
  { way: "C with services, after a waiting time", tag: "TH-018", image: "wicklight-15-m7", services: true },
  { way: "D generic image, product removed for room", tag: "TH-021", image: "plainsong-14-arm64" },
  { way: "D generic image in the bootloader, no userspace fastboot", tag: "TH-007", image: "plainsong-14-arm64-small" },
  { way: "F stock package, started, locked again", tag: "TH-003", image: "vista20-stock-12", locked: true },
  { way: "K down a release through stock", tag: "TH-003", image: "wicklight-14-vesper" },
] as const;

for (const c of WAYS) {
  test(`${c.way}: the phone starts with the promised release`, async () => {
    const treated = treat(c.tag);
    const way = wayTo(treated.plan, c.image);
    const run = await runScript(writeScript(sheetOf(treated, way)), phoneState(treated));
    expect(run.stderr).not.toContain("STOP");
    expect(run.status).toBe(0);
    expect(run.report).toMatchObject({
      alive: true,
      boots: true,
      release: way.release,
      api: way.api,
      storage: "clean",
      accountLock: false,
    });
    // A reset or a format on the phone is a wipe in the plan: neither more nor fewer.
    expect(run.report.wipes).toBe(way.wipes);
    expect(run.report.services).toBe("services" in c);
    if ("locked" in c) expect(run.report.bootloader).toBe("locked");
  });
}

test("D after an update, which changes the slot: the script takes the slot that the device tells", async () => {
  const treated = treat("TH-021");
  const way = wayTo(treated.plan, "plainsong-14-arm64", () => true);
  // The plan with the update first is dominated by the one without; its sheet must be right all the same.
  const updated = {
    ...way,
    operations: [
      { kind: "take-update" as const, image: "slate10-ota-11" },
      ...way.operations.map((o) => (o.kind === "flash-verification" ? { ...o, image: "slate10-vbmeta-11" } : o)),
    ],
  };
  const script = writeScript(sheetOf(treated, updated));
  expect(script).toContain("delete-logical-partition 'product_'\"$slot\"");
  const run = await runScript(script, phoneState(treated));
  expect(run.stderr).not.toContain("STOP");
  expect(run.report).toMatchObject({ boots: true, release: "14", slot: "b", storage: "clean" });
});

test("K down a release directly, on a model with a recorded success", async () => {
  const policy = { ...DEFAULT_POLICY, goingDown: "direct" as const };
  const treated = treat("TH-009", { need: "messaging-phone" }, policy);
  const way = wayTo(treated.plan, "tallgrass-12-lumen-r2", (w) => !w.operations.some((o) => o.kind === "flash-stock"));
  const run = await runScript(writeScript(sheetOf(treated, way, policy)), phoneState(treated));
  expect(run.status).toBe(0);
  expect(run.report).toMatchObject({ boots: true, release: "12" });
});

test("the other side of the sheet's schools ends in the same: factory reset before the ROM, each part written twice", async () => {
  const policy = { ...DEFAULT_POLICY, wipeBefore: "factory" as const, repeatWrite: "twice" as const };
  const treated = treat("TH-006", {}, policy);
  const way = wayTo(treated.plan, "tallgrass-12-lumen-r2");
  const run = await runScript(writeScript(sheetOf(treated, way, policy)), phoneState(treated));
  expect(run.stderr).toBe("");
  expect(run.report).toMatchObject({ boots: true, release: way.release, storage: "clean", wipes: way.wipes });
  expect(run.report.trail.filter((l) => l.includes("to recovery"))).toHaveLength(2);
});

test("a damaged file stops the script before anything is touched", async () => {
  const treated = treat("TH-021");
  const way = wayTo(treated.plan, "plainsong-14-arm64");
  const folder = fs.mkdtempSync(path.join(process.env.TMPDIR ?? "/tmp", "upshift-damaged-"));
  const { catalogue } = await import("../rig/bench");
  const { writeStandIns } = await import("~/demo/catalogue");
  writeStandIns(catalogue, folder);
  fs.appendFileSync(path.join(folder, "plainsong-14-arm64", "plainsong-14-arm64.img"), "x");
  const run = await runScript(writeScript(sheetOf(treated, way)), phoneState(treated), folder);
  expect(run.status).toBe(1);
  expect(run.stderr).toContain("plainsong-14-arm64.img is not the right one or is damaged");
  expect(run.report).toMatchObject({ wipes: 0, bootloader: "locked", trail: [] });
});

test("another device under the same tag stops the script at its serial number", async () => {
  const treated = treat("TH-021");
  const script = writeScript(sheetOf(treated, wayTo(treated.plan, "plainsong-14-arm64")));
  const run = await runScript(script, { ...phoneState(treated), serial: "BTS9999999" });
  expect(run.status).toBe(1);
  expect(run.stderr).toContain("The serial number is “BTS9999999”");
  expect(run.report.wipes).toBe(0);
});

test("a device updated since it was read stops the script at its build number", async () => {
  const treated = treat("TH-021");
  const script = writeScript(sheetOf(treated, wayTo(treated.plan, "plainsong-14-arm64")));
  const updated = phoneState(treat("TH-021", { release: "11", build: "BT11-RZ9A.211105.003" }));
  const run = await runScript(script, updated);
  expect(run.status).toBe(1);
  expect(run.stderr).toContain("The build number is “BT11-RZ9A.211105.003”");
});

test("the other slot stops the script before the verification file is written", async () => {
  const treated = treat("TH-021");
  const script = writeScript(sheetOf(treated, wayTo(treated.plan, "plainsong-14-arm64")));
  const run = await runScript(script, phoneState(treat("TH-021", { slot: "b" })));
  expect(run.status).toBe(1);
  expect(run.stderr).toContain("The current slot is “b”, the sheet says “a”");
});

test("a device gets its own identity partitions back, and no other device does", async () => {
  const treated = treat("TH-006");
  const way = wayTo(treated.plan, "tallgrass-12-lumen-r2");
  const state = phoneState(treated);
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-identity-"));
  const run = await runScript(writeScript(sheetOf(treated, way)), state, undefined, { KEEP: folder });
  expect(run.stderr).toBe("");
  const copies = run.lines
    .trim()
    .split("\n")
    .flatMap((line) => Object.entries((JSON.parse(line) as ReportLine).values))
    .flatMap(([name, value]) => readIdentityValue(name, value) ?? []);
  expect(copies.map((c) => c.partition)).toEqual(["persist", "nvdata"]);
  for (const copy of copies) {
    // What the client read is what the phone holds, and coreutils' own digest of it is on record.
    const file = path.join(folder, "TH-006", copy.file);
    expect(fs.readFileSync(file, "utf8")).toContain(`identity:${copy.partition}:${state.serial}`);
    expect((await command("sha256sum", [file])).stdout.slice(0, 64)).toBe(copy.sha256);
    expect(fs.statSync(file).size).toBe(copy.bytes);
  }
  const script = writeRestoreScript({ tag: "TH-006", serial: state.serial, codename: state.codename, copies });
  const give = (phone: PhoneState) => runScript(script, { ...phone, mode: "bootloader" }, undefined, { KEEP: folder });

  // The radio was lost: it comes back.
  const lost = { ...state, identity: { persist: "", nvdata: "" } };
  expect((await give(lost)).status).toBe(0);
  expect(lost.identity).toEqual({ persist: state.serial, nvdata: state.serial });

  // Another device of the same model refuses before anything is written.
  const other = { ...state, serial: "ANOTHER1", identity: { persist: "ANOTHER1", nvdata: "ANOTHER1" } };
  const refused = await give(other);
  expect(refused.status).toBe(1);
  expect(refused.stderr).toContain("This is another device");
  expect(other.identity).toEqual({ persist: "ANOTHER1", nvdata: "ANOTHER1" });

  // A file that is not the one on record is found before the first write.
  fs.writeFileSync(path.join(folder, "TH-006", copies[1].file), "something else");
  const spoiled = { ...state, identity: { persist: "", nvdata: "" } };
  expect((await give(spoiled)).stderr).toContain("is not the right one");
  expect(spoiled.identity).toEqual({ persist: "", nvdata: "" });
});
