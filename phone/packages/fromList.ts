import type { Image } from "~/core/catalogue/image";
import { PLATFORM_KEPT } from "~/core/ways/cleaned-stock/kept";
import { type PhonePackage, PhonePackages } from "./state";

const system = (needed: boolean, component: string | null = null): PhonePackage => ({
  system: true,
  user: true,
  needed,
  component,
});

/**
 * The packages of a stock system, as far as its list names them, beside the platform's own.
 *
 * @param gone packages that were taken away before
 */
export function packagesFromList(list: Image | undefined, gone: readonly string[]): PhonePackages {
  if (!list?.packages) return PhonePackages.parse({});
  const { remove, keep } = list.packages;
  const all: Record<string, PhonePackage> = {};
  for (const name of PLATFORM_KEPT.keys()) all[name] = system(true);
  for (const { name } of keep) all[name] = system(false, `${name}/.Main`);
  for (const { name } of remove) all[name] = { ...system(false, `${name}/.Main`), user: !gone.includes(name) };
  const named = (role: "home" | "keyboard", words: RegExp) =>
    remove.find((p) => p.role === role)?.name ?? keep.find((p) => words.test(p.is))?.name ?? null;
  const home = named("home", /home screen/i);
  const keyboard = named("keyboard", /keyboard/i);
  return {
    all,
    home,
    keyboard,
    makersHome: home,
    makersKeyboard: keyboard,
    recentsIn: [...keep, ...remove].find((p) => /recent/i.test(p.is))?.name ?? null,
    enabledKeyboards: keyboard ? [keyboard] : [],
  };
}
