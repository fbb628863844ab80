import { maskNumber } from "~/core/device/imei";
import type { Way } from "~/core/upgrade/way";
import type { Bench } from "./bench";
import type { FileRef } from "./step";

export interface Preparation {
  readonly computer: boolean;
  readonly files: readonly FileRef[];
  readonly serial: string | null;
  readonly imei: string | null;
  readonly build: string | null;
  readonly way: Way;
}

/** Everything before the first operation: files, a look at the device, its identity written down, accounts, debugging, battery. */
export function prepare(bench: Bench, about: Preparation) {
  if (about.files.length)
    bench.gate(
      { kind: "digests", files: about.files },
      {
        title: "Check the files",
        says: "Every file must be in the folder, with the digest of the list.",
        normal: "All digests agree",
        otherwise: "Fetch the named file again: a download that was cut short is the usual reason",
        usual: 60,
        latest: 600,
      },
    );
  bench.hands("check.label", {
    title: "Look at the device",
    says: "The tag on the device is the tag on this sheet. Battery not swollen, not hot, not wet: otherwise stop, do not charge, do not press, set it aside.",
    normal: "The tag agrees; the device looks sound",
    otherwise: "Stop and tell the coordinator",
    usual: 20,
    latest: 120,
  });
  if (bench.mode === "off") prepareOff(bench, about);
  else prepareRunning(bench, about);
}

/** A device that does not start is charged first, and told by its bootloader where it has fastboot. */
function prepareOff(bench: Bench, { computer }: Preparation) {
  if (bench.model.form !== "box")
    bench.hands("check.charged", {
      title: "Charge it for 30 minutes first",
      says: "A battery that may be empty gets 30 minutes of charge before anything else is tried.",
      normal: "It was on charge for 30 minutes",
      otherwise: "It gets hot or swells: take it off the charger, set it aside, tell the coordinator",
      usual: 1800,
      latest: 3600,
    });
  // Without fastboot nothing tells which device this is before its own mode is started: that is a step of the way.
  if (!computer || bench.model.flash !== "fastboot") return;
  bench.toBootloader();
  bench.battery();
  if (bench.model.form === "phone") bench.record("getvar", "version-baseband", "the radio version");
}

/** Without a computer nobody compares numbers but the volunteer. */
function byHandSerial(bench: Bench, { serial }: Preparation) {
  const radio = bench.model.form === "phone" ? ", and the baseband version" : "";
  bench.hands("check.serial", {
    title: serial ? `Settings, About: the serial number ends ${serial.slice(-4)}` : "Write the serial number down",
    says: serial
      ? `Settings, About, Status.${radio ? " Write the baseband version into the device's record." : ""} At Checkout it must be the same.`
      : `Settings, About, Status: write the serial number${radio} into the device's record. At Checkout it must be the same.`,
    normal: serial ? "It is the one on the label" : "A number",
    otherwise: "Another number: stop. This is another device, or its identity is damaged already",
    usual: 30,
    latest: 180,
    neededBy: "seeing at the end that its identity is still there",
  });
}

function prepareRunning(bench: Bench, about: Preparation) {
  if (about.way.operations.length && bench.model.form === "phone")
    bench.hands("check.identity", {
      title: about.imei ? `Dial *#06#: the IMEI ends ${maskNumber(about.imei)}` : "Dial *#06# and write the IMEI down",
      says: about.imei
        ? "Compare it with the label. At Checkout it must be the same."
        : "Write it into the device's record. At Checkout it must be the same.",
      normal: about.imei ? "It is the one on the label" : "15 digits",
      otherwise: "Another number, or none: stop. This is another device, or its identity is damaged already",
      usual: 30,
      latest: 180,
      neededBy: "seeing at the end that its identity is still there",
    });
  if (!about.computer) {
    if (about.way.operations.length) byHandSerial(bench, about);
    bench.handsBattery();
  }
  bench.hands("android.remove-accounts", {
    title: "Screen lock off, every account removed",
    says: "Settings: screen lock to none, fingerprints and faces deleted, every account removed. Then one restart.",
    normal: "The account list is empty and no lock is asked for after the restart",
    otherwise: "An account that can't be removed: stop. The device goes back to Clearance",
    usual: 120,
    latest: 600,
    neededBy: "every step that wipes",
    makes: { "accounts.on": false },
  });
  if (!about.computer) return;
  bench.debugging();
  if (about.serial)
    bench.gate(
      { kind: "getprop", name: "ro.serialno", expect: about.serial, fact: "serial number" },
      {
        title: `Check: serial number ends ${about.serial.slice(-4)}`,
        says: "It must be this device.",
        normal: "The serial numbers agree",
        otherwise: "This is another device: stop, and compare the label",
      },
    );
  if (about.build) bench.wantBuild(about.build);
  bench.battery();
  if (bench.model.form === "phone") bench.record("getprop", "gsm.version.baseband", "the radio version");
}
