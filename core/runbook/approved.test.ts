import type { Model } from "~/core/catalogue/model";
import { type CurrentFacts, currentFacts } from "~/core/device/lookUp";
import { DEFAULT_POLICY, Policy } from "~/core/policy/policy";
import { SCHOOL_KEYS, SCHOOLS } from "~/core/policy/schools";
import { indexCatalogue } from "~/core/upgrade/catalogueIndex";
import { coverage } from "~/core/upgrade/coverage";
import { type Plan, planDevice } from "~/core/upgrade/plan";
import type { Way } from "~/core/upgrade/way";
import { demoCatalogue } from "~/demo/catalogue";
import { demoScenario, scenarioFacts } from "~/demo/scenario";
import { digestOf, expectApproved } from "~/testing/approved";
import { factsMade, makesAt } from "./progress";
import { writeRunbook } from "./runbook";
import type { Makes, Runbook, Step } from "./step";
import { writeScript } from "./writeScript";
import { commandText, insteadTexts, settingsLines } from "./writeSheet";

// What the demo's devices are told, as somebody has read and approved it: plans, sheets, and what becomes of a device behind a
// way, in the middle of one, and under other sides of the schools. A sheet's words are left out; the rest
// changes on purpose only.
const index = indexCatalogue(demoCatalogue());
const devices = demoScenario().devices.map((d) => {
  const need = index.needs.get(d.need);
  if (!need) throw new Error(`${d.tag} waits for ${d.need}, which is no need`);
  const read = scenarioFacts(d, "2026-11-16T00:00:00Z", "x");
  return { ...d, need, read, facts: currentFacts(read) };
});
type Device = (typeof devices)[number];

const planOf = (d: Device, facts: CurrentFacts = d.facts, policy: Policy = DEFAULT_POLICY) =>
  planDevice({ facts, clearance: "confirmed-clear", need: d.need }, index, policy);

const sheetOf = (d: Device, way: Way, model: Model, facts = d.facts, policy: Policy = DEFAULT_POLICY) =>
  writeRunbook({
    tag: d.tag,
    serial: d.serial ?? null,
    imei: d.imei ?? null,
    model,
    facts,
    way,
    index,
    policy,
    need: d.need,
  });

const orderOf = (way: Way) =>
  way.operations.map((o) => (o.image ? `${o.kind} ${o.image}` : o.kind)).join(" > ") || "as it is";

const figuresOf = (way: Way) =>
  [
    `to ${way.release}`,
    `${way.handsOnMinutes}+${way.unattendedMinutes} min`,
    ...(way.waitingDays ? [`${way.waitingDays} days`] : []),
    `${way.bytes} B`,
    `chance ${way.success.toFixed(3)}`,
    `${way.wipes} wipes`,
    ...(way.irreversible.length ? [`${way.irreversible.length} for good`] : []),
    ...(way.fit.works ? [] : ["misses"]),
    ...(way.enough ? ["enough"] : []),
    ...(way.cautions.length ? [`${way.cautions.length} cautions`] : []),
    ...way.questions.map((q) => `? ${q.fact}`),
  ].join(", ");

const tally = (codes: readonly string[]) =>
  [...new Set(codes)]
    .sort()
    .map((code) => `${code} ${codes.filter((c) => c === code).length}`)
    .join(", ");

function linesOfPlan(plan: Plan): string[] {
  return [
    [`  ${plan.verdict}: ${plan.says}`, ...plan.questions.map((q) => `? ${q.fact} ${q.code}`)].join(" "),
    ...plan.ways.map((w) => `  - ${orderOf(w)}: ${figuresOf(w)}`),
    `  stops ${digestOf(plan.stops.map((s) => [s.image, s.code, s.says]))}: ${tally(plan.stops.map((s) => s.code))}; outdone ${plan.outdone.length}`,
  ];
}

const made = (makes: Makes | undefined) =>
  Object.entries(makes ?? {})
    .map(([key, value]) => `${key}=${value}`)
    .join(" ");

const short = (text: string) => (text.length > 160 ? `${text.slice(0, 100)}… ${digestOf(text)}` : text);

function lineOfStep(step: Step): string {
  const said = short(commandText(step)?.replaceAll("\n", " && ") ?? "");
  return [
    `  ${step.operation} ${step.code}`,
    ...(said ? [said] : []),
    ...insteadTexts(step).map((t) => `else ${t}`),
    ...(step.deed.kind === "command" && step.deed.mayFail ? ["may fail"] : []),
    ...(step.deed.kind === "gate" ? [short(JSON.stringify(step.deed.gate))] : []),
    ...(step.deed.kind === "flasher"
      ? [`flasher ${short(settingsLines(step.deed.settings).join("; "))} ${digestOf(step.deed.settings)}`]
      : []),
    `${step.usualSeconds}..${step.latestSeconds} s`,
    ...(step.caution === null ? [] : ["a yes is asked for"]),
    ...(step.makes ? [`makes ${made(step.makes)}`] : []),
  ].join(" | ");
}

