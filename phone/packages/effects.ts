import type { PhonePackages } from "./state";

/** A package without which the system does not start, and which is gone; null where none is. */
export function neededAndGone({ all }: PhonePackages): string | null {
  return Object.entries(all).find(([, p]) => p.needed && !p.user)?.[0] ?? null;
}

const isThere = ({ all }: PhonePackages, name: string | null) => name !== null && all[name]?.user === true;

/** What a person finds who presses home and recent apps and types; null when all is well. */
export function whatIsWrongAtHome(packages: PhonePackages): string | null {
  if (Object.keys(packages.all).length === 0) return null;
  if (!isThere(packages, packages.home)) return "The screen stays black: the home screen that was default is gone";
  if (packages.recentsIn !== null && !isThere(packages, packages.recentsIn))
    return "The recent-apps key does nothing: the package that draws that view is gone";
  if (!isThere(packages, packages.keyboard)) return "No keyboard comes: the one that was default is gone";
  return null;
}

/** A reset brings back what lies on the system partition, and takes what was installed since. */
export function resetPackages(packages: PhonePackages) {
  for (const [name, p] of Object.entries(packages.all)) {
    if (p.system) p.user = true;
    else delete packages.all[name];
  }
  packages.home = packages.makersHome;
  packages.keyboard = packages.makersKeyboard;
  packages.enabledKeyboards = packages.keyboard ? [packages.keyboard] : [];
}
