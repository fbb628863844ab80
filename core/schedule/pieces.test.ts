import type { Step } from "~/core/runbook/step";
import { kindOf, piecesOf } from "./pieces";

const step = (code: string, usualSeconds: number, deed: unknown = { kind: "hands", code }): Step =>
  ({ code, title: code, usualSeconds, deed }) as unknown as Step;
const fastboot = { kind: "command", tool: "fastboot", words: [] };
const adb = { kind: "command", tool: "adb", words: [] };

describe("pieces of a sheet", () => {
  test.each([
    ["a short step by hand", step("android.enable-debugging", 60), "hands"],
    ["walking through the set-up, however long", step("android.finish-setup", 300), "hands"],
    ["a long write over the lead may not be left", step("flash.system", 400, fastboot), "watched"],
    ["a long copy may be left", step("push", 400, adb), "alone"],
    ["an update over the air may be left", step("android.take-update.x", 1200), "alone"],
    ["waiting for the first start", step("check.started", 240), "alone"],
    ["days that the maker lets pass", step("android.wait-unlock", 60), "wait"],
    ["a look", step("gate.battery", 600, { kind: "gate" }), "hands"],
  ])("%s", (_, one, kind) => {
    expect(kindOf(one)).toBe(kind);
  });

  const steps = [
    step("a", 30),
    step("b", 45),
    step("flash.system", 400, fastboot),
    step("check.started", 240),
    step("c", 20),
    step("android.wait-unlock", 60),
    step("d", 61),
  ];

  test("steps by hand are one piece; whatever runs by itself is its own", () => {
    expect(
      piecesOf({ steps }, { waitDays: 7 }).map(({ kind, from, to, minutes }) => [kind, from, to, minutes]),
    ).toEqual([
      ["hands", 0, 2, 2],
      ["watched", 2, 3, 7],
      ["alone", 3, 4, 4],
      ["hands", 4, 5, 1],
      ["wait", 5, 6, 7 * 1440],
      ["hands", 6, 7, 2],
    ]);
  });

  test("a card or a stick is with the device from where it is made until it was read, also when it is made already", () => {
    const carried = [
      step("check.region", 30),
      step("gate.card-made", 300, { kind: "gate", gate: { kind: "card" } }),
      step("card.insert", 60),
      step("keys.card-update", 360),
      step("check.started", 240),
      step("gate.stick-made", 240, { kind: "gate", gate: { kind: "stick" } }),
      step("recovery.install-image.x", 30),
      step("recovery.reboot", 20),
    ];
    const held = (done: number) => piecesOf({ steps: carried }, { done }).map(({ from, carrier }) => [from, carrier]);
    expect(held(0)).toEqual([
      [0, "card"],
      [3, "card"],
      [4, undefined],
      [5, "stick"],
    ]);
    expect(held(3).slice(0, 2)).toEqual([
      [3, "card"],
      [4, undefined],
    ]);
  });

  test("from the step at which it stands, at the pace that was measured", () => {
    expect(piecesOf({ steps }, { done: 2, pace: 1.5 })[0]).toMatchObject({ kind: "watched", minutes: 10, lead: true });
  });
});
