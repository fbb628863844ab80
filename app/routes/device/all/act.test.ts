import { plannedDevice } from "~/app/server/planning/planning";
import { demoCopy } from "~/demo/demoCopy";
import type { Store } from "~/store/database";
import { findStanding } from "~/store/devices";
import { factsOf } from "~/store/facts";
import { actOnDevice } from "./act";
import { factLines, historyOf } from "./queries";

const demo = demoCopy;

const standing = (store: Store, tag: string) => {
  const found = findStanding(store, tag);
  if (!found) throw new Error(tag);
  return found;
};

describe("the device page's forms", () => {
  const act = (store: Store, tag: string, fields: Record<string, string>) => {
    const data = new FormData();
    for (const [k, v] of Object.entries(fields)) data.set(k, v);
    return actOnDevice(
      store,
      new Request("http://x/", { headers: { cookie: "upshift_person=Tomasz%20Wikk" } }),
      tag,
      data,
    );
  };

  test("a fact is written with its person; a bad one comes back with what was typed", () => {
    const store = demo();
    expect(act(store, "TH-022", { form: "fact", key: "build.number", value: "BT10-QZ9A.200905.001" })).toMatchObject({
      ok: true,
    });
    expect(factsOf(store, standing(store, "TH-022").id).at(-1)).toMatchObject({
      value: "BT10-QZ9A.200905.001",
      by: "Tomasz Wikk",
      source: "typed",
    });
    expect(act(store, "TH-022", { form: "fact", key: "battery.percent", value: "300" })).toMatchObject({
      ok: false,
      kept: { value: "300" },
    });
    expect(act(store, "TH-022", { form: "fact", key: "nonsense", value: "1" })).toMatchObject({ ok: false });
    expect(act(store, "TH-022", { form: "something" })).toMatchObject({ ok: false });
  });

  test("a read-out fills an empty serial number, and never another's", () => {
    const store = demo();
    expect(
      act(store, "TH-012", {
        form: "read-out",
        text: "[ro.serialno]: [NEW1]\n[ro.product.model]: [HN5-EU]\n[ro.product.device]: [hazel]",
      }),
    ).toMatchObject({ ok: true });
    expect(standing(store, "TH-012").serial).toBe("NEW1");
    expect(plannedDevice(store, standing(store, "TH-012")).model?.id).toBe("halvik-note5-hazel");
    expect(
      act(store, "TH-012", { form: "read-out", text: "[ro.serialno]: [NEW2]\n[ro.product.model]: [HN5-EU]" }),
    ).toMatchObject({ ok: false, says: expect.stringContaining("another device") });
  });

  test("details: a wrong IMEI digit is refused", () => {
    const store = demo();
    const { version } = standing(store, "TH-026");
    const fields = {
      form: "details",
      donor: "Desk",
      need: "messaging-phone",
      serial: "VKA1000126",
      version: String(version),
    };
    expect(act(store, "TH-026", { ...fields, imei: "490154203237515" })).toMatchObject({
      ok: false,
      says: expect.stringContaining("should be 8"),
    });
    expect(act(store, "TH-026", { ...fields, imei: "490154203237518" })).toMatchObject({ ok: true });
    expect(historyOf(store, standing(store, "TH-026").id, true)[0].says).toBe("Details changed");
  });
});

describe("undo on the device page", () => {
  const form = (entries: Record<string, string>) => {
    const data = new FormData();
    for (const [k, v] of Object.entries(entries)) data.set(k, v);
    return data;
  };
  const act = (store: Store, tag: string, entries: Record<string, string>) =>
    actOnDevice(store, new Request("http://x/"), tag, form(entries));

  test("facts written together are taken back together: they stay in the history and count for nothing", () => {
    const store = demo();
    const id = standing(store, "TH-001").id;
    const before = plannedDevice(store, standing(store, "TH-001")).plan;
    expect(act(store, "TH-001", { form: "fact", key: "system.kind", value: "custom" }).ok).toBe(true);
    expect(plannedDevice(store, standing(store, "TH-001")).plan).not.toEqual(before);
    const line = historyOf(store, id, true).find((h) => h.undo && h.says.includes("running system custom"));
    if (!line?.undo) throw new Error("no line to undo");
    const undo = { form: "undo-facts", at: line.at, by: line.by, source: line.undo };
    expect(act(store, "TH-001", undo)).toMatchObject({ ok: true });
    expect(plannedDevice(store, standing(store, "TH-001")).plan).toEqual(before);
    expect(act(store, "TH-001", undo)).toMatchObject({ ok: false });
    expect(historyOf(store, id, true).map((h) => h.says)).toEqual(
      expect.arrayContaining([expect.stringMatching(/^Taken back: running system custom/)]),
    );
    expect(factLines(factsOf(store, id)).find((f) => f.key === "system.kind")?.value).toBe("stock");
  });

  test("details go back to what they were; a device taken in by mistake is withdrawn while nothing hangs on it", () => {
    const store = demo();
    const { version, serial, imei } = standing(store, "SF-39");
    const details = { form: "details", donor: "Somebody else", need: "", version: String(version) };
    expect(act(store, "SF-39", details).ok).toBe(true);
    expect(act(store, "SF-39", { form: "undo-details" }).ok).toBe(true);
    expect(standing(store, "SF-39")).toMatchObject({ donor: "Drop-off desk", need: "messaging-phone", serial, imei });
    expect(act(store, "SF-14", { form: "withdraw" })).toMatchObject({ ok: false });
    expect(act(store, "SF-39", { form: "withdraw" })).toMatchObject({ ok: true, gone: true });
    expect(findStanding(store, "SF-39")).toBeUndefined();
  });

  test("a number that another device has by then does not come back", () => {
    const store = demo();
    const details = (tag: string, serial: string) =>
      act(store, tag, { form: "details", serial, version: String(standing(store, tag).version) });
    expect(details("SF-39", "FIRST-1").ok).toBe(true);
    expect(details("SF-39", "SECOND-2").ok).toBe(true);
    expect(details("TH-026", "FIRST-1").ok).toBe(true);
    expect(act(store, "SF-39", { form: "undo-details" })).toMatchObject({
      ok: false,
      says: expect.stringContaining("belongs to TH-026"),
    });
    expect(standing(store, "SF-39").serial).toBe("SECOND2");
  });
});
