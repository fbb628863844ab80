import type { Bench } from "~/core/runbook/bench";
import { eraseData, formatInRecovery, ofSlot, start } from "~/core/runbook/commonSteps";
import type { Step } from "~/core/runbook/step";
import type { DeviceMode } from "~/core/runbook/stepWriter";
import { modeAt } from "./modeAt";
import { type Next, RESCUE, type Remedy, type Where } from "./plan";
import type { SeenTrouble } from "./seen";

const open = ({ runbook, place }: Where): Step | undefined => runbook.steps[place];
const code = (where: Where) => open(where)?.code ?? "";
const isFastboot = ({ model }: Where) => model.flash === "fastboot";

/** Place of the nearest step before the open one, or that one itself, whose code matches; -1 for none. */
const lastBefore = ({ runbook, place }: Where, pattern: RegExp) =>
  runbook.steps.findLastIndex((s, i) => i <= place && pattern.test(s.code));

const backTo = (where: Where, place: number, says: string): Next => ({
  kind: "back",
  place,
  says: `${says}: back to step ${place + 1}, “${where.runbook.steps[place].title}”`,
});
const again = (where: Where, says: string): Next => backTo(where, where.place, says);

/** First step that writes the system that should run: fastboot, recovery, flasher or card. */
const WRITES =
  /^(fastboot\.(erase|flash|delete|reboot-fastboot)|flasher\.(stock|rows|restore)|recovery\.(install|wipe)|adb\.(push|sideload)|keys\.card-update)/;

/** The first write of the last operation before the open step that wrote anything. */
function firstWrite({ runbook, place }: Where): number {
  const last = runbook.steps.findLastIndex((s, i) => i <= place && WRITES.test(s.code));
  if (last < 0) return -1;
  const { operation } = runbook.steps[last];
  return runbook.steps.findIndex((s) => s.operation === operation && WRITES.test(s.code));
}

const isStart = (where: Where) => /^check\.(started|release)/.test(code(where));
const inRecovery = (where: Where) =>
  /^(recovery\.|adb\.(push|sideload)|gate\.(recovery|sideload|keep))/.test(code(where));

/** Formats data by the interface the model has, from wherever keys lead. */
function format(bench: Bench, where: Where) {
  bench.mode = "off";
  if (isFastboot(where)) {
    bench.toBootloader();
    eraseData(bench);
    return;
  }
  bench.keysToRecovery("the recovery that is on it");
  formatInRecovery(bench);
}

/** From a device on which nothing starts to the mode that a step is done in. */
function goTo(bench: Bench, mode: DeviceMode) {
  if (mode === "bootloader") bench.toBootloader();
  else if (mode === "userspace") bench.toUserspace();
  else if (mode === "download") bench.toDownload();
  else if (mode === "loader") bench.toLoader();
  else if (mode === "recovery") {
    bench.keysToRecovery("the recovery that was written");
    bench.wantAdb("recovery");
  }
}

function forceRestart(bench: Bench) {
  bench.hands("keys.start", {
    title: "Force one restart",
    says: "Hold power for 12 s until it goes dark, let go, start it. Once, not again.",
    normal: "The animation, then the set-up within 10 minutes",
    otherwise: "It hangs again: go on here",
    usual: 300,
    latest: 600,
  });
}

