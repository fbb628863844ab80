import { CLEARANCE_STATES } from "~/core/clearance/clearance";
import type { Fact } from "~/core/device/fact";
import { writeRunbook } from "~/core/runbook/runbook";
import type { Runbook } from "~/core/runbook/step";
import type { Way } from "~/core/upgrade/way";
import type { Hand, Store } from "~/store/database";
import { appendFacts, findStanding, type Standing } from "~/store/devices";
import { readPolicy } from "~/store/policy";
import { catalogueOf, indexOf, plannedDevice } from "./planning";

export type RunbookAnswer =
  | { readonly ok: true; readonly runbook: Runbook; readonly way: Way; readonly accepted: boolean }
  | { readonly ok: false; readonly status: 404 | 409; readonly says: string };

/** The sheet of a device's accepted way, else of the proposed one. */
export function runbookOf(store: Store, tag: string): RunbookAnswer {
  const standing = findStanding(store, tag);
  if (!standing) return { ok: false, status: 404, says: `There is no device ${tag}` };
  const gate = CLEARANCE_STATES[standing.clearance];
  if (!gate.opensGate)
    return {
      ok: false,
      status: 409,
      says: `${standing.tag}: ${gate.says.toLowerCase()}. Nothing is planned or done before the account lock is settled`,
    };
  const { plan, model, facts } = plannedDevice(store, standing);
  const accepted = standing.way ? (JSON.parse(standing.way) as Way) : null;
  const way = accepted ?? plan.best;
  if (!way || !model) return { ok: false, status: 409, says: `${standing.tag} has no way: ${plan.says}` };
  const index = indexOf(store);
  try {
    const runbook = writeRunbook({
      tag: standing.tag,
      serial: standing.serial,
      model,
      facts,
      way,
      image: (id) => index.images.get(id)?.image,
      policy: readPolicy(store).policy,
    });
    return { ok: true, runbook, way, accepted: accepted !== null };
  } catch (error) {
    if (error instanceof RangeError) return { ok: false, status: 409, says: error.message };
    throw error;
  }
}

/** What a finished run makes of a device, as facts. */
export function factsAfter(store: Store, way: Way, hand: Hand): Fact[] {
  const image = way.image ? catalogueOf(store).images.find((i) => i.id === way.image) : undefined;
  const kinds = new Set(way.operations.map((o) => o.kind));
  const facts: Fact[] = [
    { key: "android.release", value: way.release, source: "run", ...hand },
    { key: "storage.state", value: "clean", source: "run", ...hand },
  ];
  if (image) {
    facts.push({ key: "system.image", value: image.id, source: "run", ...hand });
    facts.push({
      key: "system.kind",
      value: image.kind === "rom" ? "custom" : image.kind === "gsi" ? "generic" : "stock",
      source: "run",
      ...hand,
    });
    if (image.build) facts.push({ key: "build.number", value: image.build, source: "run", ...hand });
    if (image.patch) facts.push({ key: "build.patch", value: image.patch, source: "run", ...hand });
  }
  const firmware = [...way.operations]
    .reverse()
    .find((o) => ["take-update", "flash-stock", "install-firmware-pack"].includes(o.kind));
  const brought = firmware?.image ? catalogueOf(store).images.find((i) => i.id === firmware.image)?.firmware : null;
  if (brought) facts.push({ key: "firmware.version", value: brought, source: "run", ...hand });
  if (kinds.has("relock")) facts.push({ key: "bootloader.locked", value: true, source: "run", ...hand });
  else if (kinds.has("unlock")) facts.push({ key: "bootloader.locked", value: false, source: "run", ...hand });
  return facts;
}

export function recordRun(store: Store, standing: Standing, way: Way, hand: Hand) {
  appendFacts(store, standing.id, factsAfter(store, way, hand));
}
