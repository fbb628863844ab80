import { runbookOf } from "~/app/server/bench/runbooks";
import { placedDevices } from "~/app/server/planning/lane";
import { plannedDevice } from "~/app/server/planning/planning";
import { demoCopy } from "~/demo/demoCopy";
import { bringBack, setAside } from "~/store/aside";
import type { Store } from "~/store/database";
import { findStanding } from "~/store/devices";
import { newestScans, undoScan } from "~/store/scans";
import { scanIn } from "./scanIn";

const hand = { by: "Aleena Dorr", at: "2026-11-25T10:00:00.000Z" };
const defaults = {
  batch: "2026-11-autumn",
  tagStart: "TH-",
  donor: "Desk",
  need: "messaging-phone",
  modelNumber: "VK-L8",
};
const scan = (store: Store, text: string, inHand: string | null) => scanIn(store, text, inHand, defaults, hand);

describe("at the table", () => {
  test("tag, IMEI, serial; the next tag is the next device; defaults go to each", () => {
    const store = demoCopy();
    expect(scan(store, "490154203237518", null)).toMatchObject({
      ok: false,
      says: expect.stringContaining("tag first"),
    });
    expect(scan(store, "TH-101", null)).toMatchObject({ ok: true, tag: "TH-101" });
    expect(scan(store, "490154203237518", "TH-101")).toMatchObject({ ok: true, tag: "TH-101" });
    expect(scan(store, "SN: ABC12345", "TH-101").ok).toBe(true);
    expect(scan(store, "TH-102", "TH-101")).toMatchObject({ ok: true, tag: "TH-102" });
    const first = findStanding(store, "TH-101");
    expect(first).toMatchObject({
      imei: "490154203237518",
      serial: "ABC12345",
      donor: "Desk",
      need: "messaging-phone",
    });
    expect(plannedDevice(store, first as never).model?.id).toBe("velkora-lume");
  });

  test("a wrong check digit, a number of another device, a second number: refused, nothing written", () => {
    const store = demoCopy();
    scan(store, "TH-101", null);
    expect(scan(store, "490154203237515", "TH-101")).toMatchObject({ ok: false, tag: "TH-101" });
    expect(scan(store, "VKA1000101", "TH-101")).toMatchObject({ ok: false, says: expect.stringContaining("TH-001") });
    scan(store, "490154203237518", "TH-101");
    expect(scan(store, "490154203237526", "TH-101").ok).toBe(false);
    expect(findStanding(store, "TH-101")).toMatchObject({ imei: "490154203237518", serial: null });
  });

  test("a device that had left is taken in as returning, and says so", () => {
    const store = demoCopy();
    scan(store, "TH-101", null);
    const answer = scan(store, "ONT0000120", "TH-101");
    expect(answer).toMatchObject({ ok: true, says: expect.stringContaining("as TH-020") });
    expect(findStanding(store, "TH-101")?.returns).toBe(findStanding(store, "TH-020")?.id);
  });

  test("each of the last ten can be undone, in the order that makes sense", () => {
    const store = demoCopy();
    scan(store, "TH-101", null);
    scan(store, "490154203237518", "TH-101");
    const [imei, device] = newestScans(store, hand.by, 10);
    expect(undoScan(store, device.id, hand)).toContain("since");
    expect(undoScan(store, imei.id, hand)).toBeNull();
    expect(findStanding(store, "TH-101")?.imei).toBeNull();
    expect(undoScan(store, imei.id, hand)).toContain("already");
    expect(undoScan(store, device.id, hand)).toBeNull();
    expect(findStanding(store, "TH-101")).toBeUndefined();
    expect(scan(store, "TH-101", null).ok).toBe(true);
  });
});

describe("set aside", () => {
  test("leaves the lane at once, loses its way, can't be planned, and comes back only with a reason", () => {
    const store = demoCopy();
    expect(findStanding(store, "TH-019")?.way).not.toBeNull();
    expect(setAside(store, "TH-019", "swollen", "back bulges", hand)).toBeNull();
    const device = placedDevices(store, null).find((d) => d.standing.tag === "TH-019");
    expect(device).toMatchObject({ station: "aside", plan: { verdict: "not-this-way", best: null, ways: [] } });
    expect(device?.standing.way).toBeNull();
    expect(runbookOf(store, "TH-019")).toMatchObject({ ok: false, says: expect.stringContaining("is set aside") });
    expect(scan(store, "TH-019", null)).toMatchObject({ ok: false, says: expect.stringContaining("set aside") });
    expect(setAside(store, "TH-019", "swollen", "", hand)).toContain("already");
    expect(bringBack(store, "TH-019", "", hand)).toContain("Write down why");
    expect(bringBack(store, "TH-019", "new battery fitted by a licensed shop", hand)).toBeNull();
    expect(placedDevices(store, null).find((d) => d.standing.tag === "TH-019")?.plan.ways.length).toBeGreaterThan(0);
  });
});
