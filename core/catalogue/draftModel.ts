import { apiOf } from "~/core/android/releases";
import { type CurrentFacts, currentValue } from "~/core/device/lookUp";
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
 * The release that runs is the lowest it can have been sold with only when it is the maker's own and was never updated; so the
 * launch release is left open too.
 */
export function draftModel(facts: CurrentFacts): ModelDraft {
  const text = (key: Parameters<typeof currentValue>[1]) => String(currentValue(facts, key) ?? "");
  const slots = currentValue(facts, "slots.count");
  const slot = currentValue(facts, "slot.current");
  return {
    maker: "",
    name: text("model.name"),
    modelNumber: text("model.number"),
    codename: text("model.codename"),
    board: text("model.board"),
    form: "",
    launchApi: "",
    screen: text("screen.size"),
    cpu: text("cpu.arch"),
    // The number of slots is told by fastboot only.
    flash: slots === undefined ? "" : "fastboot",
    binder: text("kernel.binder"),
    systemAsRoot: yesNo(currentValue(facts, "system.as-root")),
    treble: yesNo(currentValue(facts, "treble.supported")),
    slots: slots !== undefined ? yesNo(slots === 2) : slot !== undefined ? "yes" : "",
    userspaceFastboot: yesNo(currentValue(facts, "fastboot.userspace")),
    logical: "",
    roomSystem: text("room.system"),
    unlockPossible: "",
    firmware: text("firmware.version"),
  };
}

/** Makes what a form of a {@link ModelDraft} says into what the model's schema checks; what is missing stays missing. */
export function modelOfDraft(draft: ModelDraft, source: string, on: string): Record<string, unknown> {
  const bool = (text: string) => (text === "yes" ? true : text === "no" ? false : undefined);
  return {
    id: slugOf(`${draft.maker} ${draft.name}`),
    maker: draft.maker,
    names: draft.name ? [draft.name] : [],
    modelNumbers: draft.modelNumber.split(/[,;]\s*/).filter(Boolean),
    codename: draft.codename,
    board: draft.board,
    form: draft.form || undefined,
    launchApi: apiOf(draft.launchApi) ?? undefined,
    screen: draft.screen || null,
    cpu: draft.cpu || undefined,
    flash: draft.flash || null,
    binder: draft.binder || null,
    systemAsRoot: bool(draft.systemAsRoot) ?? null,
    hardware: draft.form === "phone" ? ["calls", "mobile-data", "wifi"] : ["wifi"],
    treble: bool(draft.treble),
    slots: bool(draft.slots),
    userspaceFastboot: bool(draft.userspaceFastboot),
    logical: bool(draft.logical),
    maxDownload: 268_435_456,
    writeRate: 25_000_000,
    room: { system: Number(draft.roomSystem) || undefined, product: null },
    unlock: { possible: bool(draft.unlockPossible) },
    firmware: { order: draft.firmware.split(/[,;]\s*/).filter(Boolean) },
    keys: {
      bootloader: "not written down yet: look at the maker's page",
      recovery: "not written down yet: look at the maker's page",
    },
    source,
    on,
  };
}
