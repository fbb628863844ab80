import { spawn } from "node:child_process";
import fs from "node:fs";
import net from "node:net";
import os from "node:os";
import path from "node:path";
import type { ClearanceState } from "~/core/clearance/states";
import type { Fact, FactKey } from "~/core/device/fact";
import { type CurrentFacts, currentFacts } from "~/core/device/lookUp";
import { DEFAULT_POLICY, type Policy } from "~/core/policy/policy";
import type { IdentityCopy } from "~/core/runbook/identityCopy";
import { writeRunbook } from "~/core/runbook/runbook";
import type { Runbook } from "~/core/runbook/step";
import { writeScript } from "~/core/runbook/writeScript";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { type Plan, planDevice } from "~/core/upgrade/plan";
import type { Way } from "~/core/upgrade/way";
import { demoCatalogue, writeStandIns } from "~/demo/catalogue";
import { demoScenario, type ScenarioDevice, scenarioFacts } from "~/demo/scenario";
import { phoneFromCatalogue } from "~/phone/fromCatalogue";
import { Phone } from "~/phone/phone";
import type { PhoneReport, PhoneState } from "~/phone/state";
import { Flasher } from "~/standins/flasher/server";

export const catalogue = demoCatalogue();
export const index = indexCatalogue(catalogue);
const scenario = demoScenario();

/** Ports of each worker's own, below those that the system hands to clients: nobody takes one before it is listened on. */
const [FIRST_PORT, PORTS] = [12_000, 6_000];
const block = FIRST_PORT + (Number(process.env.TEST_PARALLEL_INDEX ?? 0) % 3) * PORTS;
let nextPort = Math.floor(Math.random() * PORTS);

/**
 * A free loopback port, another one each time. It may be listened on only later, or now and then: that it is taken is written
 * down where every test process of this machine sees it.
 */
export async function freePort(): Promise<number> {
  for (let tried = 0; tried < PORTS; tried++) {
    nextPort = (nextPort + 1) % PORTS;
    const port = block + nextPort;
    if (takePort(port) && (await isFree(port))) return port;
  }
  throw new Error("no port is free");
}

const TAKEN = path.join(os.tmpdir(), "upshift-ports");
/** No run of the tests takes longer: what is older was left behind. */
const LEFT_BEHIND_MS = 3_600_000;
const taken: string[] = [];
process.once("exit", () => {
  for (const file of taken) fs.rmSync(file, { force: true });
});

/** Writes down that a port is taken. @returns false where another process has it */
function takePort(port: number): boolean {
  const file = path.join(TAKEN, String(port));
  fs.mkdirSync(TAKEN, { recursive: true });
  const since = fs.statSync(file, { throwIfNoEntry: false })?.mtimeMs;
  if (since !== undefined && Date.now() - since > LEFT_BEHIND_MS) fs.rmSync(file, { force: true });
  try {
    fs.writeFileSync(file, "", { flag: "wx" });
  } catch {
    return false;
  }
  taken.push(file);
  return true;
}

function isFree(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const server = net.createServer();
    server.once("error", () => resolve(false));
    server.listen(port, "127.0.0.1", () => server.close(() => resolve(true)));
  });
}

let files: string | null = null;

/** The folder of stand-in files, written once for a test process. */
export function standInFolder(): string {
  if (!files) {
    files = fs.mkdtempSync(path.join(os.tmpdir(), "upshift-files-"));
    writeStandIns(catalogue, files);
  }
  return files;
}

export interface Treated {
  readonly device: ScenarioDevice;
  readonly facts: CurrentFacts;
  readonly plan: Plan;
}

/** Plans a demo device, with some of its record changed where a test wants another case. */
export function treat(tag: string, change: Partial<ScenarioDevice> = {}, policy: Policy = DEFAULT_POLICY): Treated {
  const found = scenario.devices.find((d) => d.tag === tag);
  if (!found) throw new Error(`no demo device ${tag}`);
  const device = { ...found, clearance: "confirmed-clear" as ClearanceState, ...change };
  const facts = currentFacts(scenarioFacts(device, "2026-11-16T09:00:00.000Z", "test"));
  const need = index.needs.get(device.need);
  if (!need) throw new Error(`no need ${device.need}`);
  return { device, facts, plan: planDevice({ facts, clearance: device.clearance, need }, index, policy) };
}

/** The device as the lane knows it when every step of a sheet was done, planned anew. */
export function later({ device, facts }: Treated, sheet: Runbook, policy: Policy = DEFAULT_POLICY): Treated {
  const made = Object.assign({}, ...sheet.steps.map((s) => s.makes ?? {}), ...sheet.operations.map((o) => o.makes));
  const at = "2026-11-20T09:00:00.000Z";
  const changed = new Map(facts);
  for (const key of Object.keys(made)) changed.delete(key as FactKey);
  const fresh = currentFacts(
    Object.entries(made).flatMap(([key, value]) =>
      value === null ? [] : [{ key, value, source: "run", at, by: "test" } as Fact],
    ),
  );
  for (const [key, fact] of fresh) changed.set(key, fact);
  const need = index.needs.get(device.need);
  if (!need) throw new Error(`no need ${device.need}`);
  const plan = planDevice({ facts: changed, clearance: device.clearance, need }, index, policy);
  return { device, facts: changed, plan };
}

