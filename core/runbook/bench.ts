import type { Model } from "~/core/catalogue/model";
import type { Policy } from "~/core/policy/policy";
import type { FileRef } from "./step";
import { type DeviceMode, type Saying, StepWriter } from "./stepWriter";

/** Percent below which nothing is ever written. Common practice, no source: some accept 30, most 50 to 60. */
export const HARD_STOP = 30;

/** Knows where the device is, so that going from one place to another is never forgotten and never done twice. */
export class Bench extends StepWriter {
  constructor(
    model: Model,
    mode: DeviceMode,
    private readonly serial: string | null,
    policy: Policy,
  ) {
    super(model, mode, policy);
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

const toBootloaderSaying = {
  title: "Go to the bootloader",
  says: "The device restarts into its start screen.",
  normal: "The start screen shows, with the word fastboot or bootloader",
  otherwise: "If nothing happens in a minute: replug, another port, the original lead",
  usual: 15,
  latest: 90,
};
