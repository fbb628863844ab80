import { PRELUDE } from "./scriptPrelude";
import type { FlasherSettings, Gate, Hold, Runbook, Step, Word } from "./step";
import { settingsLines } from "./writeSheet";

/** Quotes a text for a POSIX shell: single quotes, nothing inside is expanded. */
export function shellQuote(text: string): string {
  return `'${text.replaceAll("'", "'\\''")}'`;
}

/**
 * A tag as a file's or folder's name.
 *
 * @example fileTag("TH/001") // "TH-001"
 */
export const fileTag = (tag: string) => tag.replaceAll(/[^A-Za-z0-9._-]/g, "-");

/** With what a script reports to the lane that served it. */
export interface ReportKey {
  readonly secret: string;
  /** By which the lane tells its own scripts from those of another one: 16 hexadecimal digits. */
  readonly script: string;
}

/** The lines by which a script knows its device: the tag as a folder's name, and as part of an address. */
export const tagLines = (tag: string, key: ReportKey | null = null): readonly string[] => [
  `TAG=${shellQuote(fileTag(tag))}`,
  `TAG_ADDRESS=${shellQuote(encodeURIComponent(tag))}`,
  // What the environment calls so is none of the script's.
  `SCRIPT=${key?.script ?? ""}`,
  ...(key ? [`LANE_KEY=\${LANE_KEY:-${key.secret}}`] : []),
];

/** Text safe in a comment or a printed sentence: one line, no control characters. */
const oneLine = (text: string) => text.replace(/\p{Cc}+/gu, " ").trim();
const quoted = (text: string) => shellQuote(oneLine(text));

const word = (w: Word) => {
  if (typeof w !== "string")
    return "file" in w ? `"$FILES"/${shellQuote(w.file)}` : `${shellQuote(`${w.perSlot}_`)}"$slot"`;
  return /^[A-Za-z0-9_./=:-]+$/.test(w) ? w : shellQuote(w);
};

/**
 * Writes a runbook as a POSIX shell script.
 *
 * The script takes FASTBOOT and ADB (each may hold arguments), FILES (the folder of files), PHONE_HANDS (address that
 * answers for hands; without it the script waits for Enter), CARD (where a memory card is mounted, or the file of
 * a card), STICK (the same for a stick), FLASHER (address of the stand-in flasher, for practice and
 * tests; without it a person sets the flasher's window), LANE (address of the lane it reports to), KEEP (the folder
 * for what is saved of the device itself) and REPORT (the
 * file of what happened, as JSON lines) from the environment. It stops at the first gate that fails, with status 1 and a
 * sentence on standard error.
 *
 * @param from number of the step to begin with, counted from 1: a run that was begun by hand goes on there
 * @param key with which the script reports to the lane; LANE_KEY in the environment goes before it
 * @example writeScript(runbook).startsWith("#!/bin/sh") // true …
 */
export function writeScript(runbook: Runbook, from = 1, key: ReportKey | null = null): string {
  const { steps } = runbook;
  const lines = [
    "#!/bin/sh",
    `# Bench script for device ${oneLine(runbook.tag)} (${oneLine(runbook.modelTitle)}): ${oneLine(runbook.from)} to ${oneLine(runbook.to)}`,
    `# Way: ${oneLine(runbook.way)}`,
    ...runbook.cautions.map((c) => `# Caution: ${oneLine(c)}`),
    ...(runbook.wayBack ? [`# Way back: ${oneLine(runbook.wayBack)}`] : []),
    ...tagLines(runbook.tag, key),
    ...(from > 1 ? [`FROM=${from}`] : []),
    PRELUDE,
    "",
    ...(from > 1 ? [`printf 'Going on at step %s: what comes before was done.\\n' "$FROM"`] : []),
    ...steps.map((step, i) => stepLines(step, i + 1, steps.length)),
    "",
    "finished",
    `printf '\\nFinished: %s should now run %s. Go on to Checkout.\\n' ${quoted(runbook.tag)} ${quoted(runbook.to)}`,
    "",
  ];
  return lines.join("\n");
}

