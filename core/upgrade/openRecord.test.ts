import { OPEN_FACTS, OPEN_PARTS, type OpenPart } from "~/core/catalogue/model";
import type { FactKey, FactValue } from "~/core/device/fact";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import { makeCatalogue, makeFacts, makeImage, makeModel, makeNeed } from "~/testing/catalogueEntries";
import { indexCatalogue } from "./catalogueIndex";
import { planDevice } from "./plan";

// A model of which nobody knows everything: what is open is asked on the device, and counts for neither yes nor no.
const GIB = 1_073_741_824;
const KNOWN: Readonly<Record<string, FactValue>> = {
  "model.number": "N-m",
  "android.release": "9",
  "build.number": "B1",
  "system.kind": "stock",
  "bootloader.locked": true,
  "boot.state": "green",
  "unlock.granted": true,
  "firmware.version": "F1",
};

function plan(open: readonly OpenPart[], more: Readonly<Record<string, FactValue>> = {}, hardware: "camera"[] = []) {
  const model = makeModel({
    id: "m",
    launchApi: 28,
    open: [...open],
    room: { system: 3 * GIB, product: null, recovery: null },
  });
  const generic = makeImage({ id: "g", kind: "gsi", cpu: "arm64", services: true }, 33);
  const pack = makeImage({ id: "v", kind: "verification", models: ["m"], build: "B1" }, 28);
  const need = makeNeed({ id: "n", apps: [{ name: "A", minApi: 33 }], hardware });
  const index = indexCatalogue(makeCatalogue({ models: [model], images: [generic, pack], needs: [need] }));
  return planDevice(
    { facts: makeFacts({ ...KNOWN, ...more }), clearance: "confirmed-clear", need },
    index,
    DEFAULT_POLICY,
  );
}
const openAsked = (planned: ReturnType<typeof plan>): FactKey[] =>
  planned.questions.filter((q) => q.code === "model.open").map((q) => q.fact);

test("with everything on record it goes, and nothing of the record is asked", () => {
  const planned = plan([]);
  expect(planned.best?.image).toBe("g");
  expect(openAsked(planned)).toEqual([]);
});

test.each(OPEN_PARTS.filter((p) => p !== "hardware"))("%s open: the way is there and asks for it", (part) => {
  const planned = plan([part]);
  expect(planned.verdict).toBe("check-first");
  expect(planned.ways.some((w) => w.image === "g")).toBe(true);
  expect(openAsked(planned)).toContain(OPEN_FACTS[part]);
});

test.each<[OpenPart, FactKey, FactValue, boolean]>([
  ["treble", "treble.supported", true, true],
  ["treble", "treble.supported", false, false],
  ["unlock", "unlock.ability", true, true],
  ["unlock", "unlock.ability", false, false],
  ["room", "room.system", 3 * GIB, true],
  ["room", "room.system", 1_000_000, false],
  ["cpu", "cpu.arch", "arm64", true],
])("%s read as %s %j: asked no more, and it decides", (part, fact, value, goes) => {
  const planned = plan([part], { [fact]: value });
  expect(openAsked(planned)).not.toContain(fact);
  expect(planned.ways.some((w) => w.image === "g")).toBe(goes);
});

test("hardware nobody looked at is neither there nor missing: a group that needs a camera asks, another does not", () => {
  expect(openAsked(plan(["hardware"]))).toEqual([]);
  expect(openAsked(plan(["hardware"], {}, ["camera"]))).toEqual(["hardware.broken"]);
  expect(openAsked(plan(["hardware"], { "hardware.broken": "none" }, ["camera"]))).toEqual([]);
  expect(plan(["hardware"], { "hardware.broken": "camera" }, ["camera"]).best).toBeNull();
});

test("what is done on the device alone asks for nothing of the record", () => {
  const model = makeModel({ id: "m", launchApi: 28, open: [...OPEN_PARTS] });
  const need = makeNeed({ id: "n", apps: [{ name: "A", minApi: 28 }], hardware: [] });
  const index = indexCatalogue(makeCatalogue({ models: [model], images: [], needs: [need] }));
  const planned = planDevice({ facts: makeFacts(KNOWN), clearance: "confirmed-clear", need }, index, DEFAULT_POLICY);
  expect(planned.questions).toEqual([]);
  expect(planned.verdict).toBe("good-enough");
});

test("a boot state read as green says whose system runs (AOSP, Verified Boot); orange says nothing of it", () => {
  const { "system.kind": _, ...rest } = KNOWN;
  const asks = (state: string) => {
    const model = makeModel({ id: "m", launchApi: 28 });
    const need = makeNeed({ id: "n", apps: [{ name: "A", minApi: 28 }] });
    const index = indexCatalogue(makeCatalogue({ models: [model], images: [], needs: [need] }));
    const facts = makeFacts({ ...rest, "boot.state": state });
    return planDevice({ facts, clearance: "confirmed-clear", need }, index, DEFAULT_POLICY).questions.map(
      (q) => q.fact,
    );
  };
  expect(asks("green")).not.toContain("system.kind");
  expect(asks("orange")).toContain("system.kind");
});
