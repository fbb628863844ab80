import { type Model, OPEN_FACTS } from "~/core/catalogue/model";
import { type CurrentFacts, lookUp } from "~/core/device/lookUp";

/**
 * A model's record with what was read on the very device in its place: slots, logical partitions, userspace fastboot,
 * processor, binder, the API level it was sold with, the vendor interface, room. A reading wins over the record; nothing is
 * taken from a contradiction.
 */
export function asRead(model: Model, facts: CurrentFacts): Model {
  let read = model;
  const take = <K extends keyof Model>(key: K, value: Model[K] | undefined) => {
    if (value !== undefined && value !== read[key]) read = { ...read, [key]: value };
  };
  // What the record leaves open is open on this device until it was read here.
  if (model.open.length > 0)
    take(
      "open",
      model.open.filter((part) => lookUp(facts, OPEN_FACTS[part]).isUnknown),
    );
  const slots = lookUp(facts, "slots.count");
  take("slots", slots.isUnknown ? undefined : slots.value === 2);
  const of = <T>(looked: { isUnknown: true } | { isUnknown: false; value: T }) =>
    looked.isUnknown ? undefined : looked.value;
  take("logical", of(lookUp(facts, "partitions.logical")));
  take("userspaceFastboot", of(lookUp(facts, "fastboot.userspace")));
  take("cpu", of(lookUp(facts, "cpu.arch")));
  take("binder", of(lookUp(facts, "kernel.binder")));
  take("launchApi", of(lookUp(facts, "launch.api")));
  const ability = of(lookUp(facts, "unlock.ability"));
  if (ability !== undefined && model.open.includes("unlock")) take("unlock", { ...read.unlock, possible: ability });
  const system = of(lookUp(facts, "room.system"));
  const product = of(lookUp(facts, "room.product"));
  if (system !== undefined || product !== undefined)
    take("room", {
      ...read.room,
      system: system ?? read.room.system,
      // Where nothing is freed by removing it, there is nothing to remove.
      product: product === undefined ? read.room.product : product || null,
    });
  const treble = of(lookUp(facts, "treble.supported"));
  // By the record alone, a device sold before Android 8 has no vendor interface; one that says it has is believed.
  take("treble", treble ?? (model.treble && (read.launchApi >= 26 || model.open.includes("treble"))));
  return read;
}
