import { actOnDevice } from "~/app/routes/device/all/act";
import { demoCopy } from "~/demo/demoCopy";
import type { Store } from "~/store/database";
import { findStanding, type Standing } from "~/store/devices";
import { takeReadOut } from "./takeReadOut";
import { whoElseHas } from "./whoElse";

const hand = { by: "Aleena Dorr", at: "2026-11-25T10:00:00.000Z" };
const standing = (store: Store, tag: string): Standing => findStanding(store, tag) as Standing;

// In the demo: TH-001 with VKA1000101 is here, TH-020 with ONT0000120 was handed over.
const type = (store: Store, tag: string, fields: Record<string, string>) => {
  const { version, donor, need, imei, serial } = standing(store, tag);
  const data = new FormData();
  const now = {
    form: "details",
    version: `${version}`,
    donor,
    need: need ?? "",
    imei: imei ?? "",
    serial: serial ?? "",
  };
  for (const [k, v] of Object.entries({ ...now, ...fields })) data.set(k, v);
  return actOnDevice(store, new Request("http://x/"), tag, data);
};

test.each(["VKA1000101", "vka-1000 101", "S/N: VKA 1000101"])(
  "a number of a device that is here is refused however it is typed: %s",
  (serial) => {
    const store = demoCopy();
    expect(type(store, "TH-003", { serial })).toMatchObject({
      ok: false,
      says: expect.stringContaining("belongs to TH-001, which is here"),
      kept: { serial },
    });
    expect(standing(store, "TH-003").serial).not.toBe("VKA1000101");
  },
);

test("a number of one that has left makes it a returning device", () => {
  const store = demoCopy();
  expect(type(store, "TH-003", { serial: "ont-0000 120" })).toMatchObject({ ok: true });
  expect(standing(store, "TH-003")).toMatchObject({ serial: "ont0000120", returns: standing(store, "TH-020").id });
});

test("one that ended has left too", () => {
  const store = demoCopy();
  const end = new FormData();
  for (const [k, v] of Object.entries({ form: "end", result: "recycling", reason: "its board is broken" }))
    end.set(k, v);
  expect(actOnDevice(store, new Request("http://x/"), "TH-001", end).ok).toBe(true);
  expect(whoElseHas(store, { serial: "VKA1000101" }, null)).toMatchObject({ is: "left", earlier: { tag: "TH-001" } });
});

test("its own number in another spelling is nobody else's, and what is no number is none", () => {
  const store = demoCopy();
  expect(type(store, "TH-001", { serial: "vka 1000-101" })).toMatchObject({ ok: true });
  expect(standing(store, "TH-001")).toMatchObject({ serial: "vka1000101", returns: null });
  expect(type(store, "TH-001", { serial: "n/a" })).toMatchObject({ ok: true });
  expect(standing(store, "TH-001").serial).toBeNull();
});

test("a read-out with the number of a device that is here is of that device, and nothing of it is kept", () => {
  const store = demoCopy();
  expect(type(store, "TH-003", { serial: "" }).ok).toBe(true);
  const text = "[ro.serialno]: [VKA1000101]\n[ro.build.version.release]: [9]";
  expect(takeReadOut(store, standing(store, "TH-003"), text, hand)).toMatch(/belongs to TH-001.*Nothing was saved/);
  expect(standing(store, "TH-003").serial).toBeNull();
  expect(takeReadOut(store, standing(store, "TH-003"), text.replace("VKA1000101", "ONT0000120"), hand)).toBeNull();
  expect(standing(store, "TH-003").returns).toBe(standing(store, "TH-020").id);
});