/** A line of a script without its words, figures of one device and digests: sentences have blanks in them. */
const kindOfLine = (line: string) =>
  line
    .replace(/'(?:[^']|'\\'')*'/g, (quoted) => (/ /.test(quoted) && !quoted.startsWith("'{") ? "'…'" : quoted))
    .replace(/^if step .*; then$/, "if step …; then")
    .replace(/^digest '.*' [0-9a-f]{64}$/, "digest FILE DIGEST")
    .replace(/^(want_(?:prop|var) '(?:ro\.)?serialno') '[^']*'/, "$1 SERIAL")
    .replace(/^printf '…' '[^']*'/, "printf '…' TAG")
    .replace(/\b[0-9a-f]{64}\b/g, "DIGEST");

/** A sheet without its words. */
const bare = ({ steps, operations, files, backFiles, wayBack }: Runbook) => [
  steps.map((s) => [lineOfStep(s), s.deed, s.neededBy !== null]),
  operations.map(({ says: _, ...rest }) => rest),
  [files, backFiles, wayBack !== ""],
];

/** What is known of a device once something made it so. */
const later = (d: Device, makes: Makes): CurrentFacts =>
  currentFacts([...d.read, ...factsMade(makes, { by: "x", at: "2026-11-20T00:00:00Z" })]);

/** What is known of the device before an operation begins, step by step as it was done. */
const madeBefore = (sheet: Runbook, operation: number): Makes =>
  Object.assign({}, ...sheet.steps.map((s, place) => (s.operation < operation ? makesAt(sheet, place) : {})));

test("plans", () => {
  const lines = devices.flatMap((d) => [`${d.tag} for ${d.need.id}`, ...linesOfPlan(planOf(d))]);
  expect(lines.length).toBeGreaterThan(300);
  expectApproved("plans", lines);
});

test("sheets, and what becomes of a device behind a way or in the middle of one", () => {
  const told = new Set<string>();
  const lines = devices.flatMap((d) => {
    const plan = planOf(d);
    const model = plan.model === null ? undefined : index.models.get(plan.model);
    if (!model) return [];
    return plan.ways.flatMap((way) => {
      const key = `${model.id}: ${orderOf(way)}`;
      if (told.has(key)) return [];
      told.add(key);
      const sheet = sheetOf(d, way, model);
      const after = (makes: Makes) => {
        const { verdict, ways } = planOf(d, later(d, makes));
        return `${verdict}, ${ways.length ? `${ways.length} ways, first ${orderOf(ways[0])}` : "no way"}, all ${digestOf(ways.map((w) => [orderOf(w), figuresOf(w)]))}`;
      };
      return [
        `${key} (${d.tag}), sheet ${digestOf(bare(sheet))}`,
        ...(way === plan.best ? [`  ${sheet.odds}`, ...sheet.steps.map(lineOfStep)] : []),
        ...sheet.operations.flatMap((o, i) => [
          `  ${o.kind} makes ${made(o.makes)}`,
          `  ${o.kind} broken off: ${made(o.interrupted)} ${made(o.ifNotStarting)}`,
          `    then ${after({ ...madeBefore(sheet, i), ...o.interrupted, ...o.ifNotStarting, "system.starts": "no" })}`,
        ]),
        `  done, then ${after(madeBefore(sheet, sheet.operations.length + 1))}`,
      ];
    });
  });
  expect(told.size).toBeGreaterThan(60);
  expectApproved("sheets", lines);
});

test("what the scripts of all sheets run, each kind of line once", () => {
  const counted = new Map<string, number>();
  const scripts = devices.flatMap((d) => {
    const plan = planOf(d);
    const model = plan.model === null ? undefined : index.models.get(plan.model);
    return model ? plan.ways.map((way) => writeScript(sheetOf(d, way, model))) : [];
  });
  for (const script of scripts)
    for (const line of script.slice(script.indexOf("\nif step ")).split("\n")) {
      const kind = kindOfLine(line);
      counted.set(kind, (counted.get(kind) ?? 0) + 1);
    }
  expect(scripts.length).toBeGreaterThan(200);
  expectApproved(
    "scripts",
    [...counted]
      .map(([kind, count]) => `${count} ${kind}`)
      .sort((a, b) => a.slice(a.indexOf(" ")).localeCompare(b.slice(b.indexOf(" ")), "en")),
  );
});

test("every side of every school, on one device of each model", () => {
  const models = new Set<string>();
  const some = devices.filter((d) => {
    const { model, best } = planOf(d);
    return model !== null && best !== null && !models.has(model) && models.add(model);
  });
  expect(some.length).toBeGreaterThan(9);
  const lines = SCHOOL_KEYS.flatMap((key) =>
    SCHOOLS[key].sides.flatMap(({ value }) => {
      const policy = Policy.parse({ [key]: value });
      return some.map((d) => {
        const { ways, model } = planOf(d, d.facts, policy);
        const of = index.models.get(model ?? "");
        const sheets = of ? ways.map((w) => bare(sheetOf(d, w, of, d.facts, policy))) : [];
        return `${key} ${value} ${d.tag}: ${ways.length} ways ${digestOf(ways.map((w) => [orderOf(w), figuresOf(w)]))}, sheets ${digestOf(sheets)}`;
      });
    }),
  );
  expectApproved("schools", lines);
});

test("models against images", () => {
  const lines = coverage(index).map((c) => `${c.model} ${c.image}: ${c.state}${c.code ? ` ${c.code}` : ""}`);
  expect(lines.length).toBeGreaterThan(100);
  expectApproved("coverage", lines);
});