export function sheetOf(
  { device, facts }: Treated,
  way: Way,
  policy: Policy = DEFAULT_POLICY,
  copies: readonly IdentityCopy[] = [],
): Runbook {
  const model = index.models.get(modelOf(facts));
  if (!model) throw new Error("no model");
  return writeRunbook({
    tag: device.tag,
    serial: device.serial ?? null,
    model,
    facts,
    way,
    index,
    policy,
    copies,
  });
}

const modelOf = (facts: CurrentFacts) => {
  const number = facts.get("model.number")?.value;
  return catalogue.models.find((m) => m.modelNumbers.includes(String(number)))?.id ?? "";
};

export function phoneState({ device, facts }: Treated): PhoneState {
  const model = index.models.get(modelOf(facts));
  if (!model) throw new Error("no model");
  return phoneFromCatalogue({ tag: device.tag, serial: device.serial ?? null, model, facts, images: catalogue.images });
}

export interface RunResult {
  readonly status: number | null;
  readonly stdout: string;
  readonly stderr: string;
  readonly report: PhoneReport;
  /** What the script wrote down, as JSON lines. */
  readonly lines: string;
}

/** Runs a bench script with the real clients against a phone, and says what became of the phone. */
export async function runScript(
  script: string,
  state: PhoneState,
  folder = standInFolder(),
  extra: Record<string, string> = {},
): Promise<RunResult> {
  const [fastboot, adb, hands, adbServer] = [await freePort(), await freePort(), await freePort(), await freePort()];
  const flasherPort = await freePort();
  const phone = new Phone(state, { fastboot, adb, hands, flasher: flasherPort });
  await phone.start();
  const file = path.join(fs.mkdtempSync(path.join(os.tmpdir(), "upshift-run-")), "run.sh");
  fs.writeFileSync(file, script);
  const keep = extra.KEEP ?? path.join(path.dirname(file), "kept");
  const flasher =
    state.download || state.loader
      ? new Flasher({ files: folder, kept: path.join(keep, state.tag), host: "127.0.0.1", port: flasherPort })
      : null;
  const env = {
    ...process.env,
    FASTBOOT: `fastboot -s tcp:127.0.0.1:${fastboot}`,
    ADB: `adb -P ${adbServer} -s 127.0.0.1:${adb}`,
    FILES: folder,
    PHONE_HANDS: `http://127.0.0.1:${hands}`,
    ...(flasher && { FLASHER: await flasher.listen() }),
    REPORT: path.join(path.dirname(file), "report.jsonl"),
    KEEP: keep,
    ...extra,
  };
  try {
    const result = await command("sh", [file], env);
    return {
      ...result,
      report: phone.report(),
      lines: fs.existsSync(env.REPORT) ? fs.readFileSync(env.REPORT, "utf8") : "",
    };
  } finally {
    await flasher?.close();
    await phone.stop();
    await command("adb", ["-P", String(adbServer), "kill-server"], process.env);
  }
}

/** No command of a client takes this long with the simulated phone. */
const CLIENT_MS = 90_000;

/** Runs a program to its end; the status is null where it had to be killed. */
export function command(
  name: string,
  args: readonly string[],
  env: NodeJS.ProcessEnv = process.env,
): Promise<{ status: number | null; stdout: string; stderr: string }> {
  return new Promise((resolve, reject) => {
    const timeout = name === "adb" || name === "fastboot" ? CLIENT_MS : undefined;
    const child = spawn(name, args, { env, stdio: ["ignore", "pipe", "pipe"], timeout, killSignal: "SIGKILL" });
    let stdout = "";
    let stderr = "";
    child.stdout.on("data", (d) => {
      stdout += d;
    });
    child.stderr.on("data", (d) => {
      stderr += d;
    });
    child.on("error", reject);
    // The adb server that a script starts outlives it and holds the pipes: the exit counts, not the closing of pipes.
    child.on("exit", (status, signal) => {
      // A client that hangs is told by its name, not by the test that waits for it.
      if (signal) stderr += `\n${name} ${args.join(" ")} was ended by ${signal}`;
      setTimeout(() => resolve({ status, stdout, stderr }), 50);
    });
  });
}

/** Best way of a plan that installs the given image last. */
export function wayTo(plan: Plan, image: string, has: (way: Way) => boolean = () => true): Way {
  const way = plan.ways.find((w) => w.image === image && has(w));
  if (!way) throw new Error(`no way to ${image}; stops: ${JSON.stringify(plan.stops)}`);
  return way;
}

export { writeScript };
