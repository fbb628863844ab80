/** What a line of a maker's script does to a device. */
export type LineKind = "nothing" | "check" | "write" | "erase" | "wipe" | "restart" | "slot" | "lock" | "unknown";

export interface ScriptLine {
  /** Counted from 1. */
  readonly line: number;
  readonly text: string;
  readonly kind: LineKind;
  /** What it does, in words. */
  readonly says: string;
  /** For a write: the partition and the file's name without its folder, with the flags before it. */
  readonly write?: { readonly partition: string; readonly file: string; readonly flags: readonly string[] };
  /** What is typed behind `fastboot`, for everything that is done to the device and is no write. */
  readonly words?: readonly string[];
  /** For a check: the variable and what it has to be. */
  readonly check?: { readonly name: string; readonly expect: string };
}

/** Commands behind `fastboot` that the lane knows; each gets the words behind its name. */
const KNOWN: Readonly<Record<string, (words: readonly string[]) => Omit<ScriptLine, "line" | "text"> | null>> = {
  erase: ([partition]) =>
    partition
      ? /^(userdata|metadata|cache)$/.test(partition)
        ? { kind: "wipe", says: `Erases ${partition}: everything on the device goes`, words: ["erase", partition] }
        : { kind: "erase", says: `Erases ${partition}`, words: ["erase", partition] }
      : null,
  "-w": () => ({ kind: "wipe", says: "Formats user data", words: ["-w"] }),
  reboot: ([to]) =>
    to === undefined || to === "bootloader" || to === "fastboot" || to === "recovery"
      ? { kind: "restart", says: `Restarts${to ? ` into ${to}` : ""}`, words: to ? ["reboot", to] : ["reboot"] }
      : null,
  "reboot-bootloader": () => ({ kind: "restart", says: "Restarts into bootloader", words: ["reboot", "bootloader"] }),
  set_active: ([slot]) =>
    slot ? { kind: "slot", says: `Makes slot ${slot} the current one`, words: ["set_active", slot] } : null,
  "--set-active": ([slot]) =>
    slot ? { kind: "slot", says: `Makes slot ${slot} the current one`, words: ["set_active", slot] } : null,
  getvar: ([name]) => (name ? { kind: "nothing", says: `Reads ${name}` } : null),
  devices: () => ({ kind: "nothing", says: "Lists the devices" }),
  "--version": () => ({ kind: "nothing", says: "Shows the client's version" }),
};

const nameOf = (file: string) => file.replace(/^.*[\\/]/, "").replace(/^%~dp0/i, "");

/** Words of one command, quotes taken away; what a shell would put in is left standing. */
function wordsOf(text: string): string[] {
  return [...text.matchAll(/"([^"]*)"|'([^']*)'|(\S+)/g)].map((m) => m[1] ?? m[2] ?? m[3]);
}

/** Parts of a line that are commands of their own: behind `;`, `&&`, `||` and pipes. */
const commandsIn = (text: string) => text.split(/\s*(?:\|\||&&|[;|])\s*/).filter(Boolean);

