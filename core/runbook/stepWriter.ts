import type { Model } from "~/core/catalogue/model";
import type { FactKey } from "~/core/device/fact";
import type { Policy } from "~/core/policy/policy";
import type { Deed, FlasherSettings, Gate, Hold, Makes, Step, Word } from "./step";

/** The mode a device is in while a runbook is written: the steps between modes follow from it. "off": nothing on it starts. */
export type DeviceMode =
  | "android"
  | "android-without-debugging"
  | "bootloader"
  | "userspace"
  | "recovery"
  | "download"
  | "loader"
  | "off";

/** What a sheet says at a step, and how long it takes. */
export interface Saying {
  readonly title: string;
  readonly says: string;
  readonly normal: string;
  readonly otherwise: string;
  readonly usual: number;
  readonly latest: number;
  readonly caution?: string;
  readonly neededBy?: string;
  readonly makes?: Makes;
}

/** Collects the steps of a sheet: each with a code of its own, the model's quirks where they show, and how it goes without a computer. */
export class StepWriter {
  readonly steps: Step[] = [];
  private operation = -1;
  private readonly toldQuirks = new Set<string>();

  constructor(
    readonly model: Model,
    public mode: DeviceMode,
    readonly policy: Policy,
  ) {}

  beginOperation(index: number) {
    this.operation = index;
  }

  private add(code: string, deed: Deed, saying: Saying) {
    const quirks = this.quirksHere(code);
    const host = this.policy.host === "second-phone" ? onSecondPhone(deed) : "";
    const taken = this.steps.filter((s) => s.code === code || s.code.startsWith(`${code}#`)).length;
    this.steps.push({
      code: taken ? `${code}#${taken + 1}` : code,
      operation: this.operation,
      title: saying.title,
      says: `${saying.says}${host}${quirks.length ? ` On this model: ${quirks.join("; ")}.` : ""}`,
      deed,
      normal: saying.normal,
      otherwise: saying.otherwise,
      usualSeconds: saying.usual,
      latestSeconds: saying.latest,
      caution: saying.caution ?? null,
      neededBy: saying.neededBy ?? null,
      ...(saying.makes && { makes: saying.makes }),
    });
  }

  /** Quirks of the model that show at this step for the first time. */
  private quirksHere(code: string): string[] {
    const at = code === "check.started" ? "first-start" : this.mode;
    const here = this.model.quirks.filter((q) => q.at === at && !this.toldQuirks.has(q.says));
    for (const quirk of here) this.toldQuirks.add(quirk.says);
    return here.map((q) => q.says);
  }

  hands(code: string, saying: Saying) {
    this.add(code, { kind: "hands", code }, saying);
  }

  /** What is known of the device behind the step that was just written. */
  makeOfLast(makes: Makes) {
    const last = this.steps.pop();
    if (last) this.steps.push({ ...last, makes: { ...last.makes, ...makes } });
  }

  /** Keys that are held for so many seconds. */
  hold(code: string, holds: readonly Hold[], saying: Saying) {
    this.add(code, { kind: "hands", code, holds }, saying);
  }

  /** Something set in the window of a flasher. */
  flasher(code: string, settings: FlasherSettings, saying: Saying) {
    this.add(code, { kind: "flasher", settings }, saying);
  }

  command(
    tool: "fastboot" | "adb",
    words: readonly Word[],
    saying: Saying & { mayFail?: boolean; instead?: readonly (readonly Word[])[] },
  ) {
    const name = words
      .filter((w) => typeof w !== "string" || !w.startsWith("--"))
      .map((w) => (typeof w === "string" ? w : "file" in w ? w.file.split("/")[1] : w.perSlot))
      .join("-");
    const code = `${tool}.${name.replace(/[^a-z0-9._-]+/gi, "-").slice(0, 60)}`;
    const { mayFail, instead } = saying;
    this.add(code, { kind: "command", tool, words, ...(mayFail && { mayFail }), ...(instead && { instead }) }, saying);
  }

  gate(gate: Gate, saying: Omit<Saying, "usual" | "latest"> & { usual?: number; latest?: number }) {
    this.add(`gate.${gateName(gate)}`, { kind: "gate", gate }, { usual: 5, latest: 60, ...saying });
  }

  /** Compares one bootloader variable with what the plan rests on. */
  wantVar(
    name: string,
    expect: string,
    fact: string,
    otherwise: string,
    { key, title }: { readonly key?: FactKey; readonly title?: string } = {},
  ) {
    const last = this.steps.at(-1)?.deed;
    if (last?.kind === "gate" && last.gate.kind === "getvar" && last.gate.name === name && last.gate.expect === expect)
      return;
    this.gate(
      { kind: "getvar", name, expect, fact, ...(key && { key }) },
      {
        title: title ?? `Check: ${fact} is ${expect}`,
        says: `Read ${name}. It must say ${expect}.`,
        normal: `${name}: ${expect}`,
        otherwise,
      },
    );
  }
}

/** Commands that change the mode: behind them a second phone asks anew. */
const CHANGES_MODE: readonly Word[] = ["reboot", "reboot-bootloader", "sideload"];

/** What is different where a second phone stands in for the computer. */
function onSecondPhone(deed: Deed): string {
  if (deed.kind === "flasher") return " On the second phone: its flasher application, the same files, slots and ticks.";
  if (deed.kind !== "command") return "";
  const again = CHANGES_MODE.includes(deed.words[0]) ? " Behind this the connection has to be allowed again." : "";
  return ` Typed on the second phone, over the OTG lead; the files lie on it, unpacked.${again}`;
}

function gateName(gate: Gate): string {
  switch (gate.kind) {
    case "digests":
      return "files";
    case "adb-state":
      return gate.state;
    case "slot":
      return "current-slot";
    case "battery":
      return "battery";
    case "userspace":
      return "is-userspace";
    case "keep":
      return gate.how === "loader" ? "keep-board" : "keep-identity";
    case "kept":
      return "kept-files";
    case "stick":
      return "stick-made";
    case "card":
      return "card-made";
    case "shell":
      return `shell-${gate.expect.replace(/[^A-Za-z0-9.]+/g, "-").replace(/-$/, "")}`;
    case "measure":
      return `measure-${gate.when}`;
    case "uninstall":
      return "uninstall";
    case "record":
      return `record-${gate.name}`;
    default:
      return gate.name;
  }
}
