import { ROLE_WORDS } from "~/core/catalogue/packageList";
import type { Steps } from "~/core/runbook/steps";
import type { IndexedImage } from "~/core/upgrade/catalogueIndex";

/** Set-up skipped, packages counted, home screen and keyboard put in and tried, then each package taken away and counted again. */
export function cleanStockSteps({ bench, build }: Steps, { image }: IndexedImage) {
  const { packages } = image;
  if (!packages) return;
  skipSetUp({ bench });
  if (build.current) bench.wantBuild(build.current);
  bench.measure("before");
  for (const role of ["home", "keyboard"] as const) {
    const replacement = packages[role];
    if (!replacement) continue;
    const { file, component } = replacement;
    const what = ROLE_WORDS[role];
    bench.command("adb", ["install", "-g", { file: `${image.id}/${file}` }], {
      title: `Install the new ${what}`,
      says: `Installs ${file} and grants what it asks for.`,
      normal: "Success",
      otherwise: "“INSTALL_FAILED_OLDER_SDK”: this app needs a newer Android; stop, the list needs another one",
      usual: 15,
      latest: 180,
    });
    const words =
      role === "home"
        ? [["shell", "cmd", "package", "set-home-activity", component]]
        : [
            ["shell", "ime", "enable", component],
            ["shell", "ime", "set", component],
          ];
    for (const command of words)
      bench.command("adb", command, {
        title:
          role === "home"
            ? "Make it the home screen"
            : command[2] === "enable"
              ? "Allow it as a keyboard"
              : "Make it the keyboard",
        says: `From now on ${component.split("/")[0]} is asked, not the maker's ${what}.`,
        normal: role === "home" ? "Success" : "A line that says enabled, or selected",
        otherwise: "An error: do it in Settings, Apps, Default apps; the same must show there",
        usual: 5,
        latest: 60,
      });
    bench.gate(
      { kind: "shell", words: ASKS[role], expect: `${component.split("/")[0]}/` },
      {
        title: `Check: it is the ${what} now`,
        says: `Android must name ${component.split("/")[0]} as the ${what}.`,
        normal: component,
        otherwise: `Set it in Settings, Apps, Default apps, and ask again. Nothing goes before the new ${what} is the one that is asked`,
      },
    );
  }
  tryIt({ bench }, "the packages that go");
  bench.uninstall(
    image.id,
    packages.remove.map((p) => p.name),
  );
  bench.command("adb", ["reboot"], {
    title: "Restart it",
    says: "What is missing shows at a start, not before.",
    normal: "The animation, then the home screen",
    otherwise: "Hanging over 5 minutes: choose “something is wrong”; a factory reset brings all back",
    usual: 90,
    latest: 600,
  });
  bench.hands("check.home-comes", {
    title: "Wait for the home screen",
    says: "It must come by itself, without a question about accounts.",
    normal: "The new home screen",
    otherwise:
      "Hanging over 5 minutes, or a black screen: choose “something is wrong”; a factory reset brings all back",
    usual: 60,
    latest: 600,
  });
  bench.wantAdb("device");
  tryIt({ bench }, null);
  bench.measure("after");
  bench.hands("android.debugging-off", {
    title: "Switch debugging off again",
    says: "Developer options: USB debugging off, revoke authorisations. No Wi-Fi was joined and no account was added: leave it so.",
    normal: "Both are off",
    otherwise: "Leave it on the bench and tell the coordinator: a device is not handed on with debugging on",
    usual: 30,
    latest: 180,
  });
  bench.mode = "android-without-debugging";
}

/** How Android is asked which one is default. */
const ASKS = {
  home: [
    "cmd",
    "package",
    "resolve-activity",
    "--brief",
    "-c",
    "android.intent.category.HOME",
    "-a",
    "android.intent.action.MAIN",
  ],
  keyboard: ["settings", "get", "secure", "default_input_method"],
} as const;

/** Behind a reset the set-up is skipped, never walked through: the workshop's Wi-Fi must not stay on it. */
function skipSetUp({ bench }: Pick<Steps, "bench">) {
  if (bench.mode === "android") return;
  bench.hands("android.skip-setup", {
    title: "Skip through the set-up: no Wi-Fi, no account",
    says: "Skip every page. The device goes out as it is after this: nothing of the workshop may stay on it.",
    normal: "The maker's home screen",
    otherwise:
      "A page that can't be skipped: note which. If it asks for an earlier account, stop: it goes back to Clearance",
    usual: 120,
    latest: 600,
  });
  bench.debugging();
}

/** Home, recent apps and typing, tried by a person. */
function tryIt({ bench }: Pick<Steps, "bench">, neededBy: string | null) {
  bench.hands("check.home-works", {
    title: "Try home, recent apps and typing",
    says: "Press home; press recent apps; open Settings and type two letters into its search.",
    normal: "The new home screen, a list of recent apps, the new keyboard",
    otherwise:
      "The recent-apps key does nothing: the maker's home screen draws that view, and must stay. Another screen or keyboard comes: make the new one default in Settings first",
    usual: 45,
    latest: 300,
    ...(neededBy && { neededBy }),
  });
}
