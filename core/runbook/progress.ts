import { type Fact, FactKey } from "~/core/device/fact";
import { lastStepOf, type Makes, type Runbook } from "./step";

/**
 * Facts of a list of changes, as a run makes them.
 *
 * @example factsMade({ "system.starts": "no" }, { by: "Ada", at: "2026-11-20T18:00:00.000Z" })[0].source // "run"
 */
export function factsMade(makes: Makes, hand: { readonly by: string; readonly at: string }): Fact[] {
  return Object.entries(makes).flatMap(([key, value]): Fact[] => {
    const known = FactKey.safeParse(key);
    return known.success ? [{ key: known.data, value, source: "run", ...hand }] : [];
  });
}

/**
 * What is known of the device when a step is done: what the step itself makes, and with the last step of an operation what
 * the operation makes.
 *
 * @example makesAt({ steps: [], operations: [] }, 0) // {}
 */
export function makesAt(runbook: Pick<Runbook, "steps" | "operations">, place: number): Makes {
  const step = runbook.steps[place];
  if (!step) return {};
  const operation = runbook.operations[step.operation];
  const ends = operation && lastStepOf(runbook, step.operation) === place;
  return { ...(step.makes ?? {}), ...(ends ? operation.makes : {}) };
}

/** How a device is seen to start when its run stops: with the system it had, with another one, or not at all. */
export type Starts = "as-before" | "otherwise" | "not";

/** Facts that stay as they are when the device is seen to start as before. */
const STARTS_AS_BEFORE = /^(system|android|build|base|storage)\./;

/** What tells which system runs: nobody knows it where it is another one than before. */
const WHICH_RUNS = {
  "system.kind": null,
  "system.image": null,
  "android.release": null,
  "build.number": null,
  "build.patch": null,
} as const satisfies Partial<Record<FactKey, null>>;

/**
 * What is left to know when a run stops at a step.
 *
 * An operation that was begun and not finished leaves open whatever it would have changed. A device that is seen to start as
 * before still has its system; what else the operation touched is open. Where it starts with another one, what runs is open too.
 *
 * @param place the step at which it stops
 * @param begun whether that step itself was begun, or went wrong
 * @param starts how the device is seen to start
 * @example makesAtStop({ steps: [], operations: [] }, 0, false, "as-before") // { "system.starts": "yes" }
 */
export function makesAtStop(
  runbook: Pick<Runbook, "steps" | "operations">,
  place: number,
  begun: boolean,
  starts: Starts,
): Makes {
  const step = runbook.steps[place];
  const operation = step && runbook.operations[step.operation];
  const isNot = starts === "not";
  const seen: Makes = {
    ...(isNot ? notStarting(runbook, step?.operation ?? -1) : {}),
    ...(starts === "otherwise" ? WHICH_RUNS : {}),
    "system.starts": isNot ? "no" : "yes",
  };
  if (!operation || !isTouched(runbook, place, begun)) return seen;
  if (isNot) return { ...operation.interrupted, ...seen };
  const { makes, interrupted } = operation;
  const asBefore = starts === "as-before";
  const open: Record<string, Makes[string]> = {};
  // What the lock told of the device is known still where the system that was on it starts.
  for (const key of Object.keys(makes))
    if (!asBefore) open[key] = null;
    else if (!STARTS_AS_BEFORE.test(key)) open[key] = interrupted[key] ?? null;
  const kind = interrupted["system.kind"];
  const runs: Makes = asBefore && kind && kind !== "none" ? { "system.kind": kind } : {};
  return { ...open, ...runs, ...seen };
}

/** What the operations that were done before a step tell where the device does not start. */
const notStarting = ({ operations }: Pick<Runbook, "operations">, operation: number): Makes =>
  Object.assign({}, ...operations.slice(0, Math.max(0, operation)).map((o) => o.ifNotStarting));

/** True when something that changes the device was done, or tried, in the operation of a step. */
function isTouched({ steps }: Pick<Runbook, "steps">, place: number, begun: boolean): boolean {
  const { operation } = steps[place];
  return steps.some(
    (s, i) =>
      s.operation === operation && (i < place || (i === place && begun)) && s.deed.kind !== "gate" && !isMove(s.code),
  );
}

/** Restarts and keys move a device from one mode to another and change nothing on it. */
const isMove = (code: string) =>
  /^(keys\.|fastboot\.reboot|adb\.reboot|android\.|check\.)/.test(code) &&
  !/take-update|factory-reset|allow-unlocking|request-unlock/.test(code);
