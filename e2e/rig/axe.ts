import AxeBuilder from "@axe-core/playwright";
import type { Page } from "@playwright/test";

/**
 * What breaks WCAG 2.1 on a page at level A or AA: rule and places. Without frames of other origins the checks need no page
 * of their own to finish, and of what is right nothing is told: each halves their time.
 */
export async function violationsOn(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page })
    .setLegacyMode()
    .options({ resultTypes: ["violations"] })
    .withTags(["wcag2a", "wcag2aa", "wcag21a", "wcag21aa"])
    .analyze();
  return violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ target }) => target).join(" | ")}`);
}
