import type { Model } from "~/core/catalogue/model";
import type { FactKey } from "~/core/device/fact";
import type { Policy } from "~/core/policy/policy";
import type { Deed, FileRef, FlasherSettings, Gate, Hold, Makes, Step, Word } from "./step";

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

interface Saying {
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

/** Percent below which nothing is ever written. Common practice, no source: some accept 30, most 50 to 60. */
export const HARD_STOP = 30;

/**
 * Collects steps and knows where the device is, so that going from one place to another is never forgotten and never
 * done twice.
 */
export class Bench {
  readonly steps: Step[] = [];
  private operation = -1;
  private readonly toldQuirks = new Set<string>();

  constructor(
    readonly model: Model,
    public mode: DeviceMode,
    private readonly serial: string | null,
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

  /** To the maker's download mode, by the client where it still listens, else by keys. */
  toDownload() {
    if (this.mode === "download") return;
    if (this.mode === "android")
      this.command("adb", ["reboot", "download"], {
        title: "Go to download mode",
        says: "The device restarts into the maker's download mode.",
        normal: "A warning, or the word download on the screen",
        otherwise: "If Android starts again, use the keys",
        usual: 20,
        latest: 120,
      });
    else
      this.hands("keys.download", {
        title: "Start download mode by keys",
        says: `${this.model.download?.enter ?? "By the keys of the model's record"}.`,
        normal: "A warning, or the word download on the screen",
        otherwise: "If Android starts, switch off and hold the keys a little earlier",
        usual: 20,
        latest: 120,
      });
    this.mode = "download";
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

  /** Reads the current slot; compares it with the device's record where that still holds. */
  readSlot(expect: string | null) {
    if (!this.model.slots) return;
    this.gate(
      { kind: "slot", expect },
      {
        title: expect ? `Check: current slot is ${expect}` : "Read the current slot",
        says: expect
          ? `Read current-slot. It must say ${expect}.`
          : "Read current-slot and keep the letter in mind: the next commands need it. An update may have changed it.",
        normal: expect ? `current-slot: ${expect}` : "current-slot: a, or b",
        otherwise: "The slot has changed since it was read: read the device again and print a new sheet",
      },
    );
  }

  toBootloader() {
    if (this.mode === "bootloader") return;
    const from = this.mode;
    if (from === "android-without-debugging" || from === "off") {
      this.hands("keys.bootloader", {
        title: "Start the bootloader by keys",
        says: this.model.keys.bootloader,
        normal: "The start screen shows, with the word fastboot or bootloader",
        otherwise: "If Android starts, switch off and hold the keys again a little earlier",
        usual: 20,
        latest: 120,
      });
    } else if (from === "userspace") {
      this.command("fastboot", ["reboot", "bootloader"], toBootloaderSaying);
    } else {
      this.command("adb", ["reboot", "bootloader"], toBootloaderSaying);
    }
    this.mode = "bootloader";
    if (this.serial)
      this.wantVar("serialno", this.serial, "serial number", "This is another device: stop, and compare the label");
    this.wantVar(
      "product",
      this.model.codename,
      "code name",
      "This is another board: stop. Nothing on this sheet suits it",
      { key: "model.codename" },
    );
  }

  /** @param needed what comes next is not possible in the bootloader */
  toUserspace(needed = false) {
    if (this.mode === "userspace") return;
    this.toBootloader();
    this.command("fastboot", ["reboot", "fastboot"], {
      title: "Go to userspace fastboot",
      says: "The device restarts into a screen named fastbootd.",
      normal: "A menu with the word fastbootd",
      otherwise: "If Android starts instead, the next step tells how to go on",
      mayFail: !needed,
      usual: 20,
      latest: 90,
    });
    this.mode = "userspace";
    this.gate(
      { kind: "userspace", must: needed },
      {
        title: "Check: userspace fastboot answers",
        says: "Read is-userspace. It must say yes.",
        normal: "is-userspace: yes",
        otherwise: needed
          ? "This device has no userspace fastboot: stop. What comes next is not possible without it"
          : "It starts Android instead: this device has no userspace fastboot. Start the bootloader by keys and go on there",
      },
    );
  }

  /** The client must see the device in a state. */
  wantAdb(
    state: "device" | "recovery" | "sideload",
    otherwise = "Replug; toggle debugging; original lead; a USB 2 port",
  ) {
    this.gate(
      { kind: "adb-state", state },
      {
        title: state === "recovery" ? "Check: the recovery answers" : "Check: the device answers",
        says: `The client must see the device as “${state}”.`,
        normal: state,
        otherwise,
        latest: 90,
      },
    );
  }

  /** The installed build must be the one that companion files were chosen for. */
  wantBuild(build: string) {
    this.gate(
      { kind: "getprop", name: "ro.build.display.id", expect: build, fact: "build number", key: "build.number" },
      {
        title: "Check: the build number",
        says: `It must be exactly ${build}: companion files depend on it.`,
        normal: build,
        otherwise: "The device was updated since it was read: read it again and print a new sheet",
      },
    );
  }

  /** The battery, read by a client: below the hard stop nothing is written, below the house's floor it waits. */
  battery() {
    // A box runs from its power supply.
    if (this.model.form === "box") return;
    const how = this.mode === "bootloader" || this.mode === "userspace" ? "getvar" : "dumpsys";
    this.gate({ kind: "battery", how, floor: this.policy.batteryFloor, stop: HARD_STOP }, this.batterySaying());
  }

  /** The battery, looked at on the screen: for what is done without a computer. */
  handsBattery() {
    if (this.model.form !== "box") this.hands("check.battery", { ...this.batterySaying(), usual: 10, latest: 60 });
  }

  private batterySaying() {
    const { batteryFloor } = this.policy;
    return {
      title: `Battery at ${batteryFloor} % or more`,
      says: `Charge it to ${batteryFloor} % first. Below ${HARD_STOP} % nothing is written. A dead battery gets 30 minutes of charge before anything else.`,
      normal: `${batteryFloor} % or more`,
      otherwise: "Put it on charge and take the next device",
    };
  }

  /** To the board's loader: the hidden button while the lead goes in. */
  toLoader() {
    if (this.mode === "loader") return;
    this.hold("keys.loader", [{ keys: ["hidden button"], seconds: 1 }], {
      title: "Start the loader: hidden button, then the lead",
      says: `Power supply NOT connected; the screen lead may stay. ${this.model.loader?.button ?? "Find the hidden button"}: press it with something thin, keep it pressed, put in the double-ended lead, let go after 1 s.`,
      normal: "The flasher says that a loader device was found",
      otherwise:
        "Nothing found: driver first, then the flasher; another port; press the button before the lead goes in",
      usual: 30,
      latest: 300,
      neededBy: "everything that goes through the loader",
    });
    this.mode = "loader";
  }

  /** Writes a value of the device down, to compare with at Checkout. */
  record(how: "getprop" | "getvar", name: string, what: string) {
    this.gate(
      { kind: "record", how, name },
      {
        title: `Write down: ${what}`,
        says: `Read ${name} and keep it: at Checkout it is compared.`,
        normal: "A value, not “unknown”",
        otherwise: "No value: note it. A phone whose radio does not answer now will not answer later",
      },
    );
  }

  /** Debugging on, and this computer allowed. */
  debugging() {
    this.hands("android.enable-debugging", {
      title: "Switch on debugging",
      says: "Settings, About: tap the build number seven times. Then System, Developer options: USB debugging on.",
      normal: "The switch stays on",
      otherwise: "At the set-up screen: walk through it without an account first",
      usual: 60,
      latest: 300,
      neededBy: "everything the client does",
    });
    this.hands("android.authorise-computer", {
      title: "Allow this computer",
      says: "Plug the lead in. On the device: allow debugging from this computer.",
      normal: "The client shows the device, not “unauthorized”",
      otherwise: "Replug; toggle debugging; revoke authorisations; original lead; a USB 2 port",
      usual: 20,
      latest: 300,
    });
    this.wantAdb("device");
    this.mode = "android";
  }

  /** How many packages, how much storage and memory there are. */
  measure(when: "before" | "after") {
    this.gate(
      { kind: "measure", when },
      {
        title: when === "before" ? "Count packages and room before" : "Count packages and room after",
        says: "Reads the list of packages, the free storage and the free memory, to tell what the cleaning brought.",
        normal: "Three figures",
        otherwise: "No figures: note it and go on, unless the device does not answer at all",
        usual: 10,
        latest: 60,
      },
    );
  }

  /** Takes the named packages away, one by one. */
  uninstall(list: string, packages: readonly string[]) {
    this.gate(
      { kind: "uninstall", list, packages },
      {
        title: `Take ${packages.length} packages away`,
        says: "One by one, by name: for all where the device lets it, else for the first user only. Never a name that is not on this list.",
        normal: "“Success” for each; afterwards none of them is in the list of packages",
        otherwise:
          "A package that stays is only noted. An error about the connection: replug and repeat, what is gone stays gone",
        usual: packages.length * 4,
        latest: Math.max(300, packages.length * 30),
        neededBy: "a system that its next owner can use",
      },
    );
  }

  /** Automatic updates off: the next start must not fetch what the plan did not mean. */
  updatesOff() {
    if (this.model.firmware.dangerous.length === 0) return;
    const ranges = this.model.firmware.dangerous.map((d) => `${d.from} to ${d.to}`).join(", ");
    this.hands("android.updates-off", {
      title: "Switch automatic updates off",
      says: `Settings, System, Developer options: automatic system updates off. Firmware ${ranges} kills boards of this model.`,
      normal: "The switch is off",
      otherwise: "No such switch: keep it offline, and say so on its label",
      usual: 30,
      latest: 180,
    });
  }

  /** Starts a recovery by keys: if Android starts in between, the stock system may put its own recovery back. */
  keysToRecovery(title: string) {
    this.hands("keys.recovery", {
      title: "Start straight into the recovery by keys",
      says: `${this.model.keys.recovery}. Do not let Android start: the stock system puts its own recovery back.`,
      normal: `The menu of ${title}`,
      otherwise: "If Android starts, write the recovery again and be quicker with the keys",
      usual: 30,
      latest: 120,
      neededBy: "every package that is installed",
    });
    this.mode = "recovery";
  }

  /** Writes one file to a partition. */
  flash(
    partition: string,
    file: FileRef,
    seconds: number,
    words: readonly string[] = [],
    saying: Partial<Saying> = {},
  ) {
    const write = [...words, "flash", partition, { file: `${file.image}/${file.name}` }];
    const steps = {
      title: `Write ${partition}`,
      says: `Writes ${file.name} to ${partition}.`,
      normal: "Sending … OKAY, Writing … OKAY, Finished",
      otherwise: "On FAILED read the words behind it. Change lead or port and repeat this one part once; then stop",
      usual: Math.max(5, Math.round(seconds)),
      latest: Math.max(60, Math.round(seconds * 4)),
      ...saying,
    };
    this.command("fastboot", write, steps);
    if (this.policy.repeatWrite === "twice")
      this.command("fastboot", write, {
        ...steps,
        title: `${steps.title}, once more`,
        says: "The house writes each part twice.",
      });
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

const toBootloaderSaying = {
  title: "Go to the bootloader",
  says: "The device restarts into its start screen.",
  normal: "The start screen shows, with the word fastboot or bootloader",
  otherwise: "If nothing happens in a minute: replug, another port, the original lead",
  usual: 15,
  latest: 90,
};
