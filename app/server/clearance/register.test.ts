import fc from "fast-check";
import { CLOCK_SETTING } from "~/app/server/http/clock";
import { placedDevices } from "~/app/server/planning/lane";
import { questionOf, waitBefore } from "~/core/clearance/register";
import { demoCopy } from "~/demo/demoCopy";
import { demoLost } from "~/demo/register";
import { RegisterStandIn } from "~/standins/register";
import { clearanceEvents } from "~/store/clearance";
import type { Store } from "~/store/database";
import { findStanding } from "~/store/devices";
import { dueChecks, queueChecks, registerOf } from "~/store/register";
import { readSetting, writeSetting } from "~/store/setting";
import { askRegister, makeChecks, queueUnchecked, uncheckedDevices } from "./register";

const stand = new RegisterStandIn(demoLost());
let address = "";
beforeAll(async () => {
  address = await stand.listen();
});
afterAll(() => stand.close());
beforeEach(() => {
  stand.mood = "well";
  stand.asked.length = 0;
});

const id = (store: Store, tag: string) => findStanding(store, tag)?.id as number;
const later = (store: Store, seconds: number) =>
  writeSetting(store, CLOCK_SETTING, String(Number(readSetting(store, CLOCK_SETTING)) + seconds * 1000));

describe("asking", () => {
  const question = { kind: "imei" as const, number: "359000000000015" };

  test("clear, lost, and every way to fail, within the time-out", async () => {
    expect(await askRegister(address, question)).toEqual({ ok: true, answer: { state: "clear" } });
    expect(await askRegister(address, { kind: "imei", number: demoLost()[1].number })).toMatchObject({
      ok: true,
      answer: { state: "lost", reference: "TL-2026-0392" },
    });
    const says: Record<string, RegExp> = {
      garbage: /too long/,
      "wrong-shape": /not what its contract says/,
      busy: /status 503/,
      slow: /did not answer within 0.3/,
      silent: /did not answer within 0.3/,
    };
    for (const [mood, words] of Object.entries(says)) {
      stand.mood = mood as never;
      const from = Date.now();
      expect(await askRegister(address, question, 300)).toMatchObject({
        ok: false,
        says: expect.stringMatching(words),
      });
      expect(Date.now() - from).toBeLessThan(2000);
    }
    expect(await askRegister("http://127.0.0.1:1", question)).toMatchObject({
      ok: false,
      says: "The register can't be reached",
    });
  });

  test("the number asked about is the IMEI, else the serial; none is none", () => {
    expect(questionOf({ imei: "359000000000015", serial: "S12345" })).toEqual(question);
    expect(questionOf({ imei: null, serial: "S12345" })).toEqual({ kind: "serial", number: "S12345" });
    expect(questionOf({ imei: null, serial: null })).toBeNull();
  });

  test("the wait doubles and stays within the hour", () => {
    expect([1, 2, 3, 4].map(waitBefore)).toEqual([5, 10, 20, 40]);
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 100 }), (n) => waitBefore(n) <= 3600 && waitBefore(n + 1) >= waitBefore(n)),
    );
  });
});

describe("the queue", () => {
  test("everything with a number is asked about once; what the register knows is stopped", async () => {
    const store = demoCopy();
    const before = uncheckedDevices(store).length;
    expect(queueUnchecked(store)).toBe(before);
    expect(queueUnchecked(store)).toBe(0);
    while ((await makeChecks(store, address)) > 0);
    expect(stand.asked).toHaveLength(before);
    expect(registerOf(store, id(store, "TH-001"))).toMatchObject({ state: "clear", attempts: 1 });
    expect(registerOf(store, id(store, "SF-22"))).toMatchObject({
      state: "hit",
      says: expect.stringContaining("TL-2026-0392"),
    });
    expect(findStanding(store, "SF-22")).toMatchObject({ clearance: "reported-lost", aside: "lost" });
    expect(placedDevices(store, null).find((d) => d.standing.tag === "SF-22")?.station).toBe("aside");
    expect(clearanceEvents(store, id(store, "SF-22")).at(-1)).toMatchObject({
      by: "Register of lost devices",
      evidence: expect.stringContaining("2026-10-30"),
    });
    // Known to be lost before: nothing is written twice.
    expect(clearanceEvents(store, id(store, "SF-36"))).toHaveLength(1);
  });

  test("a register that fails is asked again later and later, and after eight times a person is told", async () => {
    const store = demoCopy();
    stand.mood = "busy";
    const device = id(store, "TH-001");
    queueChecks(store, [device], "2026-11-25T08:00:00.000Z");
    expect(await makeChecks(store, address)).toBe(1);
    expect(registerOf(store, device)).toMatchObject({
      state: "waiting",
      attempts: 1,
      says: expect.stringContaining("503"),
    });
    expect(await makeChecks(store, address)).toBe(0);
    for (let n = 2; n <= 8; n++) {
      later(store, waitBefore(n - 1) + 1);
      expect(await makeChecks(store, address)).toBe(1);
    }
    expect(registerOf(store, device)).toMatchObject({ state: "given-up", attempts: 8 });
    later(store, 7200);
    expect(await makeChecks(store, address)).toBe(0);
    stand.mood = "well";
    queueChecks(store, [device], new Date(0).toISOString());
    expect(await makeChecks(store, address)).toBe(1);
    expect(registerOf(store, device)).toMatchObject({ state: "clear" });
  });

  test("what waits is still there after the process has gone", async () => {
    const store = demoCopy();
    queueChecks(store, [id(store, "TH-001"), id(store, "TH-002")], "2026-11-25T08:00:00.000Z");
    // The queue is rows, not memory: whoever opens the database next finds it.
    expect(dueChecks(store, "2026-11-25T08:00:01.000Z", 10)).toHaveLength(2);
  });
});
