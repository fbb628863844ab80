import fc from "fast-check";
import {
  CLEARANCE_EVENTS,
  CLEARANCE_STATES,
  ClearanceEventKind,
  type ClearanceState,
  eventsFrom,
  ClearanceState as States,
  stepClearance,
} from "./clearance";

// Platform fact: the account lock exists from Android 5.1 (API 22).
test("no lock possible only below Android 5.1, and never on a guess", () => {
  expect(stepClearance("not-looked-at", "no-lock-possible", "Android 4.4, no maker's lock", 19)).toEqual({
    ok: true,
    state: "not-applicable",
  });
  expect(stepClearance("not-looked-at", "no-lock-possible", "Android 5.1", 22).ok).toBe(false);
  expect(stepClearance("not-looked-at", "no-lock-possible", "looks old", null).ok).toBe(false);
});

test("opening the gate takes evidence", () => {
  expect(stepClearance("asked", "confirmed-clear", "  ", 30)).toMatchObject({
    ok: false,
    says: expect.stringContaining("how you know it"),
  });
  expect(stepClearance("asked", "confirmed-clear", "signed out at the desk", 30)).toEqual({
    ok: true,
    state: "confirmed-clear",
  });
});

test("a lock that turns up later shuts the gate again", () => {
  expect(stepClearance("confirmed-clear", "lock-came-back", "set-up asks for an account", 30)).toEqual({
    ok: true,
    state: "present",
  });
});

test("reported lost is the end of the road", () => {
  expect(eventsFrom("reported-lost")).toEqual([]);
});

test("whatever happens, the gate opens only with a written reason", () => {
  const event = fc.constantFrom(...ClearanceEventKind.options);
  fc.assert(
    fc.property(
      fc.array(fc.tuple(event, fc.constantFrom("", "a good reason"))),
      fc.constantFrom(null, 19, 30),
      (events, api) => {
        let state: ClearanceState = "not-looked-at";
        for (const [kind, evidence] of events) {
          const step = stepClearance(state, kind, evidence, api);
          if (!step.ok) continue;
          if (CLEARANCE_STATES[step.state].opensGate) expect(evidence).not.toBe("");
          expect(CLEARANCE_EVENTS[kind].from).toContain(state);
          state = step.state;
        }
        expect(States.options).toContain(state);
      },
    ),
  );
});
