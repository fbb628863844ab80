import { describeRelease } from "~/core/android/releases";
import type { Image } from "~/core/catalogue/image";
import { type Model, modelTitle } from "~/core/catalogue/model";
import { maskNumber } from "~/core/device/imei";
import type { CurrentFacts } from "~/core/device/lookUp";
import { currentValue } from "~/core/device/lookUp";
import type { Policy } from "~/core/policy/policy";
import type { OperationKind } from "~/core/upgrade/operations";
import type { Way } from "~/core/upgrade/way";
import { Bench } from "./bench";
import { start } from "./commonSteps";
import { EXPAND } from "./expand";
import type { FileRef, Runbook } from "./step";

export interface RunbookRequest {
  readonly tag: string;
  readonly serial: string | null;
  readonly model: Model;
  readonly facts: CurrentFacts;
  readonly way: Way;
  readonly image: (id: string) => Image | undefined;
  readonly policy: Policy;
}

/** Operations done on the device alone, without a computer. */
const WITHOUT_COMPUTER: ReadonlySet<OperationKind> = new Set(["take-update", "factory-reset"]);

/**
 * Writes the exact sheet for a device and a way: preparation, each operation's steps, first start.
 *
 * @throws RangeError when the way names an image that the catalogue does not have
 */
export function writeRunbook(request: RunbookRequest): Runbook {
  const { model, facts, way, tag, policy } = request;
  const images = way.operations.map((o) => {
    if (o.image === null) return null;
    const image = request.image(o.image);
    if (!image) throw new RangeError(`The catalogue has no image “${o.image}” any more: plan the device again`);
    return image;
  });
  const computer = way.operations.some((o) => !WITHOUT_COMPUTER.has(o.kind));
  const bench = new Bench(model, "android", request.serial);
  const build = { current: currentValue<string>(facts, "build.number") ?? null };
  // An official update comes over the air: only what the bench writes is fetched beforehand.
  const files: FileRef[] = images
    .filter((i): i is Image => i !== null && i.kind !== "official-update")
    .flatMap((i) => i.files.map((f) => ({ image: i.id, name: f.name, bytes: f.bytes, sha256: f.sha256 })));

  prepare(bench, { computer, files, policy, serial: request.serial, build: build.current });
  const slot = { current: model.slots ? (currentValue<string>(facts, "slot.current") ?? null) : null };
  way.operations.forEach((operation, i) => {
    bench.beginOperation(i);
    EXPAND[operation.kind]({ bench, image: images[i], slot, build });
  });
  bench.beginOperation(way.operations.length);
  const last = bench.steps.at(-1);
  if (
    last?.code.startsWith("android.factory-reset") ||
    bench.place === "bootloader" ||
    bench.place === "recovery" ||
    bench.place === "userspace"
  )
    start(bench);
  bench.hands("check.release", {
    title: `Look: Settings shows Android ${way.release}`,
    says: `Skip through the set-up without an account, or look on the set-up's first page. It must say Android ${way.release}. Then hand the device to Checkout.`,
    normal: `Android ${way.release}${way.patch ? `, security patch ${way.patch}` : ""}`,
    otherwise: "Another version: choose “something is wrong” and write down what it says",
    usual: 120,
    latest: 600,
  });

  const release = currentValue<string>(facts, "android.release");
  return {
    format: "upshift-lane-runbook",
    version: 1,
    tag,
    model: model.id,
    modelTitle: modelTitle(model),
    serialEnd: request.serial ? maskNumber(request.serial) : null,
    way: way.id,
    from: release ? `Android ${release}` : "an unknown Android version",
    to: describeRelease(way.api),
    promisedRelease: way.release,
    promisedApi: way.api,
    files,
    cautions: cautionsOf(way, model),
    steps: bench.steps,
  };
}

function prepare(
  bench: Bench,
  about: { computer: boolean; files: readonly FileRef[]; policy: Policy; serial: string | null; build: string | null },
) {
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
  bench.hands("check.battery", {
    title: `Battery at ${about.policy.batteryFloor} % or more`,
    says: `Charge it to ${about.policy.batteryFloor} % first. Below 30 % nothing is written.`,
    normal: `${about.policy.batteryFloor} % or more`,
    otherwise: "Put it on charge and take the next device",
    usual: 10,
    latest: 60,
  });
  bench.hands("android.remove-accounts", {
    title: "Screen lock off, every account removed",
    says: "Settings: screen lock to none, fingerprints and faces deleted, every account removed. Then one restart.",
    normal: "The account list is empty and no lock is asked for after the restart",
    otherwise: "An account that can't be removed: stop. The device goes back to Clearance",
    usual: 120,
    latest: 600,
    neededBy: "every step that wipes",
  });
  if (!about.computer) return;
  bench.hands("android.enable-debugging", {
    title: "Switch on debugging",
    says: "Settings, About: tap the build number seven times. Then System, Developer options: USB debugging on.",
    normal: "The switch stays on",
    otherwise: "At the set-up screen: walk through it without an account first",
    usual: 60,
    latest: 300,
    neededBy: "Go to the bootloader",
  });
  bench.hands("android.authorise-computer", {
    title: "Allow this computer",
    says: "Plug the lead in. On the device: allow debugging from this computer.",
    normal: "The client shows the device, not “unauthorized”",
    otherwise: "Replug; toggle debugging; revoke authorisations; original lead; a USB 2 port",
    usual: 20,
    latest: 300,
  });
  bench.gate(
    { kind: "adb-state", state: "device" },
    {
      title: "Check: the device answers",
      says: "The client must see the device as “device”.",
      normal: "device",
      otherwise: "Replug; toggle debugging; original lead; a USB 2 port",
      latest: 90,
    },
  );
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
  if (about.build)
    bench.gate(
      { kind: "getprop", name: "ro.build.display.id", expect: about.build, fact: "build number" },
      {
        title: "Check: the build number",
        says: `It must be exactly ${about.build}: companion files depend on it.`,
        normal: about.build,
        otherwise: "The device was updated since it was read: read it again and print a new sheet",
      },
    );
}

function cautionsOf(way: Way, model: Model): string[] {
  const cautions = [
    "Swollen, hot, punctured or wet battery: do not charge, do not press, do not open. Isolate it and hand it to a battery collection point. Opening devices is for trained people.",
    "The donor's data is theirs: do not look, do not copy.",
    "If an earlier account is asked for at any time, stop: the device goes back to Clearance.",
  ];
  if (model.firmware.dangerous.length)
    cautions.push(
      `Switch automatic updates off: firmware ${model.firmware.dangerous.map((d) => `${d.from} to ${d.to}`).join(", ")} kills boards.`,
    );
  cautions.push(...model.quirks.filter((q) => q.at === "always").map((q) => `On this model: ${q.says}.`));
  if (way.irreversible.length) cautions.push(`Can't be undone: ${way.irreversible.join("; ")}.`);
  if (model.form === "phone")
    cautions.push("A phone that goes to a person must place calls, or be labelled as not a phone.");
  if (way.patch && way.basePatch && way.basePatch < way.patch)
    cautions.push(`System patch ${way.patch}, vendor part ${way.basePatch}: it is not fully patched.`);
  cautions.push("Local rules and the law come before this sheet.");
  return cautions;
}
