import type { PhonePackages } from "./state";

/** What a command prints, and whether it went well. */
export interface Answer {
  readonly text: string;
  readonly ok: boolean;
}

const said = (text: string): Answer => ({ text: `${text}\n`, ok: true });
const refused = (text: string): Answer => ({ text: `${text}\n`, ok: false });

/** Where a package's file lies. */
const pathOf = (name: string, system: boolean) =>
  system ? `/system/app/${name.split(".").at(-1)}/base.apk` : `/data/app/~~QQ==/${name}-AA==/base.apk`;

/**
 * Answers `pm …`, `cmd package …` and `ime …` as Android's package manager and input method manager do.
 *
 * @returns null where the words are none of these
 * @source the help text of Android's `pm` and `ime`; wording of answers from memory
 */
export function managePackages(packages: PhonePackages, words: readonly string[]): Answer | null {
  const [program, ...rest] = words[0] === "cmd" && words[1] === "package" ? ["pm", ...words.slice(2)] : words;
  if (program === "ime") return inputMethods(packages, rest);
  if (program !== "pm") return null;
  const [verb, ...args] = rest;
  switch (verb) {
    case "list":
      return args[0] === "packages" ? list(packages, args.slice(1)) : refused(`Error: unknown list type '${args[0]}'`);
    case "path":
      return path(packages, args[0] ?? "");
    case "clear":
      return packages.all[args[0] ?? ""]?.user ? said("Success") : refused("Failed");
    case "uninstall":
      return uninstall(packages, args);
    case "install-existing":
      return installExisting(packages, args.at(-1) ?? "");
    case "resolve-activity":
      return args.includes("android.intent.category.HOME")
        ? said(`priority=0 preferredOrder=0 match=0x108000 specificIndex=-1 isDefault=true\n${homeOf(packages)}`)
        : refused("No activity found");
    case "set-home-activity":
      return setHome(packages, args.at(-1) ?? "");
    default:
      return refused(`Unknown command: ${verb ?? ""}`);
  }
}

function list({ all }: PhonePackages, args: readonly string[]): Answer {
  const flags = new Set(args.filter((a) => a.startsWith("-")));
  const filter = args.find((a, i) => !a.startsWith("-") && args[i - 1] !== "--user") ?? "";
  const lines = Object.entries(all)
    .filter(([name, p]) => (p.user || flags.has("-u")) && name.includes(filter))
    .filter(([, p]) => (!flags.has("-s") || p.system) && (!flags.has("-3") || !p.system) && !flags.has("-d"))
    .map(([name, p]) => `package:${flags.has("-f") ? `${pathOf(name, p.system)}=` : ""}${name}\n`);
  return { text: lines.join(""), ok: true };
}

function path({ all }: PhonePackages, name: string): Answer {
  const found = all[name];
  return found?.user ? said(`package:${pathOf(name, found.system)}`) : { text: "", ok: false };
}

function uninstall(packages: PhonePackages, args: readonly string[]): Answer {
  const firstUser = args[0] === "--user" && args[1] === "0";
  const name = args.at(-1) ?? "";
  const found = packages.all[name];
  if (!found?.user)
    return refused(firstUser ? "Failure [not installed for 0]" : "Failure [DELETE_FAILED_INTERNAL_ERROR]");
  if (!found.system) {
    delete packages.all[name];
    return said("Success");
  }
  if (!firstUser) return refused("Failure [DELETE_FAILED_INTERNAL_ERROR]");
  found.user = false;
  return said("Success");
}

function installExisting({ all }: PhonePackages, name: string): Answer {
  const found = all[name];
  if (!found) return refused(`android.content.pm.PackageManager$NameNotFoundException: Package ${name} doesn't exist`);
  found.user = true;
  return said(`Package ${name} installed for user: 0`);
}

const packageOf = (component: string) => component.split("/")[0];

/** The package that brings a component and is installed; undefined where none does. */
function brings({ all }: PhonePackages, component: string): string | undefined {
  const name = packageOf(component);
  const whole = (c: string) => c.replace("/.", `/${packageOf(c)}.`);
  const own = all[name]?.component;
  return all[name]?.user && own && whole(own) === whole(component) ? name : undefined;
}

const homeOf = ({ all, home }: PhonePackages) =>
  (home && all[home]?.user && all[home].component) || "No activity found";

function setHome(packages: PhonePackages, component: string): Answer {
  const name = brings(packages, component);
  if (!name) return refused(`Error: Failed to set ${component} as home activity`);
  packages.home = name;
  return said("Success");
}

function inputMethods(packages: PhonePackages, [verb, component = ""]: readonly string[]): Answer {
  const name = brings(packages, component);
  if (verb === "enable") {
    if (!name) return refused(`Unknown input method ${component} cannot be enabled for user #0`);
    packages.enabledKeyboards.push(name);
    return said(`Input method ${component}: now enabled for user #0`);
  }
  if (verb === "set") {
    if (!name || !packages.enabledKeyboards.includes(name))
      return refused(`Unknown input method ${component} cannot be selected for user #0`);
    packages.keyboard = name;
    return said(`Input method ${component} selected for user #0`);
  }
  return refused(`Error: unknown command '${verb ?? ""}'`);
}
