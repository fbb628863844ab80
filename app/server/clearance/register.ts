import { now } from "~/app/server/http/clock";
import { keepDoing } from "~/app/server/jobs/keepDoing";
import { allDevices, type PlannedDevice } from "~/app/server/planning/planning";
import {
  MOST_ATTEMPTS,
  questionOf,
  RegisterAnswer,
  type RegisterQuestion,
  waitBefore,
} from "~/core/clearance/register";
import { appendClearance } from "~/store/clearance";
import type { Store } from "~/store/database";
import { dueChecks, queueChecks, type RegisterRow, registerStates, saveCheck } from "~/store/register";
import { inTransaction } from "~/store/transaction";
import { casesOf, lockOf } from "./cases";

/** Address of the register; null where the house has none. */
export const registerAddress = (): string | null => process.env.UPSHIFT_REGISTER || null;

/** How long an answer may take, milliseconds. */
const TIME_OUT = 4000;
/** Longest answer that is read, bytes. */
const MOST_BYTES = 10_000;
/** Checks made at once: a register is a shared service. */
const AT_ONCE = 4;

export type Asked =
  | { readonly ok: true; readonly answer: RegisterAnswer }
  | { readonly ok: false; readonly says: string };

/** Asks the register about one number. Whatever it does, an answer or a reason comes back within the time-out. */
export async function askRegister(address: string, question: RegisterQuestion, timeOut = TIME_OUT): Promise<Asked> {
  const fail = (says: string): Asked => ({ ok: false, says });
  try {
    const response = await fetch(new URL("/v1/checks", address), {
      method: "POST",
      headers: { "content-type": "application/json", accept: "application/json" },
      body: JSON.stringify(question),
      redirect: "error",
      signal: AbortSignal.timeout(timeOut),
    });
    if (!response.ok) {
      await response.body?.cancel();
      return fail(`The register answered with status ${response.status}`);
    }
    const text = await readShort(response);
    if (text === null) return fail("The register's answer is far too long to be one");
    const read = RegisterAnswer.safeParse(parseJson(text));
    return read.success ? { ok: true, answer: read.data } : fail("The register's answer is not what its contract says");
  } catch (error) {
    const late = (error as Error).name === "TimeoutError";
    return fail(
      late ? `The register did not answer within ${timeOut / 1000} seconds` : "The register can't be reached",
    );
  }
}

/** The body as text; null when it is longer than an answer can be. */
async function readShort(response: Response): Promise<string | null> {
  const reader = response.body?.getReader();
  const chunks: Uint8Array[] = [];
  for (let bytes = 0; reader; ) {
    const { done, value } = await reader.read();
    if (done) break;
    bytes += value.length;
    if (bytes > MOST_BYTES) {
      await reader.cancel();
      return null;
    }
    chunks.push(value);
  }
  return Buffer.concat(chunks).toString("utf8");
}

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

/** Devices on the lane that have a number and were not checked yet. */
export function uncheckedDevices(store: Store): PlannedDevice[] {
  const states = registerStates(store);
  return allDevices(store).filter((d) => questionOf(d.standing) !== null && !states.has(d.standing.id));
}

export const queueUnchecked = (store: Store): number =>
  queueChecks(
    store,
    uncheckedDevices(store).map((d) => d.standing.id),
    now(store).toISOString(),
  );

const REGISTER = "Register of lost devices";

/**
 * Makes the checks whose turn has come. A device that the register knows is reported lost at once: Clearance is closed, it is
 * set aside, and its accepted way is taken back.
 *
 * @returns how many were tried
 */
export async function makeChecks(store: Store, address: string, timeOut = TIME_OUT): Promise<number> {
  const checks = dueChecks(store, now(store).toISOString(), AT_ONCE);
  await Promise.all(
    checks.map(async (check) => {
      const device = allDevices(store).find((d) => d.standing.id === check.device);
      const question = device && questionOf(device.standing);
      const asked: Asked = question
        ? await askRegister(address, question, timeOut)
        : { ok: false, says: "It has no IMEI and no serial number to ask about" };
      keepAnswer(store, check, asked);
    }),
  );
  return checks.length;
}

function keepAnswer(store: Store, check: RegisterRow, asked: Asked) {
  const time = now(store);
  const at = time.toISOString();
  inTransaction(store, () => {
    const attempts = check.attempts + 1;
    if (!asked.ok) {
      const state = attempts >= MOST_ATTEMPTS ? ("given-up" as const) : ("waiting" as const);
      const next_at = new Date(time.getTime() + waitBefore(attempts) * 1000).toISOString();
      saveCheck(store, { id: check.id, state, attempts, next_at, says: asked.says, at });
      return;
    }
    const { answer } = asked;
    const lost = answer.state === "lost";
    const says = lost
      ? `Reported lost${answer.reported ? ` on ${answer.reported}` : ""}, reference ${answer.reference}`
      : "";
    saveCheck(store, { id: check.id, state: lost ? "hit" : "clear", attempts, next_at: at, says, at });
    if (lost) reportLost(store, check.device, says, at);
  });
}

function reportLost(store: Store, id: number, says: string, at: string) {
  const device = allDevices(store).find((d) => d.standing.id === id);
  if (!device || device.standing.clearance === "reported-lost") return;
  const seen = casesOf(store)(id).newest;
  const move = { event: "reported-lost" as const, evidence: `${REGISTER}: ${says}`, seen, lock: lockOf(device) };
  const wrong = appendClearance(store, device.standing.tag, move, { by: REGISTER, at });
  if (wrong) throw new Error(wrong);
}

/** Makes checks, a few at once, until none is due: one that failed is due later. */
async function makeAll(store: Store, address: string) {
  while ((await makeChecks(store, address)) > 0);
}

/** Seconds between two looks at the queue. */
const LOOK_EVERY = 2;

/** Keeps the queue moving while the process runs; it takes up what an earlier process left. */
export function keepChecking(store: Store) {
  const address = registerAddress();
  if (address) keepDoing(LOOK_EVERY, "the register could not be asked", () => makeAll(store, address));
}
