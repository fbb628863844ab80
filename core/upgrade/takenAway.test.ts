import fc from "fast-check";
import { releaseOf } from "~/core/android/releases";
import type { Model } from "~/core/catalogue/model";
import type { FactKey, FactValue } from "~/core/device/fact";
import { DEFAULT_POLICY } from "~/core/policy/policy";
import { operationOf } from "~/core/ways/registry";
import { demoCatalogue } from "~/demo/catalogue";
import { makeFacts } from "~/testing/catalogueEntries";
import { indexCatalogue } from "./catalogueIndex";
import { planDevice } from "./plan";
import { initialState, planDeviceOf, systemKindOf } from "./state";
import type { Way } from "./way";

// Devices of every model of the demo, and so of every interface, about which nobody knows one to three things: what may be begun
// without asking stands whatever they turn out to be.

type Facts = Partial<Record<FactKey, FactValue>>;
type Domain = Partial<Record<FactKey, readonly FactValue[]>>;

const index = indexCatalogue(demoCatalogue());
const models = [...index.models.values()];
const needs = [...index.needs.values()];
const SYSTEMS = ["official-update", "stock", "rom", "gsi"];

const imagesOf = (model: Model) => index.imagesFor(model).map((e) => e.image);

/** What each fact may be on a device of a model. */
function domainOf(model: Model): Domain {
  const own = imagesOf(model).filter((i) => i.models.includes(model.id));
  const stock = own.filter((i) => i.kind === "stock" || i.kind === "official-update");
  const once = <T>(values: readonly T[]) => [...new Set(values)];
  const domain: Domain = {
    "android.release": once([releaseOf(model.launchApi) ?? "10", ...own.map((i) => i.release)]),
    "build.number": once([...own.flatMap((i) => i.build ?? []), "another"]),
    "firmware.version": model.firmware.order,
    "system.kind": ["stock", "stock", "custom", "generic"],
    "bootloader.locked": [true, false],
    "slot.current": model.slots ? ["a", "b"] : [],
    "recovery.image": ["stock", ...own.filter((i) => i.kind === "recovery").map((i) => i.id), "another"],
    "verification.off": [false, true],
    "product.removed": model.logical && model.room.product !== null ? [false, true] : [],
    "services.addon": ["none", "some"],
    "base.release": once(stock.map((i) => i.release)),
    "base.build": once(stock.flatMap((i) => i.build ?? [])),
    "device.region": once([...own.flatMap((i) => i.regions), "elsewhere"]),
    "fuse.level": [0, 1, 2, 3, 4],
    "fuse.blown": [false, true],
    "board.chip": [model.loader?.chip ?? "none", "another"],
    "storage.encrypted": [false, true],
    "kernel.binder": ["32", "64"],
  };
  return Object.fromEntries(Object.entries(domain).filter(([, values]) => values.length > 0));
}

/** A locked bootloader starts the maker's own, a generic image only unverified; a build that is known tells what runs. */
function canBe(model: Model, facts: Facts): boolean {
  const { "system.kind": kind, "build.number": build } = facts;
  const foreign = kind !== "stock" || facts["recovery.image"] !== "stock" || facts["verification.off"];
  if (facts["bootloader.locked"] && (foreign || facts["product.removed"])) return false;
  if (kind === "generic" && facts["verification.off"] === false) return false;
  if (kind === "stock" && facts["product.removed"] && facts["system.starts"] === "yes") return false;
  const running = imagesOf(model).find((i) => SYSTEMS.includes(i.kind) && i.build !== null && i.build === build);
  return !running || systemKindOf(running) === kind;
}

const device = fc.constantFrom(...models).chain((model) => {
  const domain = domainOf(model);
  const keys = Object.keys(domain) as FactKey[];
  const facts = fc.record({
    ...Object.fromEntries(keys.map((key) => [key, fc.constantFrom(...(domain[key] ?? []))])),
    "system.starts": fc.constantFrom("yes", "yes", "yes", "no"),
  }) as fc.Arbitrary<Facts>;
  return fc.record({
    model: fc.constant(model),
    domain: fc.constant(domain),
    facts: facts.map((f): Facts => ({ ...f, "model.number": model.modelNumbers[0], "accounts.on": false })),
    gone: fc.subarray(keys, { minLength: 1, maxLength: 3 }),
    need: fc.constantFrom(...needs),
  });
});

/** Why a way stops on a device; null where it goes through, or has nothing left to do. */
function stopOf(way: Way, model: Model, facts: Facts): string | null {
  const world = { device: planDeviceOf(model, makeFacts(facts)), index, policy: DEFAULT_POLICY };
  let state = initialState(world.device, index);
  for (const { kind, image } of way.operations) {
    const bound = operationOf(kind).bind(image === null ? null : (index.images.get(image) ?? null), world);
    const stop = bound?.failure("all", state);
    // What is there already need not be put on: no harm.
    const isThere =
      stop?.code === "image.not-needed" ||
      (kind === "flash-verification" && facts["verification.off"]) ||
      ((kind === "flash-recovery" || kind === "write-recovery") && facts["recovery.image"] === image);
    if (isThere) return null;
    if (!bound || stop) return `${kind}: ${stop?.code ?? "takes no such image"}`;
    state = bound.apply(state);
  }
  return null;
}

test("whatever may be begun without asking stands, whatever the open facts turn out to be, through every interface", () => {
  const begun = new Map<string, number>();
  fc.assert(
    fc.property(device, ({ model, domain, facts, gone, need }) => {
      fc.pre(canBe(model, facts));
      const known = Object.fromEntries(Object.entries(facts).filter(([key]) => !gone.includes(key as FactKey)));
      const { ways } = planDevice(
        { facts: makeFacts(known), clearance: "confirmed-clear", need },
        index,
        DEFAULT_POLICY,
      );
      const worlds = gone.reduce<Facts[]>(
        (all, key) => all.flatMap((world) => (domain[key] ?? []).map((value) => ({ ...world, [key]: value }))),
        [known],
      );
      for (const way of ways.filter((w) => w.questions.length === 0)) {
        begun.set(model.flash, (begun.get(model.flash) ?? 0) + 1);
        for (const world of worlds) {
          const stop = canBe(model, world) ? stopOf(way, model, world) : null;
          if (stop) throw new Error(`${gone.map((k) => `${k} ${world[k]}`).join(", ")} stops ${way.id} at ${stop}`);
        }
      }
    }),
    { numRuns: 400 },
  );
  expect([...begun.keys()].sort()).toEqual(["download-mode", "fastboot", "loader"]);
});
