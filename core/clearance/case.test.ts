import fs from "node:fs";
import fc from "fast-check";
import { type CaseEvent, type ClearanceMove, eventsFrom, everFound, foldCase, stepClearance } from "./case";
import { CLEARANCE_EVENTS, ClearanceEventKind } from "./events";
import { lockPossible, missingProof, Proof, proofsAsked } from "./proof";
import { CLEARANCE_STATES, ClearanceState, isFinished, OPEN_STATES } from "./states";

const LOCK = lockPossible(30, null);

/** A case made by moves that the machine allows; a move that it refuses fails the test. */
function caseOf(...moves: (ClearanceMove | ClearanceEventKind)[]) {
  const events: CaseEvent[] = [];
  for (const given of moves) {
    const move = typeof given === "string" ? { event: given, evidence: "seen at the desk" } : given;
    const step = stepClearance(foldCase(events), move, LOCK);
    if (!step.ok) throw new Error(`${move.event}: ${step.says}`);
    events.push({
      ...move,
      id: events.length + 1,
      detail: move.detail ?? {},
      at: `2026-11-${String(events.length + 1).padStart(2, "0")}T10:00:00.000Z`,
      by: "A",
    });
  }
  return foldCase(events);
}
const CLEAR: ClearanceMove = {
  event: "confirmed-clear",
  evidence: "looked at the set-up",
  detail: { proofs: ["signed-out", "set-up-clean"] },
};

describe("whether a lock is possible", () => {
  // Platform fact: the reset lock exists from Android 5.1 (API 22).
  test.each([
    [19, false, false],
    [19, null, "unknown"],
    [19, true, true],
    [21, false, false],
    [22, false, true],
    [34, null, true],
    [null, false, "unknown"],
    [null, true, true],
  ] as const)("API %p, maker's lock %p: %p", (api, makerLock, possible) => {
    expect(lockPossible(api, makerLock).possible).toBe(possible);
  });

  test("“no lock possible” needs a certain no", () => {
    const move = { event: "no-lock-possible" as const, evidence: "Android 4.4 in Settings" };
    expect(stepClearance(foldCase([]), move, lockPossible(19, false))).toMatchObject({
      ok: true,
      state: "not-applicable",
    });
    expect(stepClearance(foldCase([]), move, lockPossible(19, null))).toMatchObject({ ok: false });
    expect(stepClearance(foldCase([]), move, LOCK)).toMatchObject({ ok: false });
  });
});

describe("what “confirmed clear” takes", () => {
  const confirm = (was: ReturnType<typeof caseOf>, proofs: Proof[]) =>
    stepClearance(was, { event: "confirmed-clear", evidence: "as ticked", detail: { proofs } }, LOCK);

  test("an account: signed out and a set-up that shows none, or the maker's written release", () => {
    const was = caseOf("found-account", "asked-owner");
    expect(confirm(was, [])).toMatchObject({ ok: false });
    expect(confirm(was, ["signed-out"])).toMatchObject({
      ok: false,
      says: expect.stringContaining("no earlier account"),
    });
    expect(confirm(was, ["signed-out", "set-up-clean"]).ok).toBe(true);
    expect(confirm(was, ["maker-release"]).ok).toBe(true);
    expect(confirm(was, ["organisation-release"])).toMatchObject({ ok: false });
  });

  test("a device that was never signed in is cleared as such, with who saw it; once an account was found it is not", () => {
    const untouched = caseOf();
    expect(proofsAsked(untouched.locks, everFound(untouched))).toContain("set-up-as-new");
    expect(confirm(untouched, ["set-up-as-new"]).ok).toBe(true);
    const said = { event: "confirmed-clear" as const, detail: { proofs: ["set-up-as-new" as const] } };
    expect(stepClearance(untouched, { ...said, evidence: "" }, LOCK)).toMatchObject({ ok: false });
    for (const was of [caseOf("found-account"), caseOf("found-account", "asked-owner"), caseOf("found-managed")]) {
      expect(proofsAsked(was.locks, everFound(was))).not.toContain("set-up-as-new");
      expect(confirm(was, ["set-up-as-new"])).toMatchObject({ ok: false });
    }
  });

  test("a managed device: the organisation's release, and nothing that a bench can see", () => {
    const was = caseOf("found-managed", "asked-issuer");
    expect(proofsAsked(was.locks, true)).toEqual(["organisation-release"]);
    expect(confirm(was, ["signed-out", "set-up-clean"])).toMatchObject({ ok: false });
    expect(confirm(was, ["organisation-release"]).ok).toBe(true);
  });

  test("an account and a carrier lock: both must be settled", () => {
    const was = caseOf("found-account", "found-carrier-lock");
    expect(was.locks).toEqual(["account", "carrier"]);
    expect(confirm(was, ["carrier-release"])).toMatchObject({ ok: false });
    expect(confirm(was, ["carrier-release", "signed-out", "set-up-clean"]).ok).toBe(true);
  });

  test("says in words what is missing", () => {
    expect(missingProof(["account"], ["signed-out"], true)).toBe("Started anew: the set-up showed no earlier account");
    expect(missingProof(["account"], ["set-up-clean"], true)).toBe("Signed out on the device, by its owner");
    for (const lock of ["account", "organisation", "carrier"] as const)
      expect(missingProof([lock], [], false)).not.toBeNull();
  });
});

