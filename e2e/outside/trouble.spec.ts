import { expect, test } from "@playwright/test";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import type { Runbook } from "~/core/runbook/step";
import { planTrouble } from "~/core/trouble/plan";
import type { SeenTrouble } from "~/core/trouble/seen";
import { startSystem } from "~/phone/boot";
import type { PhoneState } from "~/phone/state";
import { index, phoneState, runScript, sheetOf, treat, wayTo, writeScript } from "../rig/bench";

// "Something is wrong", judged from outside: the sheet is carried out up to a step, the phone gets the trouble, the planned
// steps are carried out with the real clients, and the run goes on where they say.

interface Case {
  readonly tag: string;
  readonly image: string;
  /** The open step when it is seen. */
  readonly at: string;
  readonly seen: SeenTrouble;
  readonly cause: (state: PhoneState) => void;
  readonly waits?: true;
}

const steps = (sheet: Runbook, from: number, to?: number): string =>
  writeScript({ ...sheet, steps: sheet.steps.slice(from, to) });

async function helped({ tag, image, at, seen, cause, waits }: Case) {
  const treated = treat(tag);
  const sheet = sheetOf(treated, wayTo(treated.plan, image));
  const state = phoneState(treated);
  const place = sheet.steps.findIndex((s) => s.code.startsWith(at));
  expect(place, at).toBeGreaterThan(0);
  const before = await runScript(steps(sheet, 0, place), state);
  expect(before.stderr).toBe("");
  cause(state);
  // Without the help the open step, and what comes behind it, does not go well.
  // (Where the client only waits for an answer that does not come, that minute is not spent.)
  if (!waits) {
    const stuck = await runScript(steps(sheet, place), structuredClone(state));
    expect(stuck.status).toBe(1);
  }

  const model = index.models.get(treated.plan.model ?? "");
  if (!model) throw new Error("no model");
  const plan = planTrouble(seen, { runbook: sheet, place, model, serial: null, policy: DEFAULT_POLICY });
  if (plan.steps.length) {
    const help = await runScript(writeScript({ ...sheet, steps: plan.steps }), state);
    expect(help.stderr).toBe("");
  }
  if (plan.next.kind === "end") throw new Error("the run ends");
  const from = plan.next.kind === "back" ? plan.next.place : place + 1;
  const rest = await runScript(steps(sheet, from), state);
  expect(rest.stderr).toBe("");
  expect(rest.report).toMatchObject({ boots: true, image });
}

test("the maker's recovery came back, in download mode: the recovery is written again", () =>
  helped({
    tag: "SF-42",
    image: "plainsong-14-arm64-small",
    at: "gate.recovery",
    seen: "stock-recovery",
    waits: true,
    cause: (state) => startSystem(state),
  }));

test("storage shows nothing: formatted, recovery restarted, copied again", () =>
  helped({
    tag: "SF-42",
    image: "plainsong-14-arm64-small",
    at: "adb.push",
    seen: "storage-unreadable",
    cause: (state) => {
      state.encryption.justFormatted = true;
    },
  }));

test("it restarts again and again: data is formatted, and it starts", () =>
  helped({
    tag: "TH-021",
    image: "plainsong-14-arm64",
    at: "check.started",
    seen: "restarts-again",
    cause: (state) => {
      state.data = { kind: "stock", api: 30, donor: false };
      state.mode = "bootloop";
    },
  }));

test("only the start screen: what runs is written again", () =>
  helped({
    tag: "TH-021",
    image: "plainsong-14-arm64",
    at: "check.started",
    seen: "start-screen-only",
    cause: (state) => {
      for (const name of Object.keys(state.partitions)) if (name.startsWith("system")) state.partitions[name] = null;
      state.mode = "bootloop";
    },
  }));
