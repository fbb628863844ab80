import type { Image } from "~/core/catalogue/image";
import type { Bench } from "./bench";
import type { FileRef, Word } from "./step";

/**
 * The files of an image as the sheet names them.
 *
 * @example filesOf(image)[0].name // "boot.img" …
 */
export const filesOf = (image: Image): FileRef[] =>
  image.files.map((f) => ({ image: image.id, name: f.name, bytes: f.bytes, sha256: f.sha256 }));

/**
 * The file of an image that goes to a partition.
 *
 * @example fileOn(image, "boot")?.name // "boot.img" …
 */
export const fileOn = (image: Image, partition: string): FileRef | undefined => {
  const at = image.files.findIndex((f) => f.partition === partition);
  return at < 0 ? undefined : filesOf(image)[at];
};

/**
 * Seconds a file takes to be written over the lead.
 *
 * @example writeSeconds(bench, image, fileOn(image, "system")) // 94 …
 */
export const writeSeconds = (bench: Bench, image: Image, file: FileRef) => {
  const size = image.files.find((f) => f.name === file.name);
  return (size?.expanded ?? file.bytes) / bench.model.writeRate;
};

/**
 * A partition's name on this device: with its slot where that is known, else with the slot read a moment before.
 *
 * @example ofSlot("boot", true, "a") // "boot_a"
 */
export const ofSlot = (partition: string, slots: boolean, slot: string | null): Word =>
  slots ? (slot ? `${partition}_${slot}` : { perSlot: partition }) : partition;

/**
 * A gate: the bootloader tells that it is unlocked.
 *
 * @example wantUnlocked(bench) // …
 */
export const wantUnlocked = (bench: Bench) =>
  bench.wantVar("unlocked", "yes", "bootloader unlocked", "The bootloader is locked: go back to the unlocking step", {
    key: "bootloader.locked",
    title: "Check: the bootloader is unlocked",
  });

/**
 * Saves the partitions that make the device itself, before anything but the recovery is written.
 *
 * @example backUpIdentity(bench) // …
 */
export function backUpIdentity(bench: Bench) {
  const { backup } = bench.policy;
  if (backup === "nothing") return;
  if (backup === "system-too")
    bench.hands("recovery.backup-system", {
      title: "Back up boot and system as well",
      says: "In the recovery's backup menu tick boot and system only, to a stick; never user data: it is the donor's.",
      normal: "A folder with the device's tag on the stick",
      otherwise: "No room on the stick: take a larger one, or go on without this",
      usual: 300,
      latest: 1200,
    });
  const { identity } = bench.model;
  if (identity.length > 0) {
    bench.gate(
      { kind: "keep", partitions: identity, how: "adb", sizes: {} },
      {
        title: "Save the partitions that make the device itself",
        says: `Pull ${identity.join(", ")} to this computer, one file each, and write down each file's name, bytes and SHA-256. They go back to this device only, never to another.`,
        normal: `${identity.length === 1 ? "One file" : `${identity.length} files`}, none of them empty`,
        otherwise:
          "The stock recovery may have come back: write the recovery again and be quicker with the keys. If the right one runs and can't read them, use its backup menu and a stick. Do not go on without them",
        usual: 30,
        latest: 600,
        neededBy: "getting calls back if the radio is lost",
      },
    );
    return;
  }
  bench.hands("recovery.backup-identity", {
    title: "Back up the identity partitions",
    says: "In the recovery's backup menu tick the identity and radio partitions only (never user data: it is the donor's), to a stick. Keep it with the device's tag: it goes back to this device only.",
    normal: "A folder with the device's tag on the stick",
    otherwise: "No stick found: reformat it as FAT32 and try again. Do not go on without this backup",
    usual: 120,
    latest: 600,
    neededBy: "getting calls back if the radio is lost",
  });
}

/**
 * Copies a package to the device and installs it from a custom recovery.
 *
 * @example installPackage(bench, rom, 300, "Installs the ROM.") // …
 */
