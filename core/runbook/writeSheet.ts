import type { FlasherSettings, Hold, Runbook, Step, Word } from "./step";

const word = (w: Word) => (typeof w === "string" ? w : "file" in w ? w.file : `${w.perSlot}_<current slot>`);

/**
 * The commands of a step as they are typed in the folder of files, one a line; null for a step without one.
 *
 * @example commandText({ deed: { kind: "hand", … } }) // null
 */
export function commandText(step: Pick<Step, "deed">): string | null {
  const { deed } = step;
  if (deed.kind === "command") return `${deed.tool} ${deed.words.map(word).join(" ")}`;
  if (deed.kind !== "gate") return null;
  const { gate } = deed;
  switch (gate.kind) {
    case "digests":
      return null;
    case "slot":
      return "fastboot getvar current-slot";
    case "adb-state":
      return "adb get-state";
    case "userspace":
      return "fastboot getvar is-userspace";
    case "battery":
      return gate.how === "dumpsys" ? "adb shell dumpsys battery" : "fastboot getvar battery-level";
    case "stick":
      return null;
    case "card":
      return `unzip ${gate.file.image}/${gate.file.name} -d unpacked`;
    case "kept":
      return gate.copies.map((c) => `sha256sum ${c.file}`).join("\n");
    case "keep":
      return gate.how === "loader"
        ? null
        : gate.partitions.map((p) => `adb pull /dev/block/by-name/${p} ${p}.img`).join("\n");
    case "shell":
      return `adb shell ${gate.words.join(" ")}`;
    case "measure":
      return "adb shell pm list packages";
    case "uninstall":
      return gate.packages.map((p) => `adb shell 'pm uninstall ${p} || pm uninstall --user 0 ${p}'`).join("\n");
    case "record":
      return gate.how === "getvar" ? `fastboot getvar ${gate.name}` : `adb shell getprop ${gate.name}`;
    default:
      return gate.kind === "getvar" ? `fastboot getvar ${gate.name}` : `adb shell getprop ${gate.name}`;
  }
}

/** What is set in a flasher's window, line by line as it stands there. */
export function settingsLines({ slots, ticks, rows, list }: FlasherSettings): string[] {
  return [
    ...slots.map(({ slot, file }) => `Slot “${slot}”: ${file ?? "leave empty"}`),
    ...(list === null ? [] : [`Partition list, cleaned: ${list.replace(/\s+/g, " ")}`]),
    ...rows.map(({ row, file, on }) => `Row “${row}”: ${on ? `ticked, ${file}` : "NOT ticked"}`),
    ...ticks.map(({ says, on }) => `Tick “${says}”: ${on ? "ON" : "off"}`),
  ];
}

/** Keys that are held, one after the other. */
export const holdLines = (holds: readonly Hold[]) => holds.map((h) => `Hold ${h.keys.join(" + ")}: ${h.seconds} s`);

/**
 * What is typed where the command of a step fails, one after the other.
 *
 * @example insteadTexts({ deed: { kind: "hand", … } }) // []
 */
export function insteadTexts(step: Pick<Step, "deed">): string[] {
  const { deed } = step;
  return deed.kind === "command"
    ? (deed.instead ?? []).map((words) => `${deed.tool} ${words.map(word).join(" ")}`)
    : [];
}

/**
 * Seconds as a person says them.
 *
 * @example durationText(90) // "2 min"
 */
export function durationText(seconds: number): string {
  if (seconds < 90) return `${seconds} s`;
  const minutes = Math.round(seconds / 60);
  if (minutes < 90) return `${minutes} min`;
  const hours = Math.round(minutes / 6) / 10;
  return hours < 36 ? `${hours} h` : `${Math.round(hours / 24)} days`;
}

/** What is dialled, as on the keypad. */
const DIALLED = /(\*#[\d*]+#)/;

/** Markdown is text: what could be read as markup is escaped; what is dialled stands as it is dialled. */
const plain = (text: string) =>
  text
    .split(DIALLED)
    .map((part) =>
      DIALLED.test(part)
        ? `\`${part}\``
        : part
            .replace(/([\\`*{}[\]<>#|])/g, "\\$1")
            // An underscore inside a word is only an underscore (CommonMark 6.2): escaped, it would be typed with its backslash.
            .replace(/(?<![A-Za-z0-9])_|_(?![A-Za-z0-9])/g, "\\_"),
    )
    .join("");

/**
 * Writes a runbook as a Markdown sheet, to print.
 *
 * @example writeSheet(runbook).startsWith("# TH-001") // true …
 */
export function writeSheet(runbook: Runbook): string {
  const out = [
    `# ${plain(runbook.tag)} · ${plain(runbook.modelTitle)}`,
    "",
    `From ${plain(runbook.from)} to **${plain(runbook.to)}**${runbook.serialEnd ? ` · serial number ${plain(runbook.serialEnd)}` : ""}`,
    "",
    ...runbook.cautions.map((c) => `> ${plain(c)}`),
    "",
    ...(runbook.odds ? [`Goes well: ${plain(runbook.odds)}`, ""] : []),
  ];
  if (runbook.files.length) {
    out.push("## Files", "", "| file | bytes | SHA-256 |", "|---|---:|---|");
    for (const f of runbook.files)
      out.push(`| ${plain(`${f.image}/${f.name}`)} | ${f.bytes} | ${f.sha256 ?? "not known"} |`);
    out.push("");
  }
  if (runbook.wayBack) {
    out.push("## The way back", "", plain(runbook.wayBack), "");
    for (const f of runbook.backFiles) out.push(`- ${plain(`${f.image}/${f.name}`)}`);
    if (runbook.backFiles.length) out.push("");
  }
  out.push("## Steps", "");
  runbook.steps.forEach((step, i) => {
    out.push(
      `${i + 1}. **${plain(step.title)}** — usual ${durationText(step.usualSeconds)}, latest ${durationText(step.latestSeconds)}`,
    );
    if (step.caution) out.push(`   - **Stop. ${plain(step.caution)}.** ☐ yes, go on`);
    out.push(`   - ${plain(step.says)}`);
    if (step.deed.kind === "flasher")
      for (const line of settingsLines(step.deed.settings)) out.push(`   - ☐ ${plain(line)}`);
    if (step.deed.kind === "hands")
      for (const line of holdLines(step.deed.holds ?? [])) out.push(`   - ${plain(line)}`);
    const command = commandText(step);
    for (const line of command?.split("\n") ?? []) out.push(`   - \`${line.replaceAll("`", "'")}\``);
    for (const text of insteadTexts(step)) out.push(`   - where that fails: \`${text.replaceAll("`", "'")}\``);
    out.push(`   - Normal: ${plain(step.normal)}`, `   - Otherwise: ${plain(step.otherwise)}`);
    if (step.neededBy) out.push(`   - Needed by: ${plain(step.neededBy)}`);
  });
  out.push("");
  return out.join("\n");
}

/**
 * Writes a runbook as JSON.
 *
 * @example JSON.parse(writeRunbookJson(runbook)).tag // "TH-001" …
 */
export function writeRunbookJson(runbook: Runbook): string {
  return `${JSON.stringify(runbook, null, 2)}\n`;
}
