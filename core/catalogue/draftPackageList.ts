import { PackageName, readPackageNames } from "./packageName";

export interface DraftPackage {
  readonly name: string;
  /** Why it must stay; null where that is for a person to decide. */
  readonly keptBecause: string | null;
}

export interface DraftPackageList {
  readonly packages: readonly DraftPackage[];
  /** Lines that are no package, at most the first five. */
  readonly notUnderstood: readonly string[];
}

const MAX_PACKAGES = 2000;

/**
 * What a device lists, with what must stay marked. What may go is ticked by a person, one by one: no name decides by itself.
 *
 * @param text what `pm list packages -f -s` printed
 * @param kept packages that always stay, with what they are
 * @param others packages that other lists of the model keep, with what they are
 * @returns the draft, or what is wrong in words
 * @example draftPackageList("no package", new Map(), new Map()).slice(0, 19) // "There is no package"
 */
export function draftPackageList(
  text: string,
  kept: ReadonlyMap<string, string>,
  others: ReadonlyMap<string, string>,
): DraftPackageList | string {
  const names = readPackageNames(text);
  if (names.length === 0)
    return "There is no package in what was pasted: run “adb shell pm list packages -f -s” and paste all it prints";
  if (names.length > MAX_PACKAGES) return `It has more than ${MAX_PACKAGES} packages: no device lists that many`;
  const notUnderstood = text
    .split(/\r?\n/)
    .map((l) => l.trim())
    .filter((l) => l !== "" && readPackageNames(l).length === 0)
    .slice(0, 5);
  return {
    notUnderstood,
    packages: names
      .map((name) => ({
        name,
        keptBecause:
          kept.get(name) ?? others.get(name) ?? (PackageName.safeParse(name).success ? null : "no ordinary name"),
      }))
      .sort((a, b) => (a.name < b.name ? -1 : 1)),
  };
}
