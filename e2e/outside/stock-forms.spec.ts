import { execFileSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { expect, test } from "@playwright/test";
import type { Runbook, Step } from "~/core/runbook/step";
import { rootFolders } from "~/phone/card/readCard";
import { catalogue, phoneState, runScript, sheetOf, standInFolder, treat, wayTo, writeScript } from "../rig/bench";

// The maker's package in its other forms: from a card (a real FAT32 image, made with mkfs.vfat and mtools and read back by
// them), by the maker's own script with the real fastboot, and another model's system on its exact base.

const ROOT_TOO = { ...process.env, PATH: `${process.env.PATH}:/usr/sbin:/sbin` };

/** A FAT32 card of so many bytes; the file takes no room until something is written. */
function newCard(bytes = 8_000_000_000): string {
  const file = path.join(fs.mkdtempSync(path.join(os.tmpdir(), "upshift-card-")), "card.img");
  fs.writeFileSync(file, "");
  fs.truncateSync(file, bytes);
  execFileSync("mkfs.vfat", ["-F", "32", file], { env: ROOT_TOO, stdio: "ignore" });
  return file;
}

function byCard(card: string, change: { number?: string; region?: string } = {}) {
  const treated = treat("SF-44");
  const state = phoneState(treated);
  if (state.card) Object.assign(state.card, { image: card, region: change.region ?? state.card.region });
  return { sheet: sheetOf(treated, wayTo(treated.plan, "folio9-card-10")), state };
}

const held = (sheet: Runbook, first: number, second: number): Runbook => ({
  ...sheet,
  steps: sheet.steps.map((s): Step => {
    if (s.deed.kind !== "hands" || s.code !== "keys.card-update" || !s.deed.holds) return s;
    const [a, b] = s.deed.holds;
    return {
      ...s,
      deed: {
        ...s.deed,
        holds: [
          { ...a, seconds: first },
          { ...b, seconds: second },
        ],
      },
    };
  }),
});

test.describe("card update", () => {
  test("the script makes the card, mdir agrees, the tablet reads it; also on one that no longer starts", async () => {
    const card = newCard();
    const { sheet, state } = byCard(card);
    expect(sheet.steps.some((s) => s.code.startsWith("android.enable-debugging"))).toBe(false);
    const run = await runScript(writeScript(sheet), state, undefined, { CARD: card });
    expect(run.stderr).toBe("");
    expect(run.report).toMatchObject({ boots: true, image: "folio9-card-10", release: "10", storage: "clean" });
    const listed = execFileSync("mdir", ["-b", "-s", "-i", card, "::/"], { encoding: "utf8" });
    expect(listed).toContain("::/dload9/update.bin");
    expect(rootFolders(card)).toEqual(["dload9"]);

    const broken = byCard(newCard());
    broken.state.partitions.system = null;
    broken.state.mode = "bootloop";
    const from = broken.sheet.steps.findIndex((s) => s.code.startsWith("gate.card"));
    const short = { ...broken.sheet, steps: broken.sheet.steps.slice(from) };
    const again = await runScript(writeScript(short), broken.state, undefined, {
      CARD: broken.state.card?.image ?? "",
    });
    expect(again.report).toMatchObject({ boots: true, image: "folio9-card-10" });
  });

  test("the folder nested one level too deep, or the zip itself: nothing is found", async () => {
    for (const nested of [true, false]) {
      const card = newCard();
      const zip = path.join(standInFolder(), "folio9-card-10", "folio9-card-10.zip");
      const from = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-nested-"));
      if (nested) execFileSync("unzip", ["-q", zip, "-d", from]);
      else fs.copyFileSync(zip, path.join(from, "update.zip"));
      for (const name of fs.readdirSync(from)) execFileSync("mcopy", ["-s", "-i", card, path.join(from, name), "::/"]);
      const { sheet, state } = byCard(card);
      const careless = { ...sheet, steps: sheet.steps.filter((s) => !s.code.startsWith("gate.card")) };
      const run = await runScript(writeScript(careless), state);
      expect(run.stderr).toContain("no update is found on the card");
      expect(run.report.image).not.toBe("folio9-card-10");
    }
  });

  test("a card of 16 GB, keys off too early, the other region's package: no percentage shows", async () => {
    const large = newCard(16_000_000_000);
    const first = byCard(large);
    const run = await runScript(writeScript(first.sheet), first.state, undefined, { CARD: large });
    expect(run.stderr).toContain("too large for this device");
    const card = newCard();
    const early = byCard(card);
    const run2 = await runScript(writeScript(held(early.sheet, 10, 2)), early.state, undefined, { CARD: card });
    expect(run2.stderr).toContain("the keys came off too early");
    const other = newCard();
    const abroad = byCard(other, { region: "APC" });
    const run3 = await runScript(writeScript(abroad.sheet), abroad.state, undefined, { CARD: other });
    expect(run3.stderr).toContain("the update is for region EEA");
  });

  test("a card that holds the folder already, or no card at all, stops before anything is done", async () => {
    const folder = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-mounted-"));
    fs.mkdirSync(path.join(folder, "dload9"));
    const { sheet, state } = byCard(newCard());
    const run = await runScript(writeScript(sheet), state, undefined, { CARD: folder });
    expect(run.stderr).toContain("holds a folder dload9 already");
    const none = await runScript(writeScript(sheet), state, undefined, { CARD: path.join(folder, "nowhere") });
    expect(none.stderr).toContain("There is no card at");
  });
});

test.describe("the maker's script", () => {
  test("its lines become steps for the real client; the locking variant and another region's are refused", async () => {
    const treated = treat("SF-45");
    const sheet = sheetOf(
      treated,
      wayTo(treated.plan, "lorne3-stock-10", (w) => w.operations.some((o) => o.kind === "run-maker-script")),
    );
    const run = await runScript(writeScript(sheet), phoneState(treated));
    expect(run.stderr).toBe("");
    expect(run.report).toMatchObject({
      boots: true,
      image: "lorne3-stock-10",
      bootloader: "unlocked",
      storage: "clean",
    });
    const codes = new Map(treated.plan.stops.map((s) => [s.image, s.code]));
    expect(codes.get("lorne3-stock-10-locking")).toBe("script.locks");
    expect(codes.get("lorne3-stock-10-inland")).toBe("stock.other-region");
  });
});

test.describe("another model's system", () => {
  const toPort = () => {
    const treated = treat("SF-45");
    return { treated, sheet: sheetOf(treated, wayTo(treated.plan, "vista-port-13-lorne")), state: phoneState(treated) };
  };

  test("on its exact base, both packages queued; it names itself the other model afterwards", async () => {
    const { sheet, state } = toPort();
    const run = await runScript(writeScript(sheet), state);
    expect(run.stderr).toBe("");
    expect(run.report).toMatchObject({ boots: true, image: "vista-port-13-lorne", release: "13", storage: "clean" });
    expect(sheet.steps.at(-1)?.says).toContain("It names itself Vista 20 (VK-V201)");
    expect(sheet.cautions.join()).toContain("fingerprint may never work");
  });

  test("the second package forgotten: it does not start; another base: error 7", async () => {
    const { sheet, state } = toPort();
    const [, second] = catalogue.images.find((i) => i.id === "vista-port-13-lorne")?.files ?? [];
    const forgot = { ...sheet, steps: sheet.steps.filter((s) => !s.code.includes(second.name)) };
    expect(forgot.steps).toHaveLength(sheet.steps.length - 1);
    const run = await runScript(writeScript(forgot), state);
    expect(run.report.boots).toBe(false);
    expect(run.report.trail.join()).toContain("vendor package was not installed");

    const other = toPort();
    const from = other.sheet.steps.findIndex((s) => s.code.startsWith("fastboot.flash-radio"));
    const to = other.sheet.steps.findIndex((s) => s.code.startsWith("fastboot.flash-recovery-recovery.img#2"));
    expect(from).toBeGreaterThan(0);
    expect(to).toBeGreaterThan(from);
    const skipped = { ...other.sheet, steps: other.sheet.steps.filter((_s, i) => i < from || i >= to) };
    const refused = await runScript(writeScript(skipped), other.state);
    expect(refused.stderr).toContain("Error 7: it needs BL10-QZ9A.200801.005.EEA under it");
  });
});
