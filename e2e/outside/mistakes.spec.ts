import { expect, test } from "@playwright/test";
import { DEFAULT_POLICY, type Policy } from "~/core/policy/policy";
import type { Runbook, Step, Word } from "~/core/runbook/step";
import type { Way } from "~/core/upgrade/way";
import { catalogue, phoneState, runScript, sheetOf, treat, wayTo, writeScript } from "../rig/bench";

// Common practice, no source: each of these mistakes leaves a phone that does not start, or is refused. The script without
// the mistake is shown to work in ways.spec.ts; here the same sheet gets exactly one mistake.

type Spoil = (steps: readonly Step[]) => Step[];

const without =
  (test: (s: Step) => boolean): Spoil =>
  (steps) => {
    const left = steps.filter((s) => !test(s));
    if (left.length === steps.length) throw new Error("the mistake was not made: no such step");
    return left;
  };

const words =
  (change: (words: readonly Word[]) => readonly Word[], only: (s: Step) => boolean): Spoil =>
  (steps) => {
    let made = false;
    const changed = steps.map((s) => {
      if (s.deed.kind !== "command" || !only(s)) return s;
      const next = change(s.deed.words);
      if (JSON.stringify(next) !== JSON.stringify(s.deed.words)) made = true;
      return { ...s, deed: { ...s.deed, words: next } };
    });
    if (!made) throw new Error("the mistake was not made: no such command");
    return changed;
  };

const has = (s: Step, text: string) => s.code.includes(text);
const digestOf = (image: string, name: string) =>
  catalogue.images.find((i) => i.id === image)?.files.find((f) => f.name === name)?.sha256;

async function spoiled(
  tag: string,
  image: string,
  spoil: Spoil,
  options: { policy?: Policy; need?: string; has?: (w: Way) => boolean } = {},
) {
  const policy = options.policy ?? DEFAULT_POLICY;
  const treated = treat(tag, options.need ? { need: options.need } : {}, policy);
  const way = wayTo(treated.plan, image, options.has);
  const sheet: Runbook = sheetOf(treated, way, policy);
  return runScript(writeScript({ ...sheet, steps: spoil(sheet.steps) }), phoneState(treated));
}

test("wrong slot: the verification file on the other slot", async () => {
  const run = await spoiled(
    "TH-021",
    "plainsong-14-arm64",
    words(
      (w) => w.map((x) => (x === "vbmeta" ? "vbmeta_b" : x)),
      (s) => has(s, "vbmeta.img"),
    ),
  );
  expect(run.report.boots).toBe(false);
  expect(run.report.trail.join()).toContain("verification is on");
});

test("wrong slot: removing the tutorial's product partition", async () => {
  const run = await spoiled(
    "TH-021",
    "plainsong-14-arm64",
    words(
      (w) => w.map((x) => (x === "product_a" ? "product_b" : x)),
      (s) => has(s, "delete-logical"),
    ),
  );
  expect(run.status).toBe(1);
  expect(run.stderr).toContain("product_b");
});

test("missing format after going down a release", async () => {
  const policy = { ...DEFAULT_POLICY, goingDown: "direct" as const };
  const run = await spoiled(
    "TH-009",
    "tallgrass-12-lumen-r2",
    without((s) => has(s, "recovery.format-data")),
    {
      policy,
      need: "messaging-phone",
      has: (w) => !w.operations.some((o) => o.kind === "flash-stock"),
    },
  );
  expect(run.report).toMatchObject({ boots: false, storage: "must-format" });
});

test("missing format after a generic image", async () => {
  const run = await spoiled(
    "TH-021",
    "plainsong-14-arm64",
    without((s) => has(s, "fastboot.-w")),
  );
  expect(run.report).toMatchObject({ boots: false, storage: "must-format" });
});

test("image larger than its room: product not removed", async () => {
  const run = await spoiled(
    "TH-021",
    "plainsong-14-arm64",
    without((s) => has(s, "delete-logical")),
  );
  expect(run.status).toBe(1);
  expect(run.stderr).toContain("Not enough space to resize partition");
  expect(run.report.image).not.toBe("plainsong-14-arm64");
});

