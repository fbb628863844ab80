import { parseBuildNumber } from "~/core/android/buildNumber";
import { apiOf, describeRelease } from "~/core/android/releases";
import { lacksCpu } from "~/core/catalogue/abis";
import type { Cpu } from "~/core/catalogue/common";
import { binderAnswer, type FacetAnswer, layoutAnswer } from "~/core/catalogue/layout";
import { FLASH_WORDS, type FlashInterface } from "~/core/catalogue/model";
import type { ListsSay } from "./agreesWithLists";
import type { KnownImage, Match } from "./match";
import type { FileReport } from "./report";

/** The device or model that files are held against; null where it is not known. */
export interface Target {
  readonly title: string;
  readonly model: string;
  readonly codename: string;
  readonly cpu: Cpu;
  readonly flash: FlashInterface;
  /** What its kernel's binder speaks, and whether its system partition holds the root folder. */
  readonly binder: "32" | "64" | null;
  readonly systemAsRoot: boolean | null;
  /** Full build number that is installed. */
  readonly build: string | null;
  readonly api: number | null;
}

/** Stable codes of what was looked at; other software may rely on them: add, never rename. */
export type HoldCode =
  | "file.damaged"
  | "image.other-model"
  | "image.cpu"
  | "image.withdrawn"
  | "verification.other-build"
  | "verification.other-region"
  | "package.other-base"
  | "package.older"
  | "gsi.binder"
  | "gsi.slots"
  | "list.other-board"
  | "app.floor"
  | "app.cpu";

export interface HoldCheck {
  readonly code: HoldCode;
  readonly what: string;
  readonly is: "yes" | "no" | "unknown";
  readonly says: string;
}

type Check = (file: FileReport, image: KnownImage | null, target: Target) => HoldCheck | null;

const low = (text: string) => text.trim().toLowerCase();

/** Made for this board: by the code names it tells, else by its record in the catalogue. */
const device: Check = ({ told, content }, image, target) => {
  const check = (is: HoldCheck["is"], says: string): HoldCheck => ({
    code: "image.other-model",
    what: "device",
    is,
    says,
  });
  if (content.kind === "apk" || content.kind === "partition-list") return null;
  if (told.devices.length)
    return told.devices.some((d) => low(d) === low(target.codename))
      ? check("yes", `It names ${target.codename}`)
      : check("no", `It is made for ${told.devices.join(", ")}; this is ${target.codename}`);
  if (!image) return check("unknown", "The file names no device, and the catalogue does not know it");
  if (image.models.length === 0) return check("yes", "It is a generic one");
  return image.models.includes(target.model)
    ? check("yes", `The catalogue has it for ${target.title}`)
    : check("no", `The catalogue has it for ${image.models.join(", ")}, not for ${target.title}`);
};

const cpu: Check = ({ told }, image, target) => {
  const made = told.cpu ?? image?.cpu ?? null;
  if (made === null) return null;
  return made === target.cpu
    ? { code: "image.cpu", what: "processor", is: "yes", says: `Made for ${made}` }
    : { code: "image.cpu", what: "processor", is: "no", says: `Made for ${made}; this device has ${target.cpu}` };
};

const withdrawn: Check = (_file, image) =>
  image?.withdrawn
    ? { code: "image.withdrawn", what: "record", is: "no", says: `It was withdrawn: ${image.withdrawn.says}` }
    : null;

/**
 * A verification file, and parts that carry one, must come from exactly the installed build: the same release for another
 * region has the same AOSP number inside another full number.
 */
const build: Check = ({ told, content }, image, target) => {
  const verification = content.kind === "vbmeta" || image?.kind === "verification";
  if (!verification) return null;
  const check = (is: HoldCheck["is"], says: string, code: HoldCode = "verification.other-build"): HoldCheck => ({
    code,
    what: "build",
    is,
    says,
  });
  const own = image?.build ?? told.build;
  if (!own)
    return check("unknown", "The file does not tell its build. Compare its digest with the one of the firmware");
  if (target.build === null)
    return check("unknown", `It belongs to build ${own}. Read the full build number of the device`);
  if (low(own) === low(target.build)) return check("yes", `It belongs to the installed build ${own}`);
  const [a, b] = [parseBuildNumber(own), parseBuildNumber(target.build)];
  return a && b && a.text === b.text
    ? check(
        "no",
        `It belongs to ${own}, the same release for another region or variant; installed is ${target.build}`,
        "verification.other-region",
      )
    : check("no", `It belongs to build ${own}; installed is ${target.build}`);
};

/** An update that carries only differences needs exactly the build it was made from. */
const base: Check = ({ content }, _image, target) => {
  if (content.kind !== "ota" || content.full !== false) return null;
  const from = content.metadata["pre-build"] ?? content.metadata["pre-build-incremental"] ?? "another build";
  const check = (is: HoldCheck["is"], says: string): HoldCheck => ({
    code: "package.other-base",
    what: "base",
    is,
    says,
  });
  if (target.build === null) return check("unknown", `It goes only on top of ${from}. Read the full build number`);
  return low(from).includes(low(target.build))
    ? check("yes", `It is made for the installed build`)
    : check("no", `It goes only on top of ${from}; installed is ${target.build}`);
};

/** Going down a release is said, and never a surprise. */
const older: Check = ({ told, content }, image, target) => {
  if (!["ota", "factory", "sparse", "ext4", "erofs"].includes(content.kind)) return null;
  const api = told.api ?? (image ? apiOf(image.release) : null);
  if (api === null || target.api === null || api >= target.api) return null;
  return {
    code: "package.older",
    what: "release",
    is: "unknown",
    says: `It brings ${describeRelease(api)}, older than the ${describeRelease(target.api)} that runs: going down needs its own way`,
  };
};