/** Lines that do nothing to a device, in either kind of script. */
const HARMLESS =
  /^@?(?:#.*|::.*|rem\b.*|echo\b.*|@echo\b.*|pause\b.*|exit\b.*|set(?:local)?\b.*|endlocal\b.*|cd\b.*|title\b.*|color\b.*|cls\b.*|if\b(?!.*fastboot).*|else\b.*|fi\b.*|then\b.*|do\b|done\b|[a-z_]\w*=[^\s]*|sleep\b.*|timeout\b.*|ping\b.*|goto\b.*|:[a-z_]\w*|grep\b.*|findstr\b.*|read\b.*|[(){}]+)$/i;

const CLIENT = /^(?:"|')?(?:[\w.\\/:-]*[\\/])?(?:fastboot(?:\.exe)?|\$\{?fastboot\}?|%fastboot%)(?:"|')?(?=\s|$)\s*/i;

/** Locking in any of its names: never run, whatever stands around it. */
const LOCKS = /\b(?:flashing|oem)\s+lock\w*|\block_critical\b/i;

/** What runs another command inside a command. */
const INSIDE = /\$\(|`/;

/** A command without the words and brackets that only hold it; the script's own folder is the folder it is in. */
const bareOf = (text: string) =>
  text
    .replace(/`dirname "?\$0"?`|\$\(dirname "?\$0"?\)|%~dp0/gi, "./")
    .replace(/^@?(?:[({]\s*|(?:then|else|do|call)\s+)*@?/i, "")
    .replace(/\s*[)}]+$/, "")
    .trim();

function readCommand(raw: string): Omit<ScriptLine, "line" | "text"> {
  const text = bareOf(raw);
  if (text === "" || (HARMLESS.test(text) && !INSIDE.test(text)))
    return { kind: "nothing", says: "Does nothing to the device" };
  if (LOCKS.test(text)) return { kind: "lock", says: "Locks the bootloader again" };
  if (!CLIENT.test(text) || INSIDE.test(text))
    return { kind: "unknown", says: "A command that the lane does not know: it is not run" };
  // `$*`, `%*` and `$@` hand on what the script was started with, `-s` names a device, redirections hide words.
  const words = wordsOf(text.replace(CLIENT, ""))
    .filter((w) => !/^(?:[$%][*@1]|%\*|\d?>(?:&\d|nul|\/dev\/null)?|&\d)$/i.test(w))
    .filter((w, i, all) => w !== "-s" && all[i - 1] !== "-s");
  const flags = words.filter((w) => /^--(?:disable-verity|disable-verification|slot(?:=\w+)?)$/.test(w));
  const [verb, ...rest] = words.filter((w) => !flags.includes(w));
  const command = verb === undefined ? undefined : KNOWN[verb];
  const read = verb === "flash" ? readFlash(rest, flags) : command?.(rest);
  return read ?? { kind: "unknown", says: `“fastboot ${words.join(" ").slice(0, 80)}” is not known: it is not run` };
}

function readFlash([partition, file]: readonly string[], flags: readonly string[]) {
  if (!partition || !file) return null;
  const about = { says: `Writes ${nameOf(file)} to ${partition}`, write: { partition, file: nameOf(file), flags } };
  return { kind: "write" as const, ...about };
}

/** `fastboot getvar product 2>&1 | grep "^product: *vista"`: the variable and its value. */
function readCheck(text: string): ScriptLine["check"] | null {
  const found = /getvar\s+([\w-]+)\b.*\|\s*(?:grep|findstr)\b.*?\b\1: *\*?\s*([\w.-]+)/i.exec(text);
  return found ? { name: found[1], expect: found[2] } : null;
}

/**
 * Reads a maker's bootloader script, as a shell or a batch file: what each line would do to a device.
 *
 * Nothing of it is ever run as it is: what is understood becomes steps of the lane's own. A line with several commands is
 * told by the one that does most.
 *
 * @source command words: AOSP fastboot README and its help text; how makers write the scripts: common practice, no source
 * @example readScript("fastboot $* flash boot images/boot.img || exit 1")[0].write?.file // "boot.img"
 */
export function readScript(text: string): ScriptLine[] {
  return text.split(/\r\n|\n|\r/).flatMap((raw, i): ScriptLine[] => {
    const line = raw.trim();
    if (!line) return [];
    const at = { line: i + 1, text: line.slice(0, 300) };
    const check = readCheck(line);
    if (/^@?(?:#|::|rem\b)/i.test(line)) return [{ ...at, kind: "nothing", says: "A remark" }];
    const told = commandsIn(line).map(readCommand);
    const deeds = told.filter((t) => t.kind !== "nothing");
    if (check) {
      // What stands behind a check on its line is done too: a lock there is a lock.
      const says = `Goes on only where ${check.name} is ${check.expect}`;
      return [{ ...at, kind: "check", says, check }, ...deeds.map((deed) => ({ ...at, ...deed }))];
    }
    if (deeds.length === 0) return [{ ...at, kind: "nothing", says: told[0]?.says ?? "Does nothing to the device" }];
    return deeds.map((deed) => ({ ...at, ...deed }));
  });
}

/** What a script comes to. */
export interface ReadScript {
  readonly lines: readonly ScriptLine[];
  readonly locks: readonly ScriptLine[];
  readonly unknown: readonly ScriptLine[];
  readonly writes: readonly ScriptLine[];
  readonly wipes: boolean;
}

/**
 * A maker's script as a whole: its lines, which of them lock, write or are not known, and whether it wipes.
 *
 * @example judgeScript("fastboot flash boot boot.img\nfastboot -w").wipes // true
 */
export function judgeScript(text: string): ReadScript {
  const lines = readScript(text);
  const of = (kind: LineKind) => lines.filter((l) => l.kind === kind);
  return { lines, locks: of("lock"), unknown: of("unknown"), writes: of("write"), wipes: of("wipe").length > 0 };
}
