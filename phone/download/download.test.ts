import { demoCatalogue } from "~/demo/catalogue";
import { readHolds } from "~/phone/acts";
import { phoneFromCatalogue } from "~/phone/fromCatalogue";
import { actByHand } from "~/phone/hands";
import { storageClosed } from "~/phone/recovery/hands";
import type { PhoneState } from "~/phone/state";
import { makeFacts } from "~/testing/catalogueEntries";

// What a phone with download mode does by itself; the sheets against it are in e2e/outside/download.spec.ts.
const catalogue = demoCatalogue();

function dale(kind: "script" | "wipe" = "script"): PhoneState {
  const model = catalogue.models.find((m) => m.id === "sarnholt-dale6");
  if (!model?.download) throw new Error("no model");
  const state = phoneFromCatalogue({
    tag: "x",
    serial: "S",
    model: { ...model, download: { ...model.download, encryption: kind } },
    facts: makeFacts({
      "build.number": "SD11-RZ9A.210701.004",
      "bootloader.locked": false,
      "recovery.image": "harbourlight-4-dale",
    }),
    images: catalogue.images,
  });
  state.mode = "recovery";
  return state;
}
const does = (state: PhoneState, ...codes: string[]) => codes.map((code) => actByHand(state, code));

test("encryption goes off only by the phone's own method, and storage opens only behind a restart of the recovery", () => {
  const opened = (kind: "script" | "wipe", ...codes: string[]) => {
    const state = dale(kind);
    does(state, ...codes, "recovery.format-data");
    expect(storageClosed(state)).toContain("has not restarted");
    does(state, "recovery.restart-recovery");
    return storageClosed(state) === null;
  };
  expect(opened("script", "recovery.encryption-off", "recovery.encryption-off")).toBe(true);
  expect(opened("script", "recovery.encryption-off")).toBe(false);
  expect(opened("script", "recovery.wipe-keys")).toBe(false);
  expect(opened("wipe", "recovery.wipe-keys")).toBe(true);
  expect(opened("wipe", "recovery.encryption-off", "recovery.encryption-off")).toBe(false);
});

test("keys are told with their seconds; what is no key is passed over", () => {
  expect(readHolds("volume-down_power:7,volume-up_power:7.5")).toEqual([
    { keys: ["power", "volume-down"], seconds: 7 },
    { keys: ["power", "volume-up"], seconds: 7.5 },
  ]);
  expect(readHolds("x:,<script>:3,:4")).toEqual([]);
  expect(readHolds(null)).toEqual([]);
});

test("unlocked and never seen greyed, it locks itself at the next start of the mode", () => {
  const state = dale();
  if (!state.download) throw new Error("no download mode");
  state.download.toggleSeen = false;
  expect(does(state, "keys.download")).toEqual([null]);
  expect(state.locked).toBe(true);
});
