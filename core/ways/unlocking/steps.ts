import { wantUnlocked } from "~/core/runbook/commonSteps";
import type { Steps } from "~/core/runbook/steps";

const DAY = 86_400;

/** The switch in the developer options; where the maker makes people wait, the permission asked for. */
export function allowSteps({ bench }: Steps) {
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
      says: `Ask for the permission in the developer options. The maker makes you wait ${days} days. If it asks to sign in: use the workshop's own account, never a donor's.`,
      normal: `A note that the permission comes in ${days} days`,
      otherwise: "If it refuses, stop and note the message",
      usual: 120,
      latest: 600,
      neededBy: "Unlock the bootloader",
    });
}

/** The device comes back from the shelf days later: what was seen before is looked at again. */
export function waitSteps({ bench, build }: Steps) {
  const days = bench.model.unlock.waitingDays;
  bench.hands("android.wait-unlock", {
    title: `Wait ${days} days for the permission`,
    says: "Label the device with the date, put it on the waiting shelf, automatic updates off. Come back on the day.",
    normal: "The permission page says that the device may be unlocked",
    otherwise: "If days are still missing, put it back: asking again starts the waiting anew",
    usual: days * DAY,
    latest: (days + 3) * DAY,
    neededBy: "Unlock the bootloader",
  });
  bench.battery();
  bench.wantAdb("device");
  if (build.current) bench.wantBuild(build.current);
  bench.hands("android.remove-workshop-account", {
    title: "Take the workshop's account off again",
    says: "Settings, Accounts: the list must be empty. Remove the account that the permission was asked with, then restart once.",
    normal: "The account list is empty",
    otherwise: "An account that can't be removed: stop. Unlocking would leave the device asking for it",
    usual: 60,
    latest: 300,
    neededBy: "Unlock the bootloader",
  });
}

/** What can't be undone confirmed, the model's own command, the lock read again. */
export function unlockSteps({ bench }: Steps) {
  const { consequences, command } = bench.model.unlock;
  bench.toBootloader();
  bench.wantVar(
    "unlocked",
    "no",
    "bootloader locked",
    "It is unlocked already: tell the coordinator, the plan can be shorter",
    { key: "bootloader.locked", title: "Check: still locked" },
  );
  bench.command("fastboot", command.split(" "), {
    title: "Unlock the bootloader",
    says: "This wipes the device.",
    normal: "The device asks on its screen",
    otherwise: "“Not allowed” means that the switch in the developer options is off: start Android and switch it on",
    usual: 10,
    latest: 60,
    caution: `Unlocking wipes everything on it and may end the warranty.${consequences.length ? ` For good: ${consequences.join("; ")}.` : ""} Go on only if that is meant`,
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
  bench.mode = "bootloader";
  wantUnlocked(bench);
}
