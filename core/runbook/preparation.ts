import type { Image, ImageFile, ImageKind } from "~/core/catalogue/image";
import type { Model } from "~/core/catalogue/model";
import { writeDigestList } from "~/core/files/agreesWithLists";
import type { Way } from "~/core/upgrade/way";
import { shellQuote } from "./writeScript";

/** A device that is to be treated, and the way it goes. */
export interface DeviceToPrepare {
  readonly tag: string;
  readonly model: Model;
  readonly way: Way;
}

/** Where a file goes: the bench computer's folder, a stick with an OTG lead, or a memory card. */
export type FilePlace = "computer" | "stick" | "card";

export interface PrepareItem {
  readonly image: string;
  readonly title: string;
  readonly kind: ImageKind;
  readonly name: string;
  /** Path in the folder of files, as the bench scripts want it. */
  readonly path: string;
  /** Bytes to fetch, once for all devices. */
  readonly fetch: number;
  /** Bytes to write, all devices together. */
  readonly write: number;
  readonly sha256: string | null;
  readonly unpack: "leave" | "unpack" | "as it is";
  readonly says: string;
  readonly place: FilePlace;
  /** For a card update: the folder that goes to the card's root, unpacked. */
  readonly cardFolder: string | null;
  /** Name for sticks and cards: short, lower case, no blanks. */
  readonly shortName: string;
  readonly devices: readonly string[];
  readonly source: string;
}

export interface Preparation {
  readonly items: readonly PrepareItem[];
  readonly fetch: number;
  readonly write: number;
  /** Devices that go on over the air or by themselves: nothing is fetched for them. */
  readonly withoutFiles: readonly string[];
  /** Images that come over the air, with their devices. */
  readonly overTheAir: readonly { readonly title: string; readonly devices: readonly string[] }[];
}

/** The keeping edition of a region part is for a device that stays with its owner: a donated one never takes it. */
export const isFetched = (file: Pick<ImageFile, "slot">) => file.slot !== "region-keep";

const PACKED = /\.(xz|gz|lz4|zst|7z|rar|tgz)$/i;

/** Packages stay packed: recoveries install the zip; what is written to a partition is unpacked first. */
function unpackRule(file: ImageFile, image: Pick<Image, "cardFolder">): Pick<PrepareItem, "unpack" | "says"> {
  if (file.slot)
    return { unpack: "leave", says: "Leave the tar packed, its MD5 line behind it: the flasher takes it as it is" };
  if (image.cardFolder)
    return {
      unpack: "unpack",
      says: `Unpack it: the folder ${image.cardFolder} itself goes to the root of the card, not what it lies in`,
    };
  if (file.partition === null) return { unpack: "leave", says: "Leave it packed: it is installed as it is" };
  if (PACKED.test(file.name))
    return { unpack: "unpack", says: "Unpack it: a partition takes the image, not the archive" };
  return { unpack: "as it is", says: file.expanded ? "Sparse: leave it, the client unfolds it" : "Leave it as it is" };
}

const clean = (text: string) => text.toLowerCase().replaceAll(/[^a-z0-9.]+/g, "-");

/**
 * A short name that still says what it is: kind, release, board, partition; 32 characters at most.
 *
 * @example shortName({ kind: "rom", release: "13" }, { name: "some-long-name.zip", partition: null }, "lumen") // "rom-13-lumen.zip"
 */
export function shortName(
  image: Pick<Image, "kind" | "release">,
  file: Pick<ImageFile, "name" | "partition">,
  board: string,
): string {
  const ending = /(\.[a-z0-9]{1,4}){1,2}$/i.exec(file.name)?.[0].toLowerCase() ?? "";
  const parts = [image.kind, image.release, board, ...(file.partition ? [file.partition] : [])];
  return `${clean(parts.join("-"))
    .slice(0, 32 - ending.length)
    .replace(/[-.]+$/, "")}${ending}`;
}

/**
 * Every file to fetch for the ways of many devices, each once.
 *
 * @param image image of an id; ways that name one that is not there are skipped by the caller
 * @param place where packages that a recovery installs go
 * @example prepareFiles([], () => undefined, place).items // [] …
 */
