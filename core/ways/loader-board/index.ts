import { apiOf } from "~/core/android/releases";
import { lookUp } from "~/core/device/lookUp";
import { after, settled } from "~/core/upgrade/state";
import { bringsNoDanger, noRollback, notWithdrawn, signedOut, suitsModel, through } from "../common/rules";
import { failureOf, imageOperation, operation, type WayFamily, writeMinutes } from "../operation";
import { behindStock, notWholeCaution } from "../stock-package/behindStock";
import { modelNumberFits, regionFits, writable, writtenBy } from "../stock-package/rules";
import { chipIsThis, loaderRecorded, madeForChip, rowsForAll, wasDumped } from "./rules";
import { restoreBoardSteps, writeRowsSteps } from "./steps";

const throughLoader = through("loader");

const writeRows = imageOperation("write-rows", "stock", {
  says: "Write the stock package row by row, through the loader",
  installs: "stock",
  next: ["start-and-check"],
  settles: ["firmware.too-old", "firmware.dangerous"],
  needs: [
    suitsModel,
    notWithdrawn,
    throughLoader,
    writtenBy("rows"),
    loaderRecorded,
    chipIsThis,
    madeForChip,
    writable,
    rowsForAll,
    regionFits,
    modelNumberFits,
    bringsNoDanger,
    signedOut,
    noRollback,
  ],
  apply: behindStock,
  cost: (e, d) => ({
    handsOn: 12,
    unattended: Math.max(5, writeMinutes(e.expanded, d)),
    failure: failureOf(e, 0.06),
    wipes: 1,
  }),
  caution: notWholeCaution,
  steps: writeRowsSteps,
});

const restoreBoard = operation("restore-board", {
  says: "Give the board its own dump back",
  installs: "stock",
  next: ["start-and-check"],
  needs: [throughLoader, loaderRecorded, chipIsThis, wasDumped, signedOut],
  apply: (s, _e, { facts }) => {
    const release = lookUp(facts, "board.dumped-release");
    const api = release.isUnknown ? null : apiOf(release.value);
    return after(s, {
      system: "stock",
      image: null,
      api: api ?? s.baseApi,
      baseApi: api ?? s.baseApi,
      // What ran when it was dumped is read again when it has started.
      baseBuild: null,
      patch: null,
      basePatch: null,
      recovery: "stock",
      verification: "on",
      product: "present",
      services: null,
      storage: "clean",
      started: "fresh",
      whole: false,
      assumed: settled(s.assumed, ["system.kind", "android.release", "services.addon", "recovery.image"]),
    });
  },
  cost: () => ({ handsOn: 15, unattended: 10, failure: 0.12, wipes: 1 }),
  steps: restoreBoardSteps,
});

/** G: boxes and tablets whose board is written through its loader. */
export const loaderBoard = {
  id: "loader-board",
  says: "Loader board",
  operations: [writeRows, restoreBoard],
  hands: ["keys.loader", "check.chip", "loader.leave"],
} as const satisfies WayFamily;
