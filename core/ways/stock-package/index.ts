import { after } from "~/core/upgrade/state";
import {
  bootloaderUnlocked,
  bringsNoDanger,
  noRollback,
  notWithdrawn,
  signedOut,
  suitsModel,
  throughFastboot,
} from "../common/rules";
import { failureOf, imageOperation, operation, type WayFamily, writeMinutes } from "../operation";
import { freshStock, writable } from "./rules";
import { flashStockSteps, startAndCheckSteps } from "./steps";
import { missingParts } from "./wholeness";

const flashStock = imageOperation("flash-stock", "stock", {
  says: "Flash the stock package",
  installs: "stock",
  next: ["start-and-check", "flash-recovery", "flash-verification", "remove-product", "install-gsi"],
  settles: ["firmware.too-old", "firmware.dangerous", "downgrade.via-stock", "gsi.needs-stock-base"],
  needs: [
    suitsModel,
    notWithdrawn,
    throughFastboot,
    writable,
    bringsNoDanger,
    bootloaderUnlocked,
    signedOut,
    noRollback,
  ],
  apply: (s, { image, api }, { model }) => {
    const missing = missingParts(image, model);
    const wrote = (part: string) => !missing.includes(part);
    const untouched = (["recovery.image", "verification.off", "product.removed"] as const).filter(
      (_key, i) => !wrote(["recovery", "vbmeta", "product"][i]),
    );
    return after(s, {
      system: "stock",
      image: image.id,
      api,
      baseApi: api,
      baseBuild: image.build,
      patch: image.patch,
      basePatch: image.patch,
      firmware: image.firmware ?? s.firmware,
      recovery: wrote("recovery") ? "stock" : s.recovery,
      verification: wrote("vbmeta") ? "on" : s.verification,
      product: wrote("product") ? "present" : s.product,
      services: null,
      storage: "clean",
      started: "fresh",
      whole: missing.length === 0,
      assumed: s.assumed.filter((k) => (untouched as readonly string[]).includes(k) || !SETTLED.includes(k)),
    });
  },
  // The script's questions and look at the end, about five minutes of writing or what the write rate gives.
  cost: (e, d) => ({
    handsOn: 4,
    unattended: Math.max(5, writeMinutes(e.expanded, d)),
    failure: failureOf(e, 0.03),
    wipes: 1,
  }),
  caution: ({ image }, { model }) => {
    const missing = missingParts(image, model);
    return missing.length
      ? `The stock package “${image.title}” does not hold ${missing.join(", ")}: what is there stays, so the device is not wholly stock and is never locked behind it`
      : null;
  },
  steps: flashStockSteps,
});

const SETTLED: readonly string[] = [
  "build.number",
  "firmware.version",
  "system.kind",
  "android.release",
  "base.build",
  "base.release",
  "services.addon",
  "recovery.image",
  "verification.off",
  "product.removed",
];

const startAndCheck = operation("start-and-check", {
  says: "Start it and test Wi-Fi and mobile",
  next: ["relock", "take-update", "factory-reset"],
  needs: [freshStock],
  // The set-up was walked through: the workshop's Wi-Fi is on it until it is reset or locked.
  apply: (s) => after(s, { started: "running", storage: "workshop" }),
  cost: () => ({ handsOn: 6, unattended: 5, failure: 0.005 }),
  steps: startAndCheckSteps,
});

/** F: the maker's own package, written part by part. */
export const stockPackage = {
  id: "stock-package",
  says: "Maker's stock package",
  operations: [flashStock, startAndCheck],
  hands: ["check.started", "android.finish-setup", "keys.bootloader"],
} as const satisfies WayFamily;
