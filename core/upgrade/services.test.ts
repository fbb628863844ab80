import type { Image } from "~/core/catalogue/image";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import { makeCatalogue, makeFacts, makeImage, makeModel, makeNeed } from "~/testing/catalogueEntries";
import { indexCatalogue } from "./catalogueIndex";
import { planDevice } from "./plan";

type Over = Partial<Record<Exclude<keyof Image, "id" | "kind">, unknown>>;
const GONE = { withdrawn: { on: "2025-01-01", says: "it never starts", successor: null } };

/**
 * How the ROM is reached by somebody whose app wants the services: with the add-on, bare where there is none for it, or not.
 *
 * @param addOn the only one in the catalogue
 */
function reached(addOn: { over?: Over; api?: number; trouble?: boolean } | null, rom: Over = {}) {
  const model = makeModel({ id: "m", cpu: "arm64" });
  const images = [
    makeImage(
      {
        ...{ id: "rec", kind: "recovery", models: ["m"], flavour: "custom" },
        files: [{ name: "r.img", partition: "recovery", bytes: 1000, expanded: null }],
      },
      34,
    ),
    makeImage({ id: "rom", kind: "rom", models: ["m"], installs: "packages", services: false, ...rom }, 34),
    ...(addOn ? [makeImage({ id: "add", kind: "services", models: [], ...addOn.over }, addOn.api ?? 34)] : []),
  ];
  const incompatible = addOn?.trouble
    ? [{ a: "add", b: "rom", says: "it hangs at the start", source: "bench", on: "2025-01-01" }]
    : [];
  const need = makeNeed({ apps: [{ name: "Shop", minApi: 29, services: true }] });
  const facts = makeFacts({
    "model.number": "N-m",
    "android.release": "11",
    "build.number": "B11",
    "system.kind": "stock",
    "bootloader.locked": false,
    "recovery.image": "stock",
    "verification.off": true,
    "storage.state": "donor",
  });
  const index = indexCatalogue(makeCatalogue({ models: [model], images, incompatible }));
  const ways = planDevice({ facts, clearance: "confirmed-clear", need }, index, DEFAULT_POLICY).ways.filter(
    (way) => way.image === "rom",
  );
  const isWith = (way: (typeof ways)[number]) => way.operations.some((o) => o.image === "add");
  if (ways.length === 0) return "not";
  return ways.every(isWith) ? "with it" : ways.some(isWith) ? "both" : "bare";
}

test.each<[string, Parameters<typeof reached>[0], string]>([
  ["an add-on for it: with that", {}, "with it"],
  ["one for its processor", { over: { cpu: "arm64" } }, "with it"],
  ["none: bare, and the need is told that it does not run", null, "bare"],
  ["one for another processor is none", { over: { cpu: "arm" } }, "bare"],
  ["a withdrawn one is none", { over: GONE }, "bare"],
  ["one of another release is none", { api: 33 }, "bare"],
  ["one that is known to fail with it is none", { trouble: true }, "bare"],
])("%s", (_what, addOn, wanted) => expect(reached(addOn)).toBe(wanted));

test("a ROM that has the services wants no add-on", () => expect(reached({}, { services: true })).toBe("bare"));
