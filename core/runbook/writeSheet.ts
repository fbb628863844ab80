import type { Runbook, Step, Word } from "./step";

const word = (w: Word) => (typeof w === "string" ? w : "file" in w ? w.file : `${w.perSlot}_<current slot>`);

/** The command of a step as it is typed in the folder of files; null for a step without one. */
export function commandText(step: Pick<Step, "deed">): string | null {
  const { deed } = step;
  if (deed.kind === "command") return `${deed.tool} ${deed.words.map(word).join(" ")}`;
  if (deed.kind === "gate" && deed.gate.kind === "getvar") return `fastboot getvar ${deed.gate.name}`;
  if (deed.kind === "gate" && deed.gate.kind === "slot") return "fastboot getvar current-slot";
  if (deed.kind === "gate" && deed.gate.kind === "getprop") return `adb shell getprop ${deed.gate.name}`;
  if (deed.kind === "gate" && deed.gate.kind === "adb-state") return "adb get-state";
  return null;
}

/** Seconds as a person says them. */
export function durationText(seconds: number): string {
  if (seconds < 90) return `${seconds} s`;
  const minutes = Math.round(seconds / 60);
  return minutes < 90 ? `${minutes} min` : `${Math.round(minutes / 6) / 10} h`;
}

/** Markdown is text: what could be read as markup is escaped. */
const plain = (text: string) => text.replace(/([\\`*_{}[\]<>#|])/g, "\\$1");

/** Writes a runbook as a Markdown sheet, to print. */
export function writeSheet(runbook: Runbook): string {
  const out = [
    `# ${plain(runbook.tag)} · ${plain(runbook.modelTitle)}`,
    "",
    `From ${plain(runbook.from)} to **${plain(runbook.to)}**${runbook.serialEnd ? ` · serial number ${plain(runbook.serialEnd)}` : ""}`,
    "",
    ...runbook.cautions.map((c) => `> ${plain(c)}`),
    "",
  ];
  if (runbook.files.length) {
    out.push("## Files", "", "| file | bytes | SHA-256 |", "|---|---:|---|");
    for (const f of runbook.files)
      out.push(`| ${plain(`${f.image}/${f.name}`)} | ${f.bytes} | ${f.sha256 ?? "not known"} |`);
    out.push("");
  }
  out.push("## Steps", "");
  runbook.steps.forEach((step, i) => {
    out.push(
      `${i + 1}. **${plain(step.title)}** — usual ${durationText(step.usualSeconds)}, latest ${durationText(step.latestSeconds)}`,
    );
    if (step.caution) out.push(`   - **Stop. ${plain(step.caution)}.** ☐ yes, go on`);
    out.push(`   - ${plain(step.says)}`);
    const command = commandText(step);
    if (command) out.push(`   - \`${command.replaceAll("`", "'")}\``);
    out.push(`   - Normal: ${plain(step.normal)}`, `   - Otherwise: ${plain(step.otherwise)}`);
    if (step.neededBy) out.push(`   - Needed by: ${plain(step.neededBy)}`);
  });
  out.push("");
  return out.join("\n");
}

/** Writes a runbook as JSON. */
export function writeRunbookJson(runbook: Runbook): string {
  return `${JSON.stringify(runbook, null, 2)}\n`;
}
