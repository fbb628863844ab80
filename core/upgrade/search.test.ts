import { DEFAULT_POLICY } from "~/core/policy/policy";
import type { OperationCost } from "~/core/ways/operation";
import { makeCatalogue, makeFacts, makeImage, makeModel } from "~/testing/catalogueEntries";
import { indexCatalogue } from "./catalogueIndex";
import { operationsOf, type PlannedOperation, search, type Taught } from "./search";
import { planDeviceOf } from "./state";

const model = makeModel({ id: "m" });
const RECOVERY = [{ name: "r.img", partition: "recovery", bytes: 30_000_000 }];
const pack = (id: string, firmware: string) => makeImage({ id, kind: "firmware-pack", models: ["m"], firmware }, 28);
const index = indexCatalogue(
  makeCatalogue({
    models: [model],
    images: [
      ...["one", "other"].map((id) =>
        makeImage({ id, kind: "recovery", models: ["m"], flavour: "custom", files: RECOVERY }, 33),
      ),
      makeImage({ id: "rom", kind: "rom", models: ["m"], installs: "packages" }, 33),
      makeImage({ id: "late", kind: "rom", models: ["m"], installs: "packages", needs: { firmwareFrom: "F3" } }, 33),
      pack("to-f2", "F2"),
      pack("to-f3", "F3"),
    ],
  }),
);
const device = planDeviceOf(
  model,
  makeFacts({
    "model.number": "N-m",
    "android.release": "9",
    "build.number": "B1",
    "firmware.version": "F1",
    "system.kind": "stock",
    "bootloader.locked": false,
    "recovery.image": "stock",
    "verification.off": false,
    "accounts.on": false,
  }),
);

/** Ways to a system, as they are written down; own runs tell what the steps cost. */
function waysTo(rom: string, costs: Readonly<Record<string, Partial<OperationCost>>> = {}): string[] {
  const cost = ({ image }: PlannedOperation, usual: OperationCost) => ({ ...usual, ...costs[image ?? ""] });
  const taught: Taught = { cost, learned: () => null };
  const { paths } = search({ device, index, policy: DEFAULT_POLICY, taught });
  return paths
    .map((path) => operationsOf(path).map(({ kind, image }) => image ?? kind))
    .filter((way) => way.at(-1) === rom)
    .map((way) => way.join(" > "));
}

const BASE = { handsOn: 5, unattended: 5, waitingDays: 0, wipes: 0, irreversible: [], failure: 0.05 };
const MORE: Partial<OperationCost> = {
  handsOn: 9,
  unattended: 9,
  waitingDays: 2,
  wipes: 1,
  irreversible: ["a fuse"],
  failure: 0.2,
};
const KEYS = Object.keys(MORE) as (keyof OperationCost)[];

describe("of two ways to the same state", () => {
  test.each(KEYS)("the one that takes more and brings nothing is dropped: %s", (key) => {
    const costs = { one: BASE, other: { ...BASE, [key]: MORE[key] } };
    expect(waysTo("rom", costs)).toEqual(["one > rom"]);
    expect(waysTo("rom", { one: costs.other, other: BASE })).toEqual(["other > rom"]);
  });

  const pairs = KEYS.flatMap((a) => KEYS.filter((b) => b !== a).map((b) => [a, b] as const));
  test.each(pairs)("both stay where the one takes more %s, the other more %s", (a, b) => {
    const costs = { one: { ...BASE, [a]: MORE[a] }, other: { ...BASE, [b]: MORE[b] } };
    expect(waysTo("rom", costs).sort()).toEqual(["one > rom", "other > rom"]);
  });

  test("equal in everything: one of them", () => {
    expect(waysTo("rom", { one: BASE, other: BASE })).toHaveLength(1);
  });
});

test("packs that bring other firmware lead to other states, however cheap the one is", () => {
  const dear = { "to-f3": { handsOn: 50 }, one: BASE, other: { ...BASE, handsOn: 9 } };
  expect(waysTo("late", dear)).toEqual(["one > to-f3 > late"]);
});
