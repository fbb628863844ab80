import { DEFAULT_POLICY } from "~/core/policy/policy";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { initialState, planDeviceOf } from "~/core/upgrade/state";
import { operationOf } from "~/core/ways/registry";
import { makeCatalogue, makeFacts, makeModel } from "~/testing/catalogueEntries";

const model = makeModel({
  id: "m",
  logical: true,
  userspaceFastboot: true,
  room: { system: 1_500_000_000, product: 900_000_000, recovery: 67_108_864 },
});
const index = indexCatalogue(makeCatalogue({ models: [model] }));

test("what could be unlocked was locked, and so the maker's own in every part: nothing of that is asked behind it", () => {
  const device = planDeviceOf(model, makeFacts({ "model.number": "N-m", "system.kind": "stock" }));
  const before = initialState(device, index);
  const PARTS = ["bootloader.locked", "recovery.image", "verification.off", "product.removed"] as const;
  expect(before.assumed).toEqual(expect.arrayContaining([...PARTS, "build.number", "android.release"]));
  const behind = operationOf("unlock").bind(null, { device, index, policy: DEFAULT_POLICY })?.apply(before);
  expect(behind).toMatchObject({ locked: false, storage: "clean", whole: false });
  expect(behind?.assumed).toEqual(before.assumed.filter((key) => !PARTS.some((part) => part === key)));
});