export function prepareFiles(
  devices: readonly DeviceToPrepare[],
  image: (id: string) => Image | undefined,
  place: FilePlace,
): Preparation {
  const items = new Map<string, { image: Image; file: ImageFile; tags: string[]; board: string }>();
  const air = new Map<string, { title: string; devices: string[] }>();
  const withFiles = new Set<string>();
  for (const { tag, way, model } of devices)
    for (const id of new Set(way.operations.flatMap((o) => o.image ?? []))) {
      const found = image(id);
      if (!found) continue;
      if (found.kind === "official-update") {
        const entry = air.get(id) ?? { title: found.title, devices: [] };
        entry.devices.push(tag);
        air.set(id, entry);
        continue;
      }
      withFiles.add(tag);
      for (const file of found.files.filter(isFetched)) {
        const key = `${id}/${file.name}`;
        const item = items.get(key) ?? { image: found, file, tags: [], board: model.codename };
        item.tags.push(tag);
        items.set(key, item);
      }
    }
  const names = new Map<string, number>();
  const unique = (name: string) => {
    const n = (names.get(name) ?? 0) + 1;
    names.set(name, n);
    return n === 1 ? name : name.replace(/(?=\.|$)/, `-${n}`);
  };
  const list = [...items].map(([path, { image: i, file, tags, board }]): PrepareItem => {
    const generic = i.models.length === 0;
    return {
      image: i.id,
      title: i.title,
      kind: i.kind,
      name: file.name,
      path,
      fetch: file.bytes,
      write: (file.expanded ?? file.bytes) * tags.length,
      sha256: file.sha256,
      ...unpackRule(file, i),
      cardFolder: i.cardFolder,
      place: i.cardFolder ? "card" : file.partition === null && !file.slot ? place : "computer",
      shortName: unique(shortName(i, file, generic ? (i.cpu ?? "any") : board)),
      devices: tags,
      source: i.source,
    };
  });
  return {
    items: list,
    fetch: list.reduce((sum, i) => sum + i.fetch, 0),
    write: list.reduce((sum, i) => sum + i.write, 0),
    withoutFiles: devices.map((d) => d.tag).filter((tag) => !withFiles.has(tag)),
    overTheAir: [...air.values()],
  };
}

/**
 * The folder's digest list, for `sha256sum -c`; files without a recorded digest are left out.
 *
 * @example preparationDigests({ items: [] }) // ""
 */
export function preparationDigests({ items }: Pick<Preparation, "items">): string {
  return writeDigestList(items.flatMap((i) => (i.sha256 ? [{ sha256: i.sha256, path: i.path }] : [])));
}

/**
 * A POSIX script that checks the folder of files: all there, digests right, unknown ones named. It changes nothing.
 *
 * It takes the folder as its first argument (the current one without) and ends with status 1 when something is wrong.
 *
 * @example preparationScript({ items: [] }, "the evening").startsWith("#!/bin/sh") // true
 */
export function preparationScript({ items }: Pick<Preparation, "items">, title: string): string {
  const digests = preparationDigests({ items });
  const open = items.filter((i) => !i.sha256);
  return [
    "#!/bin/sh",
    `# Checks the folder of files for ${title.replaceAll(/[\r\n]+/g, " ")}. It reads only; nothing is changed.`,
    "# sh check-files.sh [FOLDER]",
    'cd "$' + '{1:-.}" || { echo "There is no folder $1" >&2; exit 1; }',
    "wrong=0",
    ...items.map(
      (i) =>
        `[ -f ${shellQuote(i.path)} ] || { echo ${shellQuote(`Missing: ${i.path}. Put it into the folder ${i.image}`)} >&2; wrong=1; }`,
    ),
    ...(digests ? ["sha256sum -c --quiet - <<'END_OF_DIGESTS' || wrong=1", digests.trimEnd(), "END_OF_DIGESTS"] : []),
    ...open.map(
      (i) => `echo ${shellQuote(`Not checked: ${i.path} has no recorded digest. Compare it on the Files page`)}`,
    ),
    `[ "$wrong" = 0 ] || { echo 'Something is wrong: fetch the named files again. A download that was cut short is the usual reason.' >&2; exit 1; }`,
    `echo ${shellQuote(`All ${items.length} files are there, ${items.length - open.length} digests agree`)}`,
    "",
  ].join("\n");
}