export function installPackage(bench: Bench, image: Image, seconds: number, says: string) {
  const file = filesOf(image)[0];
  bench.command("adb", ["push", { file: `${image.id}/${file.name}` }, `/sdcard/${file.name}`], {
    title: `Copy ${image.title}`,
    says: "Copies the package, still zipped, to the device.",
    normal: "1 file pushed",
    otherwise: "If storage can't be read, bring the file on a stick",
    usual: Math.max(5, Math.round(file.bytes / 20_000_000)),
    latest: Math.max(120, Math.round(file.bytes / 4_000_000)),
  });
  bench.hands(`recovery.install.${image.id}`, {
    title: `Install ${image.title}`,
    says: `${says} In the recovery: Install, choose ${file.name}, swipe.`,
    normal: "Ends with “done” or status 0",
    otherwise:
      image.kind === "services" && bench.policy.errorSeven === "look"
        ? "“Error 7” here is often harmless: restart into the recovery and look whether the services are on system; if not, take a smaller add-on"
        : "“Error 7”: wrong device, wrong base or no room. Stop and note the line above it",
    usual: seconds,
    latest: seconds * 3,
  });
}

/**
 * Waits for a package in the recovery and sends it.
 *
 * @example sideload(bench, rom, 300) // …
 */
export function sideload(bench: Bench, image: Image, seconds: number) {
  const file = filesOf(image)[0];
  bench.hands("recovery.apply-from-adb", {
    title: "Choose “apply update from adb”",
    says: "In the recovery's menu: Apply update, Apply from adb.",
    normal: "The recovery waits for the package",
    otherwise: "Replug and choose it again",
    usual: 10,
    latest: 60,
  });
  bench.gate(
    { kind: "adb-state", state: "sideload" },
    {
      title: "Check: it waits for the package",
      says: "The client must see the device as “sideload”.",
      normal: "sideload",
      otherwise: "Choose “apply from adb” again",
      usual: 5,
      latest: 60,
    },
  );
  bench.command("adb", ["sideload", { file: `${image.id}/${file.name}` }], {
    title: `Sideload ${image.title}`,
    says: "The counter stops near 47 %: that is success.",
    normal: "Total xfer: 1.00x (or near), and the recovery says status 0",
    otherwise: "Read the line on the device. “Signature failed” can be confirmed; any other error: stop and note it",
    usual: seconds,
    latest: seconds * 3,
  });
}

/**
 * Formats data from the recovery's menu.
 *
 * @example formatInRecovery(bench) // …
 */
export function formatInRecovery(bench: Bench) {
  bench.hands("recovery.format-data", {
    title: "Format data",
    says: "In the recovery: Factory reset, Format data. Confirm.",
    normal: "Formatting … done",
    otherwise: "Restart into the recovery once and format again",
    usual: 30,
    latest: 900,
    neededBy: "the first start",
  });
}

/**
 * Formats data from the bootloader.
 *
 * @example eraseData(bench) // …
 */
export function eraseData(bench: Bench) {
  bench.command("fastboot", ["-w"], {
    title: "Format data",
    says: "Erases user data and its keys. Without this the new system can't start.",
    normal: "Erasing userdata … OKAY",
    otherwise: "If it errors: fastboot erase userdata, then fastboot erase metadata. The script does both by itself",
    usual: 20,
    latest: 900,
    neededBy: "the first start",
    // A client without the tools to make the file system errors here: the device makes its own at the first start.
    instead: [
      ["erase", "userdata"],
      ["erase", "metadata"],
    ],
  });
}

/**
 * Starts the system from wherever the device is, and waits for it.
 *
 * @example start(bench) // bench.mode is "android-without-debugging" …
 */
export function start(bench: Bench) {
  if (bench.mode === "recovery")
    bench.hands("recovery.start-system", {
      title: "Restart to the system",
      says: "In the recovery: Reboot system.",
      normal: "The animation starts",
      otherwise: "Hold power for 12 s, then start",
      usual: 10,
      latest: 60,
    });
  else if (bench.mode === "bootloader" || bench.mode === "userspace")
    bench.command("fastboot", ["reboot"], {
      title: "Restart to the system",
      says: "The first start takes longer than any other.",
      normal: "The animation starts",
      otherwise: "Hold power for 12 s, then start",
      usual: 10,
      latest: 60,
    });
  bench.hands("check.started", {
    title: "Wait for the first start",
    says: "Most take 4 to 5 minutes, some 10. Leave it alone.",
    normal: "The set-up screen",
    otherwise:
      "After 5 minutes of animation one forced restart (hold power), once. Still hanging after 10: choose “something is wrong”",
    usual: 270,
    latest: 600,
  });
  bench.mode = "android-without-debugging";
}
