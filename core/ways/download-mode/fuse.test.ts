import { DEFAULT_POLICY } from "~/core/policy/policy";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { planDeviceOf } from "~/core/upgrade/state";
import { operationOf } from "~/core/ways/registry";
import { makeCatalogue, makeFacts, makeImage, makeModel } from "~/testing/catalogueEntries";

/** What the first foreign recovery leaves for good on a model with such a fuse, and on a device of which this is known. */
function leftForGood(fuse: string | null, blown: boolean | null): readonly string[] | undefined {
  const download = { edition: "five-slots", enter: "hold both", ...(fuse && { fuse }) };
  const model = makeModel({ id: "m", flash: "download-mode", download });
  const facts = makeFacts({ "model.number": "N-m", ...(blown === null ? {} : { "fuse.blown": blown }) });
  const recovery = makeImage({ id: "r", kind: "recovery", models: ["m"], flavour: "custom" }, 30);
  const index = indexCatalogue(makeCatalogue({ models: [model], images: [recovery] }));
  const bound = operationOf("write-recovery").bind(index.images.get("r") ?? null, {
    device: planDeviceOf(model, facts),
    index,
    policy: DEFAULT_POLICY,
  });
  return bound?.cost.irreversible;
}

test("a fuse is blown for good, once: not where it is blown already, and not where the model has none", () => {
  expect(leftForGood("pay by phone goes for ever", null)).toEqual(["pay by phone goes for ever"]);
  expect(leftForGood("pay by phone goes for ever", false)).toEqual(["pay by phone goes for ever"]);
  expect(leftForGood("pay by phone goes for ever", true)).toEqual([]);
  expect(leftForGood(null, null)).toEqual([]);
  expect(leftForGood(null, false)).toEqual([]);
});