test("verification not disabled", async () => {
  const run = await spoiled(
    "TH-021",
    "plainsong-14-arm64",
    words(
      (w) => w.filter((x) => typeof x !== "string" || !x.startsWith("--disable")),
      (s) => has(s, "vbmeta.img"),
    ),
  );
  expect(run.report.boots).toBe(false);
  expect(run.report.trail.join()).toContain("verification is on");
});

test("verification file of another build", async () => {
  const other = { file: "slate10-vbmeta-11/vbmeta.img" };
  expect(digestOf("slate10-vbmeta-11", "vbmeta.img")).not.toBe(digestOf("slate10-vbmeta-10", "vbmeta.img"));
  const run = await spoiled(
    "TH-021",
    "plainsong-14-arm64",
    words(
      (w) => w.map((x) => (typeof x === "string" ? x : other)),
      (s) => has(s, "vbmeta.img"),
    ),
  );
  expect(run.report.boots).toBe(false);
  expect(run.report.trail.join()).toContain("verification file is of another build");
});

test("locking while modified", async () => {
  const relock: Spoil = (steps) => {
    const lock = sheetOf(treat("TH-003"), wayTo(treat("TH-003").plan, "vista20-stock-12")).steps;
    const from = lock.findIndex((s) => has(s, "keys.bootloader"));
    const added = lock
      .slice(from)
      .filter(
        (s) =>
          has(s, "keys.bootloader") ||
          has(s, "fastboot.flashing-lock") ||
          has(s, "confirm-lock") ||
          has(s, "check.started"),
      );
    return [...steps, ...added];
  };
  const run = await spoiled("TH-021", "plainsong-14-arm64", relock);
  expect(run.report).toMatchObject({ alive: false, boots: false, bootloader: "locked" });
});

test("recovery replaced by a stock start", async () => {
  const letItStart: Spoil = (steps) => {
    const at = steps.findIndex((s) => has(s, "keys.recovery"));
    const start: Step = {
      ...steps[at],
      code: "fastboot.reboot",
      deed: { kind: "command", tool: "fastboot", words: ["reboot"] },
    };
    return [...steps.slice(0, at), start, ...steps.slice(at)];
  };
  const run = await spoiled("TH-006", "tallgrass-12-lumen-r2", letItStart);
  expect(run.status).toBe(1);
  expect(run.stderr).toContain("stock recovery");
  expect(run.report.trail.join()).toContain("put its own recovery back");
});

test("older ROM through a newer recovery", async () => {
  const newer: Spoil = words(
    (w) =>
      w.map((x) =>
        typeof x === "string" || !("file" in x)
          ? x
          : { file: x.file.replace("wicklight-recovery-14-vesper", "wicklight-recovery-15-vesper") },
      ),
    (s) => s.title.startsWith("Write "),
  );
  const run = await spoiled("TH-001", "wicklight-14-vesper", newer);
  expect(run.report.boots).toBe(false);
  expect(run.report.trail.join()).toContain("through the recovery of Android 15");
});

test("dangerous firmware: the safe base left out", async () => {
  const run = await spoiled(
    "TH-014",
    "emberfield-12-quarry",
    without((s) => has(s, "take-update")),
  );
  expect(run.report).toMatchObject({ alive: false, boots: false });
});

test("account left on the device: the reset asks for it, and the script stops", async () => {
  const run = await spoiled(
    "TH-021",
    "plainsong-14-arm64",
    without((s) => has(s, "remove-accounts")),
  );
  expect(run.status).toBe(1);
  expect(run.report.accountLock).toBe(true);
});

test("unlocking without the switch in the developer options is refused", async () => {
  const run = await spoiled(
    "TH-021",
    "plainsong-14-arm64",
    without((s) => has(s, "allow-unlocking")),
  );
  expect(run.status).toBe(1);
  expect(run.report).toMatchObject({ bootloader: "locked", wipes: 0 });
});