/** What a generic image is built for, as far as its record says. */
const facets: Check[] = (
  [
    ["gsi.binder", "binder", (image, target) => binderAnswer(image, target.binder)],
    ["gsi.slots", "layout", (image, target) => layoutAnswer(image, target.systemAsRoot)],
  ] as const satisfies readonly (readonly [HoldCode, string, (i: KnownImage, t: Target) => FacetAnswer])[]
).map(([code, what, ask]) => (_file, image, target) => {
  // Made for another processor, nothing else matters.
  if (image?.kind !== "gsi" || image.cpu !== target.cpu) return null;
  const answer = ask(image, target);
  if (answer.is === "fits") return null;
  return answer.is === "not"
    ? { code, what, is: "no", says: answer.says }
    : { code, what, is: "unknown", says: `Nobody knows the ${what} of this device yet` };
});

/** A partition list is a thing of loader boards. */
const board: Check = ({ content }, _image, target) => {
  if (content.kind !== "partition-list") return null;
  const check = (is: HoldCheck["is"], says: string): HoldCheck => ({
    code: "list.other-board",
    what: "board",
    is,
    says,
  });
  return target.flash === "loader"
    ? check("yes", "This board is restored by such a list. Only a list dumped from the same board is right")
    : check("unknown", `A list for loader boards; this model is flashed through ${FLASH_WORDS[target.flash]}`);
};

const app: Check = ({ content }, _image, target) => {
  if (content.kind !== "apk") return null;
  const check = (is: HoldCheck["is"], says: string): HoldCheck => ({ code: "app.floor", what: "release", is, says });
  if (target.api === null)
    return check("unknown", `It needs ${describeRelease(content.minApi)}. Read the Android version`);
  return target.api >= content.minApi
    ? check("yes", `It runs from ${describeRelease(content.minApi)} on`)
    : check("no", `It needs ${describeRelease(content.minApi)}; this runs ${describeRelease(target.api)}`);
};

const appCpu: Check = ({ content }, _image, target) => {
  if (content.kind !== "apk" || content.abis.length === 0) return null;
  const lacks = lacksCpu(content.abis, target.cpu);
  return {
    code: "app.cpu",
    what: "processor",
    is: lacks ? "no" : "yes",
    says: lacks ? `It has code for ${content.abis.join(", ")} only` : `It has code for ${target.cpu}`,
  };
};

const CHECKS: readonly Check[] = [withdrawn, device, cpu, ...facets, build, base, older, board, app, appCpu];

/**
 * Holds a file against a device or model, each question with its own answer.
 *
 * @returns what was looked at; empty where nothing about the file can suit or not suit a device
 * @example holdAgainst(report, null, { model, facts, … }).map((check) => check.code) // ["cpu", …]
 */
export function holdAgainst(file: FileReport, image: KnownImage | null, target: Target): readonly HoldCheck[] {
  return NOT_FOR_DEVICES.has(file.content.kind) ? [] : CHECKS.flatMap((check) => check(file, image, target) ?? []);
}

const NOT_FOR_DEVICES: ReadonlySet<FileReport["content"]["kind"]> = new Set(["digest-list", "web-page", "empty"]);

export interface FileVerdict {
  readonly is: "yes" | "no" | "unknown";
  /** The reason in a sentence. */
  readonly says: string;
}

/**
 * One answer for a file: is it the right one, whole and for this device? A single no decides; without one, a yes needs the
 * digest, and no open question.
 *
 * @param lists what the digest lists that were dropped say of it
 * @example judgeFile({ whole: { is: "no", says: "cut short" }, … }, match, [], null) // { is: "no", says: "cut short" }
 */
export function judgeFile(file: FileReport, match: Match, checks: readonly HoldCheck[], lists: ListsSay): FileVerdict {
  if (file.whole.is === "no") return { is: "no", says: file.whole.says };
  if (lists === "other")
    return { is: "no", says: "The digest list has another digest for it: damaged or another version" };
  const wrong = checks.find((c) => c.is === "no");
  if (wrong) return { is: "no", says: wrong.says };
  if (match.is === "no" && lists !== "agrees") return { is: "no", says: match.says };
  const open = checks.find((c) => c.is === "unknown");
  if (lists === "both" && match.is !== "yes")
    return { is: "unknown", says: "The digest lists contradict each other about it: find out which one is meant" };
  if (match.is === "yes" || lists === "agrees") {
    const whole = match.is === "yes" ? match.says : "The digest list agrees";
    const says = open ? `Whole, by its digest. ${open.says}` : whole;
    const but = lists === "both" ? ". One of the digest lists has another digest for it" : "";
    return { is: open ? "unknown" : "yes", says: says + but };
  }
  if (file.content.kind === "partition-list" && file.content.unit === "unknown")
    return { is: "unknown", says: "Its numbers may count bytes or sectors: open it and say which" };
  if (file.content.kind === "partition-list") {
    const [problem] = [file.content, ...file.content.more].flatMap(({ problems }) => problems);
    if (problem) return { is: "unknown", says: `Read whole, but ${problem}: look at its rows` };
  }
  // A text or an app package tells all there is to know by itself.
  if (file.content.kind === "digest-list" || file.content.kind === "partition-list" || file.content.kind === "apk")
    return open ? { is: "unknown", says: open.says } : { is: "yes", says: "Read whole" };
  return { is: "unknown", says: open?.says ?? match.says };
}
