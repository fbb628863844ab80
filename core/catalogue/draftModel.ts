import { apiOf, releaseOf } from "~/core/android/releases";
import { type CurrentFacts, currentValue } from "~/core/device/lookUp";
import { Hardware } from "./common";
import type { OpenPart } from "./model";
import { slugOf } from "./slug";

/** What a model record needs at least, as text for a form; empty where it is not known. */
export interface ModelDraft {
  readonly maker: string;
  readonly name: string;
  readonly modelNumber: string;
  readonly codename: string;
  readonly board: string;
  readonly form: string;
  readonly launchApi: string;
  readonly screen: string;
  readonly cpu: string;
  readonly flash: string;
  readonly binder: string;
  readonly systemAsRoot: string;
  readonly treble: string;
  readonly slots: string;
  readonly userspaceFastboot: string;
  readonly logical: string;
  readonly roomSystem: string;
  readonly unlockPossible: string;
  readonly firmware: string;
}

const yesNo = (value: boolean | undefined) => (value === undefined ? "" : value ? "yes" : "no");

/**
 * What a device's facts tell of its model. Nothing is guessed: what the read-out does not say stays empty and is asked for.
 *
 * The release that runs says nothing of the one it was sold with: that is taken only from the device's own word for it.
 *
 * @example draftModel(new Map()).maker // ""
 */
export function draftModel(facts: CurrentFacts): ModelDraft {
  const text = (key: Parameters<typeof currentValue>[1]) => String(currentValue(facts, key) ?? "");
  const slots = currentValue(facts, "slots.count");
  const slot = currentValue(facts, "slot.current");
  const launched = currentValue(facts, "launch.api");
  return {
    maker: text("model.maker"),
    name: withoutMaker(text("model.name"), text("model.maker")),
    modelNumber: text("model.number"),
    codename: text("model.codename"),
    board: text("model.board"),
    form: "",
    launchApi: launched === undefined ? "" : (releaseOf(launched) ?? ""),
    screen: text("screen.size"),
    cpu: text("cpu.arch"),
    // Only fastboot itself says that it is there.
    flash: currentValue(facts, "fastboot.userspace") === undefined ? "" : "fastboot",
    binder: text("kernel.binder"),
    systemAsRoot: yesNo(currentValue(facts, "system.as-root")),
    treble: yesNo(currentValue(facts, "treble.supported")),
    slots: slots !== undefined ? yesNo(slots === 2) : slot !== undefined ? "yes" : "",
    userspaceFastboot: yesNo(currentValue(facts, "fastboot.userspace")),
    logical: yesNo(currentValue(facts, "partitions.logical")),
    roomSystem: text("room.system"),
    unlockPossible: yesNo(currentValue(facts, "unlock.ability")),
    firmware: text("firmware.version"),
  };
}

/**
 * Lists write the maker before the name: the record has it once.
 *
 * @example withoutMaker("Velkora Lumen", "Velkora") // "Lumen"
 */
export const withoutMaker = (name: string, maker: string) =>
  maker && name.toLowerCase().startsWith(`${maker.toLowerCase()} `) ? name.slice(maker.length + 1).trim() : name;

/**
 * Makes what a form of a {@link ModelDraft} says into what the model's schema checks. Who it is must be told; of what it is made,
 * what is missing stays open and is asked on each device (`open` of the record): never taken for "no".
 *
 * @example modelOfDraft({ ...draftModel(new Map()), maker: "Velkora", name: "Lumen" }, "by hand", "2026-11-20").maker // "Velkora"
 */
export function modelOfDraft(draft: ModelDraft, source: string, on: string): Record<string, unknown> {
  const bool = (text: string) => (text === "yes" ? true : text === "no" ? false : undefined);
  const open: OpenPart[] = ["hardware"];
  /** What stands in the record while nobody knows: no rule takes it for an answer. */
  const or = <T>(part: OpenPart, value: T | undefined, meanwhile: T): T => {
    if (value === undefined) open.push(part);
    return value ?? meanwhile;
  };
  const room = Number(draft.roomSystem);
  return {
    id: slugOf(`${draft.maker} ${draft.name}`),
    maker: draft.maker,
    names: draft.name ? [draft.name] : [],
    modelNumbers: draft.modelNumber.split(/[,;]\s*/).filter(Boolean),
    codename: draft.codename,
    board: draft.board,
    form: draft.form || undefined,
    launchApi: draft.launchApi ? (apiOf(draft.launchApi) ?? undefined) : or("launchApi", undefined, 26),
    screen: draft.screen || null,
    cpu: or("cpu", draft.cpu || undefined, "arm64"),
    flash: draft.flash || null,
    binder: draft.binder || null,
    systemAsRoot: bool(draft.systemAsRoot) ?? null,
    hardware: [...Hardware.options],
    treble: or("treble", bool(draft.treble), true),
    slots: or("slots", bool(draft.slots), false),
    userspaceFastboot: or("userspaceFastboot", bool(draft.userspaceFastboot), false),
    logical: or("logical", bool(draft.logical), false),
    maxDownload: 268_435_456,
    writeRate: 25_000_000,
    room: { system: draft.roomSystem ? room : or("room", undefined, 4_294_967_296), product: null },
    unlock: { possible: or("unlock", bool(draft.unlockPossible), true) },
    firmware: { order: draft.firmware.split(/[,;]\s*/).filter(Boolean) },
    keys: {
      bootloader: "not written down yet: look at the maker's page",
      recovery: "not written down yet: look at the maker's page",
    },
    open,
    source,
    on,
  };
}
