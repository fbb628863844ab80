import type { Hardware } from "~/core/catalogue/common";
import type { Way } from "~/core/upgrade/way";
import { makeModel, makeNeed } from "~/testing/catalogueEntries";
import { type Before, checkItems } from "./checkout";

const phone = makeModel({ id: "m", hardware: ["calls", "wifi", "camera", "mobile-data"] });
const tablet = makeModel({ id: "t", form: "tablet", hardware: ["wifi", "camera"] });
const need = makeNeed({ hardware: ["camera"] });

type Broken = readonly { hardware: Hardware; says: string }[];
const way = (faults: Broken = [], hardwareNot: Broken = []) =>
  ({ release: "13", patch: "2025-06-01", faults, fit: { hardwareNot } }) as unknown as Way;
const items = (of = phone, asked: typeof need | null = need, on = way(), before: Before = {}) =>
  new Map(checkItems(on, of, asked, before).map((item) => [item.item, item]));

const CALLS_ARE_DARK = [{ hardware: "calls" as const, says: "Nobody hears you" }];

test("a device that has no such part is not asked for it", () => {
  const asked = [...items(tablet, makeNeed({ hardware: ["camera", "fingerprint"] })).keys()];
  expect(asked).toContain("hardware.camera");
  expect(asked).not.toContain("hardware.fingerprint");
});

test("each part by its own words: a call is made, others are tried, what is known to be broken is told", () => {
  expect(items().get("hardware.calls")?.says).toBe("Make a call and hear both sides; never try an emergency number");
  expect(items().get("hardware.camera")?.says).toBe("Try it");
  const faulty = items(phone, need, way(CALLS_ARE_DARK));
  expect(faulty.get("hardware.calls")?.says).toBe("Known fault: Nobody hears you");
  expect(faulty.get("hardware.camera")?.says).toBe("Try it");
});

test("what the image is known to break is looked at, also where nobody asks for it", () => {
  const asked = items(phone, need, way([{ hardware: "mobile-data", says: "Slow" }]));
  expect(asked.get("hardware.mobile-data")).toMatchObject({ says: "Known fault: Slow", must: false });
  expect(items().has("hardware.mobile-data")).toBe(false);
});

test("what the need asks for must work, and the network that everything comes by; a call only where it is asked for", () => {
  const must = (asked: typeof need | null) =>
    [...items(phone, asked).values()].flatMap(({ item, must }) => (must && item.startsWith("hardware.") ? [item] : []));
  expect(must(need)).toEqual(["hardware.camera", "hardware.wifi"]);
  expect(must(null)).toEqual(["hardware.wifi"]);
  expect(must(makeNeed({ hardware: ["calls"] }))).toEqual(["hardware.calls", "hardware.wifi"]);
});

test("a phone shows the identity and the radio that it had; a tablet has none", () => {
  const before = { imeiEnd: "0147", baseband: "M7.2", serialEnd: "0006" };
  const told = items(phone, need, way(), before);
  expect(told.get("identity")?.says).toBe("Dial *#06#: it shows the same IMEI as before, ending 0147");
  expect(told.get("baseband")?.says).toContain("Before the run it was M7.2");
  expect(told.get("serial")?.says).toContain("ending 0006");
  for (const item of ["identity", "baseband", "serial"])
    expect(told.get(item)).toMatchObject({ must: true, expect: null });
  expect(items().get("identity")?.says).toContain("the one on the label");
  expect(items().get("baseband")?.says).not.toContain("Before the run");
  for (const item of ["identity", "baseband", "serial"]) expect(items(tablet).has(item)).toBe(false);
});

test("a phone without calls gets its label, whether the image breaks them or the device does", () => {
  const label = "label.not-a-phone";
  expect(items(phone, need, way(CALLS_ARE_DARK)).get(label)).toMatchObject({ must: true });
  expect(items(phone, need, way([], CALLS_ARE_DARK)).has(label)).toBe(true);
  expect(items(phone, need, way([{ hardware: "camera", says: "Dark" }])).has(label)).toBe(false);
  expect(items().has(label)).toBe(false);
  expect(items(tablet, need, way(CALLS_ARE_DARK)).has(label)).toBe(false);
});

test("the promise is held against what is there; only the patch may differ", () => {
  expect(items().get("release")).toMatchObject({ expect: "13", must: true });
  expect(items().get("patch")).toMatchObject({ expect: "2025-06-01", must: false });
  for (const item of ["account", "wiped", "reset"]) expect(items(tablet, null).get(item)?.must).toBe(true);
});
