import type { Model } from "~/core/catalogue/model";
import type { Deed, FileRef, Gate, Step, Word } from "./step";

/** Where the device is while a runbook is written: the steps between places follow from it. */
export type Place = "android" | "android-without-debugging" | "bootloader" | "userspace" | "recovery";

interface Saying {
  readonly title: string;
  readonly says: string;
  readonly normal: string;
  readonly otherwise: string;
  readonly usual: number;
  readonly latest: number;
  readonly caution?: string;
  readonly neededBy?: string;
}

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
    public place: Place,
    private readonly serial: string | null,
  ) {}

  beginOperation(index: number) {
    this.operation = index;
  }

  private add(code: string, deed: Deed, saying: Saying) {
    const quirks = this.quirksHere(code);
    const taken = this.steps.filter((s) => s.code === code || s.code.startsWith(`${code}#`)).length;
    this.steps.push({
      code: taken ? `${code}#${taken + 1}` : code,
      operation: this.operation,
      title: saying.title,
      says: quirks.length ? `${saying.says} On this model: ${quirks.join("; ")}.` : saying.says,
      deed,
      normal: saying.normal,
      otherwise: saying.otherwise,
      usualSeconds: saying.usual,
      latestSeconds: saying.latest,
      caution: saying.caution ?? null,
      neededBy: saying.neededBy ?? null,
    });
  }

  /** Quirks of the model that show at this step for the first time. */
  private quirksHere(code: string): string[] {
    const at = code === "check.started" ? "first-start" : this.place;
    const here = this.model.quirks.filter((q) => q.at === at && !this.toldQuirks.has(q.says));
    for (const quirk of here) this.toldQuirks.add(quirk.says);
    return here.map((q) => q.says);
  }

  hands(code: string, saying: Saying) {
    this.add(code, { kind: "hands", code }, saying);
  }

  command(tool: "fastboot" | "adb", words: readonly Word[], saying: Saying & { mayFail?: boolean }) {
    const name = words
      .filter((w) => typeof w !== "string" || !w.startsWith("--"))
      .map((w) => (typeof w === "string" ? w : "file" in w ? w.file.split("/")[1] : w.perSlot))
      .join("-");
    const code = `${tool}.${name.replace(/[^a-z0-9._-]+/gi, "-").slice(0, 60)}`;
    this.add(code, { kind: "command", tool, words, mayFail: saying.mayFail }, saying);
  }

  gate(gate: Gate, saying: Omit<Saying, "usual" | "latest"> & { usual?: number; latest?: number }) {
    const name =
      gate.kind === "digests"
        ? "files"
        : gate.kind === "adb-state"
          ? gate.state
          : gate.kind === "slot"
            ? "current-slot"
            : gate.name;
    this.add(`gate.${name}`, { kind: "gate", gate }, { usual: 5, latest: 60, ...saying });
  }

  /** Compares one bootloader variable with what the plan rests on. */
  wantVar(name: string, expect: string, fact: string, otherwise: string) {
    const last = this.steps.at(-1)?.deed;
    if (last?.kind === "gate" && last.gate.kind === "getvar" && last.gate.name === name && last.gate.expect === expect)
      return;
    this.gate(
      { kind: "getvar", name, expect, fact },
      {
        title: `Check: ${fact} is ${expect}`,
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
    if (this.place === "bootloader") return;
    const from = this.place;
    if (from === "android-without-debugging") {
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
    this.place = "bootloader";
    if (this.serial)
      this.wantVar("serialno", this.serial, "serial number", "This is another device: stop, and compare the label");
    this.wantVar(
      "product",
      this.model.codename,
      "code name",
      "This is another board: stop. Nothing on this sheet suits it",
    );
  }

  toUserspace() {
    if (this.place === "userspace") return;
    this.toBootloader();
    this.command("fastboot", ["reboot", "fastboot"], {
      title: "Go to userspace fastboot",
      says: "The device restarts into a screen named fastbootd.",
      normal: "A menu with the word fastbootd",
      otherwise: "If Android starts instead, this model has no userspace fastboot: stop and correct the model's record",
      usual: 20,
      latest: 90,
    });
    this.place = "userspace";
    this.wantVar(
      "is-userspace",
      "yes",
      "userspace fastboot",
      "The device is still in the bootloader: repeat the step before once, then stop",
    );
  }

  /** Writes one file to a partition. */
  flash(
    partition: string,
    file: FileRef,
    seconds: number,
    words: readonly string[] = [],
    saying: Partial<Saying> = {},
  ) {
    this.command("fastboot", [...words, "flash", partition, { file: `${file.image}/${file.name}` }], {
      title: `Write ${partition}`,
      says: `Writes ${file.name} to ${partition}.`,
      normal: "Sending … OKAY, Writing … OKAY, Finished",
      otherwise: "On FAILED read the words behind it. Change lead or port and repeat this one part once; then stop",
      usual: Math.max(5, Math.round(seconds)),
      latest: Math.max(60, Math.round(seconds * 4)),
      ...saying,
    });
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