describe("the machine", () => {
  test("only “confirmed clear” and “no lock possible” open the gate", () => {
    expect(ClearanceState.options.filter((s) => CLEARANCE_STATES[s].opensGate)).toEqual([
      "confirmed-clear",
      "not-applicable",
    ]);
  });

  test("every state can be reached, and every open one has a way to the gate", () => {
    const next = (s: ClearanceState) =>
      ClearanceEventKind.options
        .filter((e) => CLEARANCE_EVENTS[e].from.includes(s))
        .map((e) => CLEARANCE_EVENTS[e].to)
        .filter((to): to is ClearanceState => to !== "same" && to !== "before");
    const reach = (from: ClearanceState) => {
      const seen = new Set([from]);
      for (const s of seen) for (const to of next(s)) seen.add(to);
      return seen;
    };
    expect([...reach("not-looked-at")].sort()).toEqual([...ClearanceState.options].sort());
    for (const s of OPEN_STATES) expect(reach(s).has("confirmed-clear")).toBe(true);
  });

  test("a lock that turns up later shuts the gate and begins a new round", () => {
    const was = caseOf("found-account", "asked-owner", "removed-by-owner", CLEAR);
    expect(was).toMatchObject({
      state: "confirmed-clear",
      askedAt: expect.any(String),
      answeredAt: expect.any(String),
    });
    const move = { event: "lock-came-back" as const, evidence: "asks again" };
    expect(stepClearance(was, move, LOCK)).toEqual({ ok: true, state: "present", shutsGate: true });
    const again = caseOf("found-account", "asked-owner", "removed-by-owner", CLEAR, "lock-came-back");
    expect(again).toMatchObject({ state: "present", askedAt: null, answeredAt: null });
  });

  test("the last entry can be taken back, one by one; taking back an opened gate shuts it and takes a reason", () => {
    const open = caseOf("found-account", CLEAR);
    expect(stepClearance(open, { event: "taken-back", evidence: "" }, LOCK).ok).toBe(false);
    const shut = stepClearance(open, { event: "taken-back", evidence: "wrong device" }, LOCK);
    expect(shut).toEqual({ ok: true, state: "present", shutsGate: true });
    expect(caseOf("found-account", CLEAR, "taken-back", "taken-back").state).toBe("not-looked-at");
    expect(eventsFrom(foldCase([]))).not.toContain("taken-back");
  });

  test("reported lost: nothing follows but a note or the entry taken back with a reason", () => {
    const was = caseOf("reported-lost");
    expect(eventsFrom(was)).toEqual(["note", "taken-back"]);
    expect(stepClearance(was, { event: "taken-back", evidence: "" }, LOCK).ok).toBe(false);
    expect(isFinished(was.state)).toBe(true);
  });

  test("a promise is kept with its day until something else happens", () => {
    const was = caseOf("found-account", { event: "promised", evidence: "", detail: { promisedFor: "2026-11-30" } });
    expect(was.promisedFor).toBe("2026-11-30");
    expect(caseOf("found-account", { event: "promised", evidence: "" }, "removed-by-owner").promisedFor).toBeNull();
  });
});

test("whatever happens, the gate opens only with a written reason and all the proof", () => {
  const moves = fc.array(
    fc.record({
      event: fc.constantFrom(...ClearanceEventKind.options),
      evidence: fc.constantFrom("", "a good reason"),
      detail: fc.record({ proofs: fc.subarray([...Proof.options]) }),
    }),
    { maxLength: 25 },
  );
  const locks = fc.constantFrom(lockPossible(19, false), lockPossible(19, null), LOCK);
  fc.assert(
    fc.property(moves, locks, (given, lock) => {
      const events: CaseEvent[] = [];
      for (const [i, move] of given.entries()) {
        const was = foldCase(events);
        const step = stepClearance(was, move, lock);
        if (!step.ok) continue;
        if (CLEARANCE_STATES[step.state].opensGate && !CLEARANCE_STATES[was.state].opensGate) {
          expect(move.evidence).not.toBe("");
          if (move.event === "confirmed-clear")
            expect(missingProof(was.locks, move.detail.proofs, everFound(was))).toBeNull();
          if (move.event === "no-lock-possible") expect(lock.possible).toBe(false);
        }
        events.push({ ...move, id: i + 1, at: "2026-11-01T10:00:00.000Z", by: "A" });
        // What was written beside the event is what the fold makes of it.
        expect(foldCase(events).state).toBe(step.state);
      }
    }),
  );
});

test("the table in docs/clearance.md is the machine", () => {
  const rows = [
    ...fs.readFileSync("docs/clearance.md", "utf8").matchAll(/^\| `([\w-]+)` \| (.+) \| (.+) \| (.+) \|$/gm),
  ];
  const shown = Object.fromEntries(rows.map(([, event, from, to, evidence]) => [event, [from, to, evidence]]));
  const all = Object.fromEntries(
    ClearanceEventKind.options.map((event) => {
      const { from, to, evidence } = CLEARANCE_EVENTS[event];
      return [
        event,
        [from.join(", "), to === "same" ? "stays" : to === "before" ? "back" : to, evidence ? "yes" : "no"],
      ];
    }),
  );
  expect(shown).toEqual(all);
});

test("whoever is asked, how, and how often reminded; asked again, the count begins anew", () => {
  const asked: ClearanceMove = { event: "asked-owner", evidence: "a letter", detail: { channel: "post" } };
  const once = caseOf("found-account", asked, "reminded", "reminded");
  expect(once).toMatchObject({ channel: "post", askedAt: "2026-11-02T10:00:00.000Z", answeredAt: null });
  expect(once.reminders).toEqual(["2026-11-03T10:00:00.000Z", "2026-11-04T10:00:00.000Z"]);
  const again = caseOf("found-account", asked, "reminded", "owner-declined", { ...asked, detail: {} });
  expect(again).toMatchObject({ channel: null, reminders: [], askedAt: "2026-11-05T10:00:00.000Z" });
});
