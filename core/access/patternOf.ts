import { knownPatterns } from "./roles";

/** Patterns of the pages, the most particular first: fewest parts left open, then the longest. */
const PAGES = knownPatterns()
  .filter((pattern) => !pattern.includes("*"))
  .map((pattern) => ({
    pattern,
    open: pattern.split(":").length - 1,
    fits: new RegExp(`^${pattern.replaceAll(".", "\\.").replace(/:\w+/g, "[^/]+")}$`),
  }))
  .sort((a, b) => a.open - b.open || b.pattern.length - a.pattern.length);

/**
 * The page that an address within the lane leads to, by its pattern; null where there is none.
 *
 * @param path without address of the lane; query and mark are passed over
 * @example patternOf("/devices/TH-001?way=2") // "/devices/:tag"
 */
export function patternOf(path: string): string | null {
  const bare = path.replace(/[?#].*$/, "");
  return PAGES.find(({ fits }) => fits.test(bare))?.pattern ?? null;
}
