import { expect, test } from "@playwright/test";
import { followTimetable, standingTimetable, startTimetable } from "~/app/server/timetable/timetable";
import { loadDemo } from "~/demo/load";
import { demoScenario } from "~/demo/scenario";
import { setAside } from "~/store/aside";
import { openStore } from "~/store/database";
import { standingsIn } from "~/store/devices";

test("where the last work that stood in a timetable is over, it follows to an empty one that says so", async () => {
  const store = openStore(":memory:");
  try {
    loadDemo(store);
    const clock = new Date(demoScenario().clock);
    const later = new Date(clock.getTime() + 60_000);
    const hand = { at: clock.toISOString(), by: "test" };
    const settled = () => expect.poll(() => standingTimetable(store)?.state, { timeout: 30_000 }).not.toBe("running");
    expect(startTimetable(store, hand, 300)).toBeNull();
    await settled();
    expect(standingTimetable(store)?.planned?.pieces.length).toBeGreaterThan(0);
    for (const { tag, aside } of standingsIn(store, null))
      if (!aside) expect(setAside(store, tag, "lost", "", hand)).toBeNull();
    followTimetable(store, later);
    await settled();
    expect(followTimetable(store, later)).toMatchObject({
      stale: false,
      says: "",
      planned: { pieces: [], noRoom: [] },
    });
  } finally {
    store.close();
  }
});

test("where nobody has a timetable yet, nothing to do is said instead of one", () => {
  const store = openStore(":memory:");
  try {
    loadDemo(store);
    const hand = { at: new Date(demoScenario().clock).toISOString(), by: "test" };
    for (const { tag, aside } of standingsIn(store, null)) if (!aside) setAside(store, tag, "lost", "", hand);
    expect(startTimetable(store, hand)).toMatch(/^There is nothing to do/);
    expect(standingTimetable(store)).toBeNull();
  } finally {
    store.close();
  }
});
