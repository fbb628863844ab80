import type { Image } from "~/core/catalogue/image";
import type { OperationKind } from "~/core/upgrade/operations";
import type { Bench } from "./bench";
import {
  eraseData,
  fileOn,
  filesOf,
  formatInRecovery,
  installPackage,
  sideload,
  start,
  writeSeconds,
} from "./commonSteps";
import type { FileRef, Word } from "./step";

/** What the expansion of an operation may use. */
export interface Expansion {
  readonly bench: Bench;
  readonly image: Image | null;
  /** The current slot as far as the record still holds: an update over the air changes it. */
  readonly slot: { current: string | null };
  readonly build: { current: string | null };
}

/** A partition's name on this device: with its slot where that is known, else with the slot read a moment before. */
const ofSlot = (partition: string, slots: boolean, slot: string | null): Word =>
  slots ? (slot ? `${partition}_${slot}` : { perSlot: partition }) : partition;

const wantUnlocked = (bench: Bench) =>
  bench.wantVar("unlocked", "yes", "bootloader unlocked", "The bootloader is locked: go back to the unlocking step");

/** Turns each kind of operation into steps. */
export const EXPAND: Record<OperationKind, (x: Expansion) => void> = {
  "take-update": ({ bench, image, build, slot }) => {
    bench.hands(`android.take-update.${image!.id}`, {
      title: `Take the official update to Android ${image!.release}`,
      says: "Wi-Fi on, charger in. Settings, System, System update. Let it download, install and restart. Then look that the new version shows.",
      normal: `Settings shows Android ${image!.release}${image!.build ? `, build ${image!.build}` : ""}`,
      otherwise:
        "If no update is offered, correct date and time, restart, look again. If it fails twice, stop and note the message",
      usual: 1800,
      latest: 5400,
      neededBy: "everything that must match the build number",
    });
    build.current = image!.build;
    slot.current = null;
  },

  "allow-unlock": ({ bench }) => {
    const days = bench.model.unlock.waitingDays;
    bench.hands("android.allow-unlocking", {
      title: "Allow unlocking in the developer options",
      says: "Settings, About: tap the build number seven times. Then System, Developer options: switch on unlocking. This must be on before anything wipes the device.",
      normal: "The switch stays on after leaving the page",
      otherwise: "A greyed switch: go online once, wait a minute, look again. Still greyed: stop",
      usual: 60,
      latest: 300,
      neededBy: "Unlock the bootloader",
    });
    if (days > 0)
      bench.hands("android.request-unlock", {
        title: "Ask for the maker's unlock permission",
        says: `Ask for the permission in the developer options. The maker makes you wait ${days} days.`,
        normal: `A note that the permission comes in ${days} days`,
        otherwise:
          "If the device asks to sign in: use the workshop's own account, never a donor's; remove it afterwards",
        usual: 120,
        latest: 600,
        neededBy: "Unlock the bootloader",
      });
  },

  "wait-unlock": ({ bench }) => {
    bench.hands("android.wait-unlock", {
      title: `Wait ${bench.model.unlock.waitingDays} days for the permission`,
      says: "Label the device with the date, put it on the waiting shelf, leave it signed in to nothing. Come back on the day.",
      normal: "The permission page says that the device may be unlocked",
      otherwise: "If days are still missing, put it back: asking again starts the waiting anew",
      usual: 60,
      latest: 300,
      neededBy: "Unlock the bootloader",
    });
  },

  unlock: ({ bench }) => {
    const marks = bench.model.unlock.consequences;
    bench.toBootloader();
    bench.wantVar(
      "unlocked",
      "no",
      "bootloader locked",
      "It is unlocked already: tell the coordinator, the plan can be shorter",
    );
    bench.command("fastboot", bench.model.unlock.command.split(" "), {
      title: "Unlock the bootloader",
      says: "This wipes the device.",
      normal: "The device asks on its screen",
      otherwise: "“Not allowed” means that the switch in the developer options is off: start Android and switch it on",
      usual: 10,
      latest: 60,
      caution: `Unlocking wipes everything on it and may end the warranty.${marks.length ? ` For good: ${marks.join("; ")}.` : ""} Go on only if that is meant`,
      neededBy: "every step that writes a partition",
    });
    bench.hands("bootloader.confirm-unlock", {
      title: "Confirm unlocking on the device",
      says: "Choose “unlock” with the volume keys, confirm with the power key.",
      normal: "The start screen comes back and says unlocked",
      otherwise: "If Android starts, that is fine: switch off and start the bootloader by keys",
      usual: 60,
      latest: 300,
    });
    bench.place = "bootloader";
    wantUnlocked(bench);
  },

  "flash-stock": ({ bench, image, slot, build }) => {
    const { model } = bench;
    const pack = image!;
    bench.toBootloader();
    wantUnlocked(bench);
    const both = model.slots ? ["--slot=all"] : [];
    const radio = fileOn(pack, "radio");
    if (radio) {
      bench.flash("radio", radio, writeSeconds(bench, pack, radio), both, {
        title: model.slots ? "Write radio to both slots" : "Write radio",
      });
      bench.command("fastboot", ["reboot", "bootloader"], {
        title: "Restart the bootloader",
        says: "So that the new firmware is in use before the rest is written.",
        normal: "The start screen comes back",
        otherwise: "Start the bootloader by keys",
        usual: 15,
        latest: 90,
      });
    }
    const logical = (p: string | null) => model.logical && (p === "system" || p === "product");
    const plain = pack.files.filter((f) => f.partition && f.partition !== "radio" && !logical(f.partition));
    for (const f of plain) {
      const file = fileOn(pack, f.partition as string) as FileRef;
      bench.flash(f.partition as string, file, writeSeconds(bench, pack, file), both);
    }
    const resized = pack.files.filter((f) => logical(f.partition));
    if (resized.length) {
      bench.toUserspace();
      for (const f of resized) {
        const file = fileOn(pack, f.partition as string) as FileRef;
        if (f.partition === "product") {
          bench.readSlot(slot.current);
          bench.command("fastboot", ["create-logical-partition", ofSlot("product", model.slots, slot.current), "0"], {
            title: "Make sure product is there",
            says: "A device that ran a generic image may have lost its product partition.",
            normal: "OKAY, or a message that it exists already: both are right",
            otherwise: "Go on: the next step shows whether product is there",
            usual: 5,
            latest: 60,
            mayFail: true,
          });
        }
        bench.flash(f.partition as string, file, writeSeconds(bench, pack, file));
      }
    }
    eraseData(bench);
    build.current = pack.build;
  },

  "flash-recovery": ({ bench, image }) => {
    bench.toBootloader();
    wantUnlocked(bench);
    for (const f of image!.files) {
      const file = fileOn(image!, f.partition as string) as FileRef;
      bench.flash(f.partition as string, file, writeSeconds(bench, image!, file));
    }
    if (image!.flavour === "rom") {
      bench.command("fastboot", ["reboot", "recovery"], {
        title: "Start the ROM's own recovery",
        says: "The device restarts into the recovery that was just written.",
        normal: "The recovery's menu",
        otherwise: "If it loops, start the bootloader by keys and write the parts again",
        usual: 30,
        latest: 120,
      });
    } else {
      bench.hands("keys.recovery", {
        title: "Start straight into the recovery by keys",
        says: `${bench.model.keys.recovery}. Do not let Android start: the stock system puts its own recovery back.`,
        normal: `The menu of ${image!.title}`,
        otherwise: "If Android starts, write the recovery again and be quicker with the keys",
        usual: 30,
        latest: 120,
        neededBy: "every package that is installed",
      });
    }
    bench.place = "recovery";
    bench.gate(
      { kind: "adb-state", state: "recovery" },
      {
        title: "Check: the recovery answers",
        says: "The client must see the device as “recovery”.",
        normal: "recovery",
        otherwise: "Replug. If it stays silent, start the recovery again by keys",
        usual: 10,
        latest: 60,
      },
    );
  },

  "install-firmware-pack": ({ bench, image }) =>
    installPackage(bench, image!, 120, "Installs the firmware that the ROM needs."),

  "install-rom": ({ bench, image }) => {
    if (image!.installs === "sideload") {
      formatInRecovery(bench);
      sideload(bench, image!, 420);
      return;
    }
    bench.hands("recovery.backup-identity", {
      title: "Back up the identity partitions",
      says: "In the recovery's backup menu tick the identity and radio partitions only (never user data: it is the donor's), to a stick. Keep it with the device's tag.",
      normal: "A folder with the device's tag on the stick",
      otherwise: "No stick found: reformat it as FAT32 and try again. Do not go on without this backup",
      usual: 120,
      latest: 600,
      neededBy: "getting calls back if the radio is lost",
    });
    bench.hands("recovery.wipe-advanced", {
      title: "Wipe cache, dalvik, system and data",
      says: "Wipe, Advanced: tick exactly cache, dalvik, system, data. Leave everything else alone.",
      normal: "Done, without an error in red",
      otherwise: "If data can't be mounted, go on: it is formatted later",
      usual: 30,
      latest: 900,
    });
    installPackage(bench, image!, 300, "Copies the ROM and installs it. Leave the package zipped.");
  },

  "install-services": ({ bench, image }) => {
    const sideloaded = bench.steps.some((s) => s.code.startsWith("adb.sideload"));
    if (!sideloaded) {
      installPackage(bench, image!, 120, "Before the first start, or the set-up hangs for ever.");
      return;
    }
    bench.hands("recovery.install-more", {
      title: "Install more packages: yes",
      says: "The recovery asks whether to install more. Choose yes: it restarts itself.",
      normal: "The recovery's menu again",
      otherwise: "If the phone started Android, format data and sideload the ROM again",
      usual: 45,
      latest: 180,
      neededBy: "the services add-on, which must go on before the first start",
    });
    sideload(bench, image!, 150);
  },

  "flash-verification": ({ bench, image, slot, build }) => {
    bench.toBootloader();
    wantUnlocked(bench);
    bench.readSlot(slot.current);
    const file = filesOf(image!)[0];
    bench.flash("vbmeta", file, 2, ["--disable-verity", "--disable-verification"], {
      title: "Write the verification file, verification off",
      says: `It belongs to build ${image!.build}${build.current ? ", which is what is installed" : ""}. Another build's file stops the device from starting.`,
    });
  },

  "remove-product": ({ bench, slot }) => {
    const { model } = bench;
    if (model.slots) {
      bench.toBootloader();
      bench.readSlot(slot.current);
    }
    bench.toUserspace();
    bench.command("fastboot", ["delete-logical-partition", ofSlot("product", model.slots, slot.current)], {
      title: "Remove the product partition",
      says: "Makes room for the image. The slot is this device's own, not the one of a tutorial.",
      normal: "Deleting … OKAY",
      otherwise: "“No such file” means another slot: stop and read current-slot again",
      usual: 5,
      latest: 60,
      neededBy: "Write system",
    });
  },

  "install-gsi": ({ bench, image }) => {
    const { model } = bench;
    if (model.logical && model.userspaceFastboot) bench.toUserspace();
    else bench.toBootloader();
    wantUnlocked(bench);
    bench.command("fastboot", ["erase", "system"], {
      title: "Erase system",
      says: "Clears the old system.",
      normal: "Erasing … OKAY",
      otherwise: "A failure here may be passed over when the next step works",
      usual: 10,
      latest: 120,
      mayFail: true,
    });
    const file = filesOf(image!)[0];
    const seconds = writeSeconds(bench, image!, file);
    bench.flash("system", file, seconds, [], {
      says: `Writes ${file.name} in several parts. Do not touch the lead.`,
      otherwise:
        "“Not enough space to resize” means that the image does not fit: stop. Any other failure: repeat once on another port",
      latest: Math.max(1200, Math.round(seconds * 3)),
      neededBy: "the first start",
    });
  },

  "format-data": ({ bench }) => {
    if (bench.place === "recovery") formatInRecovery(bench);
    else eraseData(bench);
  },

  "factory-reset": ({ bench }) => {
    bench.hands("android.factory-reset", {
      title: "Reset from Settings",
      says: "Settings, System, Reset: erase everything. From Settings, never by keys: only so is the account released properly.",
      normal: "It restarts to the set-up screen, in the first language",
      otherwise: "If it asks for an earlier account afterwards, stop: the device goes back to Clearance",
      usual: 480,
      latest: 1200,
    });
    bench.place = "android-without-debugging";
  },

  "start-and-check": ({ bench }) => {
    start(bench);
    bench.hands("android.finish-setup", {
      title: "Walk through the set-up, skip every account",
      says: "Skip the account, skip the screen lock. Then test Wi-Fi, and mobile with the workshop's SIM.",
      normal: "Wi-Fi connects; the status bar shows a network on phones",
      otherwise: "No network and no baseband version: stop, restore the identity backup. Do not lock",
      usual: 240,
      latest: 900,
      neededBy: "Lock the bootloader again",
    });
    bench.place = "android-without-debugging";
  },

  relock: ({ bench }) => {
    bench.toBootloader();
    wantUnlocked(bench);
    bench.command("fastboot", ["flashing", "lock"], {
      title: "Lock the bootloader again",
      says: "Only because the device is wholly stock and has just started well. This wipes it once more.",
      normal: "The device asks on its screen",
      otherwise: "If it refuses, leave it unlocked and note the message",
      usual: 10,
      latest: 60,
      caution:
        "Locking a device with anything modified on it kills it. Everything on this one is the maker's own and it has started. Locking wipes it again",
    });
    bench.hands("bootloader.confirm-lock", {
      title: "Confirm locking on the device",
      says: "Choose “lock” with the volume keys, confirm with the power key.",
      normal: "The start screen says locked",
      otherwise: "If it warns of a foreign system, choose “do not lock” and stop",
      usual: 60,
      latest: 300,
    });
    bench.wantVar("unlocked", "no", "bootloader locked", "It is still unlocked: note the message and stop");
  },
};
