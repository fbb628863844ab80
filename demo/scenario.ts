import fs from "node:fs";
import path from "node:path";
import { z } from "zod";
import { WaitingGroup } from "~/core/allocate/group";
import { EventDetail } from "~/core/clearance/case";
import { ClearanceEventKind } from "~/core/clearance/events";
import { ClearanceState } from "~/core/clearance/states";
import { DangerKind } from "~/core/device/danger";
import { type Fact, type FactKey, readFactValue } from "~/core/device/fact";
import { BenchFields } from "~/core/lane/bench";
import { Opening } from "~/core/schedule/hours";
import { Volunteer } from "~/core/schedule/volunteer";
import { Contact } from "~/store/donors";
import { DEMO_DATA } from "./catalogue";

const Device = z.strictObject({
  tag: z.string(),
  /** The first batch where none is named. */
  batch: z.string().optional(),
  name: z.string().optional(),
  number: z.string().optional(),
  release: z.string().optional(),
  build: z.string().optional(),
  patch: z.string().optional(),
  firmware: z.string().optional(),
  kind: z.string().optional(),
  locked: z.boolean().optional(),
  slot: z.string().optional(),
  region: z.string().optional(),
  fuse: z.number().optional(),
  chip: z.string().optional(),
  battery: z.number().optional(),
  donor: z.string(),
  need: z.string(),
  clearance: ClearanceState,
  aside: DangerKind.optional(),
  imei: z.string().optional(),
  serial: z.string().optional(),
});
export type ScenarioDevice = z.infer<typeof Device>;

const CaseStep = z.strictObject({
  day: z.iso.date(),
  event: ClearanceEventKind,
  evidence: z.string(),
  ...EventDetail.pick({ proofs: true, promisedFor: true, channel: true }).shape,
});
export type CaseStep = z.infer<typeof CaseStep>;

export const Scenario = z.object({
  town: z.string(),
  organisation: z.string(),
  people: z.array(z.string()),
  benches: z.array(BenchFields),
  opening: Opening,
  volunteers: z.array(Volunteer),
  groups: z.array(WaitingGroup),
  /** When the demo's clock stands as it opens. */
  clock: z.iso.datetime(),
  letterFrom: z.email(),
  collectionPoint: z.string(),
  batches: z.array(z.object({ id: z.string(), title: z.string(), received: z.string(), donors: z.string() })).min(1),
  donors: z.record(z.string(), Contact),
  devices: z.array(Device),
  /** What happened at Clearance, by tag; a short story by state where nothing is told. */
  cases: z.record(z.string(), z.array(CaseStep)),
  /** Devices that are further on: accepted, so many steps done (-1 for all), checked out. */
  progress: z.array(
    z.strictObject({
      tag: z.string(),
      steps: z.number().int(),
      checkout: z.boolean().default(false),
      /** Whose hands it was in, and when; a person of the house in the first batch's days where nothing is told. */
      by: z.string().optional(),
      at: z.iso.datetime().optional(),
    }),
  ),
});
export type Scenario = z.infer<typeof Scenario>;

export function demoScenario(): Scenario {
  return Scenario.parse(JSON.parse(fs.readFileSync(path.join(DEMO_DATA, "scenario.json"), "utf8")));
}

const KEYS: readonly (readonly [keyof ScenarioDevice, FactKey, Fact["source"]])[] = [
  ["name", "model.name", "import"],
  ["number", "model.number", "import"],
  ["release", "android.release", "typed"],
  ["build", "build.number", "typed"],
  ["patch", "build.patch", "typed"],
  ["firmware", "firmware.version", "typed"],
  ["kind", "system.kind", "typed"],
  ["locked", "bootloader.locked", "read"],
  ["slot", "slot.current", "read"],
  ["battery", "battery.percent", "typed"],
  ["region", "device.region", "typed"],
  ["fuse", "fuse.level", "typed"],
  ["chip", "board.chip", "typed"],
];

/** A scenario device's facts. A maker's system is written down wherever a build number was read and nothing else runs. */
export function scenarioFacts(device: ScenarioDevice, at: string, by: string): Fact[] {
  const facts: Fact[] = [];
  for (const [field, key, source] of KEYS) {
    const raw = device[field];
    if (raw === undefined) continue;
    const read = readFactValue(key, raw as string | number | boolean);
    if (!read.ok) throw new Error(`${device.tag}: ${read.says}`);
    facts.push({ key, value: read.value, source, at, by });
  }
  if (device.build && !device.kind) facts.push({ key: "system.kind", value: "stock", source: "typed", at, by });
  return facts;
}
