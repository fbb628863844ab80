import { after, settled } from "~/core/upgrade/state";
import { bringsNoDanger, noRollback, notWithdrawn, suitsModel, systemStarts } from "../common/rules";
import { failureOf, imageOperation, type WayFamily } from "../operation";
import { stockRuns, updateFollows, updatesComeFirst, whollyStockOrLocked } from "./rules";

const takeUpdate = imageOperation("take-update", "official-update", {
  says: "Take the official update",
  installs: "stock",
  next: "any",
  withoutComputer: true,
  settles: ["firmware.too-old", "firmware.dangerous"],
  needs: [
    suitsModel,
    notWithdrawn,
    bringsNoDanger,
    stockRuns,
    systemStarts,
    whollyStockOrLocked,
    updatesComeFirst,
    noRollback,
    updateFollows,
  ],
  apply: (s, { image, api }) => {
    const told = image.build !== null;
    const assumed = settled(s.assumed, ["build.number", ...(image.firmware ? (["firmware.version"] as const) : [])]);
    return after(s, {
      image: image.id,
      api,
      baseApi: api,
      baseBuild: image.build,
      patch: image.patch,
      basePatch: image.patch,
      firmware: image.firmware ?? s.firmware,
      // It went online to fetch it: the workshop's Wi-Fi is on it.
      storage: s.storage === "clean" ? "workshop" : s.storage,
      // A build that nobody recorded is read afterwards.
      assumed: told ? assumed : [...assumed, "build.number"],
    });
  },
  // Download, verify, restart and optimise: 20 min plus the bytes over a shared line of about 2 MB/s.
  cost: (e) => ({ handsOn: 3, unattended: 20 + e.bytes / 2_000_000 / 60, failure: failureOf(e, 0.02) }),
  steps: ({ bench, build, slot }, { image }) => {
    bench.hands(`android.take-update.${image.id}`, {
      title: `Take the official update to Android ${image.release}`,
      says: "Wi-Fi on, charger in. Settings, System, System update. Let it download, install and restart. Then look that the new version shows.",
      normal: `Settings shows Android ${image.release}${image.build ? `, build ${image.build}` : ""}`,
      otherwise:
        "If no update is offered, correct date and time, restart, look again. If it fails twice, stop and note the message",
      usual: 1800,
      latest: 5400,
      neededBy: "everything that must match the build number",
    });
    bench.updatesOff();
    build.current = image.build;
    slot.current = null;
  },
});

/** A: the maker's own update over the air. */
export const officialUpdate = {
  id: "official-update",
  says: "Official update",
  operations: [takeUpdate],
  hands: ["android.take-update.", "android.updates-off"],
} as const satisfies WayFamily;