export const REMEDIES: Record<SeenTrouble, Remedy> = {
  "animation-hangs": {
    fits: isStart,
    write(bench, where) {
      forceRestart(bench);
      format(bench, where);
      start(bench);
      return { next: again(where, "When the set-up comes"), still: RESCUE };
    },
  },
  "restarts-again": {
    fits: isStart,
    write(bench, where) {
      format(bench, where);
      const verification = lastBefore(where, /vbmeta|flasher\.recovery/);
      if (verification >= 0)
        bench.hands("check.label", {
          title: "Look: the verification file's build",
          says: `Step ${verification + 1} wrote it: “${where.runbook.steps[verification].says}” Compare that build with the device's record, letter by letter.`,
          normal: "It is the build that lies under the system",
          otherwise: "Another build: fetch the right file, and take a new sheet",
          usual: 60,
          latest: 300,
        });
      start(bench);
      return { next: again(where, "When the set-up comes") };
    },
  },
  "start-screen-only": {
    fits: (where) => isStart(where) && firstWrite(where) >= 0,
    write(bench, where) {
      const first = firstWrite(where);
      bench.mode = "off";
      goTo(bench, modeAt(where.runbook.steps, first));
      return { next: backTo(where, first, "Write it again") };
    },
  },
  "stock-recovery": {
    fits: (where) => inRecovery(where) && lastBefore(where, /flash-recovery|flasher\.recovery/) >= 0,
    write(bench, where) {
      bench.mode = "off";
      if (where.model.flash === "download-mode") bench.toDownload();
      else bench.toBootloader();
      const place = lastBefore(where, /flash-recovery|flasher\.recovery/);
      return { next: backTo(where, place, "Write the recovery again and be quicker with the keys") };
    },
  },
  "error-seven-system": {
    fits: (where) => /^recovery\.install(-queued)?\./.test(code(where)) && !isAddOn(where),
    write(bench, where) {
      bench.hands("check.label", {
        title: "Read the line above “error 7”",
        says: `It names a device, a base or room. This one is ${where.model.codename}. Another code name: the package is for another device. A base or firmware: another base. “Not enough space”: no room.`,
        normal: "One of the three, written down word for word",
        otherwise: "No line above: photograph the screen",
        usual: 60,
        latest: 300,
      });
      return {
        next: {
          kind: "end",
          result: "does-not-start",
          says: "End the run with that line as what you see: nothing is forced. The device is planned anew, with the right base first",
        },
      };
    },
  },
  "error-seven-addon": {
    fits: (where) => /^recovery\.install\./.test(code(where)) && isAddOn(where),
    write(bench, where) {
      bench.mode = "recovery";
      if (where.policy.errorSeven === "stop") return { next: RESCUE };
      bench.command("adb", ["shell", "ls", "/system/product/priv-app", "/system/priv-app"], {
        title: "Look whether the services are there",
        says: "Lists what the add-on should have brought.",
        normal: "Names of services packages are in the list",
        otherwise: "They are missing: a smaller add-on, with a new sheet",
        usual: 10,
        latest: 60,
        mayFail: true,
      });
      return {
        next: { kind: "on", says: "They are there: say done, the line was harmless here" },
        still: {
          kind: "end",
          result: "does-not-start",
          says: "They are missing: end the run and take a smaller add-on at Match",
        },
      };
    },
  },
  "storage-unreadable": {
    fits: (where) => /^adb\.push/.test(code(where)) || /^recovery\.install/.test(code(where)),
    write(bench, where) {
      bench.mode = "recovery";
      formatInRecovery(bench);
      bench.hands("recovery.restart-recovery", {
        title: "Restart into the recovery",
        says: "In the recovery: Reboot, Recovery. Before anything is copied, or the storage stays unreadable.",
        normal: "The recovery's menu, and storage shows its size",
        otherwise: "Storage shows 0 still: bring the files on a stick",
        usual: 40,
        latest: 180,
      });
      bench.wantAdb("recovery");
      const push = lastBefore(where, /^adb\.push/);
      return { next: push >= 0 ? backTo(where, push, "Copy again") : again(where, "Try again") };
    },
  },
  "format-errors": {
    fits: (where) => isFastboot(where) && /^fastboot\.-w/.test(code(where)),
    write(bench) {
      for (const partition of ["userdata", "metadata"])
        bench.command("fastboot", ["erase", partition], {
          title: `Erase ${partition}`,
          says: "The device makes its own file system at the next start.",
          normal: "Erasing … OKAY",
          otherwise:
            partition === "metadata"
              ? "Older models have no metadata: that is right"
              : "FAILED: another lead or port, once",
          usual: 10,
          latest: 120,
          mayFail: partition === "metadata",
        });
      return { next: { kind: "on", says: "Both are erased: say done" } };
    },
  },
  "erase-errors": {
    fits: (where) =>
      isFastboot(where) && where.model.logical && /^fastboot\.(erase-system|flash-system)/.test(code(where)),
    write(bench, where) {
      bench.toUserspace(true);
      bench.readSlot(null);
      bench.command("fastboot", ["delete-logical-partition", ofSlot("product", where.model.slots, null)], {
        title: "Remove product of the slot just read",
        says: "Makes room. The slot is this device's own, not the one of a tutorial.",
        normal: "Deleting … OKAY",
        otherwise: "“No such file”: it is gone already, go on",
        usual: 5,
        latest: 60,
        mayFail: true,
      });
      return { next: again(where, "Then go on") };
    },
  },
  "nothing-on-computer": {
    fits: (where) =>
      /^(gate\.(device|recovery|sideload|serialno|unlocked|product|is-userspace)|fastboot\.|adb\.|flasher\.)/.test(
        code(where),
      ),
    write(bench, where) {
      const look = (name: string, says: string, normal: string) =>
        bench.hands("check.label", {
          title: name,
          says,
          normal,
          otherwise: "Still nothing: go on here",
          usual: 30,
          latest: 180,
        });
      look(
        "The original lead, another port",
        "Take the lead that came with it, or one that carries data; a USB 2 port, no hub.",
        "The client lists it",
      );
      look(
        "Driver, and the question on its screen",
        "On Windows the driver for this mode; on the device: allow this computer, or revoke and allow anew.",
        "The client lists it",
      );
      bench.mode = "off";
      if (isFastboot(where) && /^(gate\.(serialno|unlocked|product)|fastboot\.)/.test(code(where)))
        bench.toBootloader();
      return { next: again(where, "When it is listed") };
    },
  },
  dark: {
    fits: () => true,
    write(bench, where) {
      bench.hands("check.charged", {
        title: "Keys for 30 s, then 30 minutes of charge",
        says: "Hold power for 30 s, then power and volume down for 30 s. Next charge it for 30 minutes with the original charger. Hot or swelling: off the charger, set it aside.",
        normal: "A charging picture, or it starts",
        otherwise: "Dark still: go on here",
        usual: 1900,
        latest: 3600,
        caution:
          "A battery that gets hot or swells can burn: stop, keep it away from everything, follow the local rules",
      });
      bench.mode = "off";
      if (where.model.flash === "loader") bench.toLoader();
      else if (where.model.flash === "download-mode") bench.toDownload();
      else bench.toBootloader();
      return {
        next: {
          ...RESCUE,
          says: "It answers in that mode: end the run as “does not start”, the rescue is planned from there",
        } as Next,
        still: {
          kind: "end",
          result: "dead",
          says: "Nothing answers: end the run as dead, for parts, and write down what was being done",
        },
      };
    },
  },
};

/** The open step installs a services add-on. */
function isAddOn(where: Where): boolean {
  const operation = where.runbook.operations[open(where)?.operation ?? -1];
  return operation?.kind === "install-services";
}