function stepLines(step: Step, number: number, of: number): string {
  const out = [`\nif step ${number} ${of} ${shellQuote(step.code)} ${quoted(step.title)}; then`];
  const otherwise = quoted(step.otherwise);
  if (step.caution) out.push(`deliberate ${quoted(step.caution)}`);
  const { deed } = step;
  if (deed.kind === "hands")
    out.push(`hands ${shellQuote(deed.code)} ${quoted(step.says)} ${otherwise}${heldFor(deed.holds ?? [])}`);
  else if (deed.kind === "flasher") out.push(flasherLine(deed.settings, step, otherwise));
  else if (deed.kind === "gate") out.push(...gateLines(deed.gate, step.latestSeconds, otherwise));
  else {
    const typed = (words: readonly Word[]) =>
      `${deed.tool === "fastboot" ? "$FASTBOOT" : "$ADB"} ${words.map(word).join(" ")}`;
    if (deed.words[0] === "push" || deed.words[0] === "sideload")
      out.push(`see ${deed.words[0] === "sideload" ? "sideload" : "recovery"} 60 ${otherwise}`);
    // A run that goes on in the middle has not read the slot yet.
    if (deed.words.some((w) => typeof w !== "string" && "perSlot" in w))
      out.push(`[ -n "$slot" ] || read_slot '' 60 ${otherwise}`);
    const [first, ...rest] = deed.instead ?? [];
    if (first)
      out.push(
        `logged ${step.latestSeconds} ${typed(deed.words)} || {`,
        "printf 'Going on another way.\\n'",
        `run ${step.latestSeconds} ${otherwise} ${typed(first)}`,
        ...rest.map((words) => `try ${step.latestSeconds} ${typed(words)}`),
        "}",
      );
    else
      out.push(
        deed.mayFail
          ? `try ${step.latestSeconds} ${typed(deed.words)}`
          : `run ${step.latestSeconds} ${otherwise} ${typed(deed.words)}`,
      );
  }
  return [...out, "done_step", "fi"].join("\n");
}

/** Key holds as the hands port takes them: keys joined by _, seconds behind a colon. */
const heldFor = (holds: readonly Hold[]) =>
  holds.length
    ? ` ${shellQuote(holds.map((h) => `${h.keys.join("_").replaceAll(" ", "-")}:${h.seconds}`).join(","))}`
    : "";

/** The settings as the stand-in flasher takes them, and as a person reads them. */
function flasherLine(settings: FlasherSettings, step: Step, otherwise: string): string {
  const { edition, slots, ticks, rows, list } = settings;
  const inLoader = { list, rows: rows.map(({ row, file, on }) => ({ row, file, on })) };
  const asked =
    edition === null
      ? inLoader
      : {
          edition,
          slots: Object.fromEntries(slots.flatMap(({ slot, file }) => (file === null ? [] : [[slot, file]]))),
          ticks: Object.fromEntries(ticks.map(({ tick, on }) => [tick, on])),
        };
  return `flasher ${step.latestSeconds} ${otherwise} ${shellQuote(JSON.stringify(asked))} ${quoted(step.says)} ${settingsLines(settings).map(quoted).join(" ")}`;
}

function gateLines(gate: Gate, seconds: number, otherwise: string): string[] {
  switch (gate.kind) {
    case "digests":
      return gate.files.map((f) => {
        const path = shellQuote(`${f.image}/${f.name}`);
        return f.sha256 ? `digest ${path} ${f.sha256}` : `present ${path}`;
      });
    case "slot":
      return [`read_slot ${shellQuote(gate.expect ?? "")} ${seconds} ${otherwise}`];
    case "adb-state":
      return [`see ${gate.state} ${seconds} ${otherwise}`];
    case "battery":
      return [`battery ${gate.how} ${gate.stop} ${gate.floor} ${otherwise}`];
    case "userspace":
      return [`userspace ${gate.must ? "must" : "may"} ${seconds} ${otherwise}`];
    case "stick":
      return [`fill_stick ${shellQuote(`${gate.file.image}/${gate.file.name}`)} ${otherwise}`];
    case "card":
      return [
        `make_card ${shellQuote(gate.folder)} ${shellQuote(`${gate.file.image}/${gate.file.name}`)} ${otherwise}`,
      ];
    case "kept":
      return gate.copies.map((c) => `kept_file ${shellQuote(c.file)} ${c.sha256} ${otherwise}`);
    case "keep":
      if (gate.how === "loader")
        return [
          `keep_board ${seconds} ${otherwise} ${gate.partitions.map((p) => shellQuote(Object.hasOwn(gate.sizes, p) ? `${p}=${gate.sizes[p]}` : p)).join(" ")}`,
        ];
      return gate.partitions.map((p) => `keep ${shellQuote(p)} ${seconds} ${otherwise}`);
    case "shell":
      return [`says ${quoted(gate.expect)} ${seconds} ${otherwise} ${gate.words.map(word).join(" ")}`];
    case "measure":
      return [`measure ${gate.when} ${seconds}`];
    case "uninstall":
      return [`uninstall ${seconds} ${otherwise} ${gate.packages.map(shellQuote).join(" ")}`];
    case "record":
      return [`record ${gate.how === "getvar" ? "var" : "prop"} ${shellQuote(gate.name)} ${seconds}`];
    default:
      return [
        `want_${gate.kind === "getvar" ? "var" : "prop"} ${shellQuote(gate.name)} ${quoted(gate.expect)} ${quoted(gate.fact)} ${seconds} ${otherwise}`,
      ];
  }
}
