import { z } from "zod";
import { PackageName, readPackageNames } from "~/core/catalogue/packageName";

/** What was read of a package that a list takes away. */
export const PackageOutcome = z.enum(["gone", "stays", "absent", "back"]);
export type PackageOutcome = z.infer<typeof PackageOutcome>;

export const PACKAGE_WORDS: Record<PackageOutcome, string> = {
  gone: "gone",
  stays: "stays: the device did not let it go",
  absent: "was not on it",
  back: "put back",
};

export interface PackageSeen {
  readonly name: string;
  readonly outcome: PackageOutcome;
}

/**
 * Reads what a script reports of a package: "package.<name>" with its outcome. @returns null where it is something else
 *
 * @example readPackageValue("battery", "80") // null
 */
export function readPackageValue(name: string, value: string): PackageSeen | null {
  if (!name.startsWith("package.")) return null;
  const [read, outcome] = [PackageName.safeParse(name.slice("package.".length)), PackageOutcome.safeParse(value)];
  return read.success && outcome.success ? { name: read.data, outcome: outcome.data } : null;
}

/**
 * What became of packages, as `pm list packages` tells it now.
 *
 * @param text what the client printed
 * @param listed what was known of each package before; null where nothing was
 * @returns what has changed, or what is wrong with the text in words
 * @example seenInList("nothing", []).slice(0, 19) // "There is no package"
 */
export function seenInList(
  text: string,
  listed: readonly { readonly name: string; readonly before: PackageOutcome | null }[],
): readonly PackageSeen[] | string {
  const there = new Set(readPackageNames(text));
  if (there.size === 0)
    return "There is no package in what was pasted: run “adb shell pm list packages” and paste all it prints, lines like package:com.example.player";
  // Every Android has these two: a list without them was cut short, or is of something else.
  if (!there.has("android") && !there.has("com.android.settings"))
    return "This is not the whole list: neither “android” nor “com.android.settings” is in it. Paste all that “adb shell pm list packages” prints";
  return listed.flatMap(({ name, before }): PackageSeen[] => {
    const now = !there.has(name)
      ? before === "absent"
        ? "absent"
        : "gone"
      : before === "gone" || before === "back"
        ? "back"
        : "stays";
    return now === before ? [] : [{ name, outcome: now }];
  });
}
