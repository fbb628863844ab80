import type { FactKey, FactValue } from "~/core/device/fact";
import { factsMade, makesAt, makesAtStop } from "./progress";
import type { Makes, Runbook } from "./step";

interface Made {
  readonly makes?: Makes;
  readonly interrupted?: Makes;
  readonly ifNotStarting?: Makes;
}
interface Step {
  readonly operation: number;
  readonly code?: string;
  readonly kind?: "command" | "gate" | "hand";
  readonly makes?: Makes;
}
/** Just so much of a sheet as its progress looks at. */
const sheet = (steps: readonly Step[], operations: readonly Made[]) =>
  ({
    steps: steps.map(({ operation, code = "fastboot.flash", kind = "command", makes }) => ({
      ...{ operation, code, makes, deed: { kind } },
    })),
    operations: operations.map((o) => ({ makes: {}, interrupted: {}, ifNotStarting: {}, ...o })),
  }) as unknown as Pick<Runbook, "steps" | "operations">;

const MAKES = { "android.release": "13", "bootloader.locked": false, "storage.state": "clean" } as Makes;
const HALF = { "recovery.image": null } as Makes;
/** Preparation, then one operation of three steps. */
const three = (first: Partial<Step> = {}) =>
  sheet(
    [{ operation: -1, code: "prepare" }, { operation: 0, ...first }, { operation: 0 }, { operation: 0 }],
    [{ makes: MAKES, interrupted: HALF }],
  );

describe("what a finished step makes known", () => {
  const steps = sheet(
    [{ operation: 0, makes: { "slot.current": "b" } as Makes }, { operation: 0 }, { operation: 1 }],
    [{ makes: MAKES }, { makes: HALF }],
  );
  test("its own at once, the operation's with its last step", () => {
    expect([0, 1, 2, 3].map((place) => makesAt(steps, place))).toEqual([{ "slot.current": "b" }, MAKES, HALF, {}]);
  });
  test("as facts of the run; what is no fact is left out", () => {
    const hand = { by: "Ada", at: "2026-11-20T18:00:00.000Z" };
    expect(factsMade({ "system.starts": "no", "no.such": 1 } as unknown as Makes, hand)).toEqual([
      { key: "system.starts" as FactKey, value: "no" as FactValue, source: "run", ...hand },
    ]);
  });
});

describe("what is left to know when a run stops", () => {
  const starts = { "system.starts": "yes" };
  const dead = { "system.starts": "no" };
  const open = { "bootloader.locked": null, ...starts };

  test("before the operation, nothing of it is open", () => {
    expect(makesAtStop(three(), 0, true, "as-before")).toEqual(starts);
    expect(makesAtStop(three(), 1, false, "as-before")).toEqual(starts);
    expect(makesAtStop(three(), 1, false, "not")).toEqual(dead);
  });
  test("behind its first step, or in it: what it would have changed is open, but not what is seen to start", () => {
    expect(makesAtStop(three(), 1, true, "as-before")).toEqual(open);
    expect(makesAtStop(three(), 2, false, "as-before")).toEqual(open);
    expect(makesAtStop(three(), 3, true, "as-before")).toEqual(open);
  });
  test("a device that does not start is left as an interrupted operation leaves it", () => {
    expect(makesAtStop(three(), 2, false, "not")).toEqual({ ...HALF, ...dead });
  });
  test("what a boot state told of the system stays told where the operation opens it, unless another one starts", () => {
    const unlocking = sheet(
      [{ operation: 0 }, { operation: 0 }],
      [
        {
          makes: { "boot.state": null, "recovery.image": "stock" } as Makes,
          interrupted: { "boot.state": null, "recovery.image": "stock", "system.kind": "stock" } as Makes,
        },
      ],
    );
    expect(makesAtStop(unlocking, 0, true, "as-before")).toEqual({
      "boot.state": null,
      "recovery.image": "stock",
      "system.kind": "stock",
      ...starts,
    });
    expect(makesAtStop(unlocking, 0, true, "otherwise")).toMatchObject({ "boot.state": null, "system.kind": null });
    const installing = sheet([{ operation: 0 }], [{ makes: MAKES, interrupted: { "system.kind": "none" } as Makes }]);
    expect(makesAtStop(installing, 0, true, "as-before")).toEqual(open);
  });
  test("a device that starts with another system: nobody knows which, nor what else the operation touched", () => {
    const unread = Object.fromEntries(
      ["system.kind", "system.image", "android.release", "build.number", "build.patch"].map((key) => [key, null]),
    );
    expect(makesAtStop(three(), 1, false, "otherwise")).toEqual({ ...unread, ...starts });
    expect(makesAtStop(three(), 2, false, "otherwise")).toEqual({ ...unread, ...open, "storage.state": null });
  });
  test.each([
    ["a look at it", { kind: "gate" }],
    ["keys", { code: "keys.recovery" }],
    ["a restart", { code: "fastboot.reboot" }],
    ["another one", { code: "adb.reboot-bootloader" }],
    ["something in Settings", { code: "android.debugging" }],
    ["a check", { code: "check.unlocked" }],
  ] as const)("%s has changed nothing", (_what, first) => {
    expect(makesAtStop(three(first), 2, false, "as-before")).toEqual(starts);
    expect(makesAtStop(three(first), 3, false, "as-before")).toEqual(open);
  });
  test.each(["android.take-update", "android.factory-reset", "android.allow-unlocking", "android.request-unlock"])(
    "%s is no move, though it is done in Settings",
    (code) => expect(makesAtStop(three({ code }), 2, false, "as-before")).toEqual(open),
  );
  test("a code that only ends like a move is none", () =>
    expect(makesAtStop(three({ code: "flash.keys." }), 2, false, "as-before")).toEqual(open));
  test("steps of another operation do not count; what those before it tell of a device that does not start does", () => {
    const two = sheet(
      [{ operation: 0 }, { operation: 1 }],
      [
        { makes: HALF, ifNotStarting: { "recovery.image": "rec" } as Makes },
        { makes: MAKES, interrupted: {} },
      ],
    );
    expect(makesAtStop(two, 1, false, "as-before")).toEqual(starts);
    expect(makesAtStop(two, 1, false, "not")).toEqual({ "recovery.image": "rec", ...dead });
    expect(makesAtStop(two, 0, true, "not")).toEqual(dead);
  });
});
