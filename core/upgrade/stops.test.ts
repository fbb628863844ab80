import type { FactKey, FactValue } from "~/core/device/fact";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import { makeCatalogue, makeFacts, makeImage, makeModel } from "~/testing/catalogueEntries";
import { indexCatalogue } from "./catalogueIndex";
import { search } from "./search";
import { planDeviceOf } from "./state";
import { isSystemKind, Stops } from "./stops";

const FACTS: Partial<Record<FactKey, FactValue>> = {
  "model.number": "N-m",
  "android.release": "9",
  "build.number": "B0",
  "firmware.version": "F1",
  "system.kind": "stock",
  "bootloader.locked": true,
};

function why(
  target: ReturnType<typeof makeImage>,
  options: {
    model?: object;
    others?: ReturnType<typeof makeImage>[];
    facts?: Partial<Record<FactKey, FactValue>>;
  } = {},
) {
  const model = makeModel({ id: "m", ...options.model });
  const index = indexCatalogue(makeCatalogue({ models: [model], images: [target, ...(options.others ?? [])] }));
  const device = planDeviceOf(model, makeFacts({ ...FACTS, ...options.facts }));
  const world = { device, index, policy: DEFAULT_POLICY };
  const entry = index.images.get(target.id);
  if (!entry) throw new Error(target.id);
  return new Stops(search(world).paths, world).of(entry);
}

const rom = (over = {}) => makeImage({ id: "rom", kind: "rom", models: ["m"], installs: "packages", ...over }, 33);
const recovery = (over = {}) =>
  makeImage(
    {
      id: "rec",
      kind: "recovery",
      models: ["m"],
      flavour: "custom",
      version: "3.7",
      files: [{ name: "r.img", partition: "recovery", bytes: 1_000_000 }],
      ...over,
    },
    30,
  );

test("behind a locked bootloader stands why it can't be unlocked", () => {
  const stop = why(rom(), {
    model: { unlock: { possible: false, says: "The maker gives out no permission" } },
    others: [recovery()],
  });
  expect(stop).toMatchObject({ image: "rom", code: "unlock.impossible" });
  expect(stop.says).toContain("The maker gives out no permission");
});

test("no recovery at all is told as that", () => {
  expect(why(rom())).toMatchObject({ code: "recovery.missing" });
});

test("behind a missing recovery stands why the one there is can't be had", () => {
  expect(
    why(rom(), { others: [recovery({ withdrawn: { on: "2025-01-01", says: "it bricks", successor: null } })] }).says,
  ).toContain("it bricks");
});

test("firmware that nothing brings is told with both versions", () => {
  const stop = why(rom({ needs: { firmwareFrom: "F3" } }), { others: [recovery()] });
  expect(stop).toMatchObject({ code: "firmware.too-old" });
  expect(stop.says).toContain("F3");
  expect(stop.says).toContain("F1");
});

test("a generic image without the verification file of the build", () => {
  const gsi = makeImage({ id: "g", kind: "gsi", cpu: "arm64" }, 33);
  const other = makeImage({ id: "v", kind: "verification", models: ["m"], build: "B7" }, 28);
  expect(why(gsi)).toMatchObject({ code: "verification.missing" });
  const stop = why(gsi, { others: [other] });
  expect(stop).toMatchObject({ code: "verification.other-build" });
  expect(stop.says).toContain("B7");
});

test("a lasting reason comes before any other", () => {
  expect(why(rom({ withdrawn: { on: "2025-01-01", says: "it loses the radio", successor: null } }))).toMatchObject({
    code: "image.withdrawn",
  });
  expect(why(makeImage({ id: "g", kind: "gsi", cpu: "arm" }, 33))).toMatchObject({ code: "image.cpu" });
});

test("what runs already is not needed", () => {
  expect(
    why(makeImage({ id: "u", kind: "official-update", models: ["m"], build: "B0", firmware: "F1" }, 28)),
  ).toMatchObject({ code: "image.not-needed" });
});

test("companions are no systems", () => {
  expect(["official-update", "stock", "rom", "gsi"].every((k) => isSystemKind(k as "rom"))).toBe(true);
  expect(["recovery", "services", "verification", "firmware-pack"].some((k) => isSystemKind(k as "rom"))).toBe(false);
});
