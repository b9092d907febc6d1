import axe from "axe-core";
import type { Page } from "puppeteer-core";

/**
 * Rules of accessibility that a page breaks, each with the places where it does.
 *
 * @param within held against the rules alone where there is such a place, by its selector
 * @param only the rules; all where none are named
 */
export async function axeViolations(
  page: Page,
  { within = "", only = [] }: { within?: string; only?: string[] } = {},
): Promise<string[]> {
  await page.evaluate(axe.source);
  return page.evaluate(
    async (selector, rules) => {
      const place = selector ? document.querySelector(selector)?.parentElement : null;
      const { violations } = await (window as unknown as { axe: typeof axe }).axe.run(
        place ?? document,
        { resultTypes: ["violations"], ...(rules.length > 0 ? { runOnly: rules } : {}) },
      );
      return violations.map(
        ({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 160)).join(" | ")}`,
      );
    },
    within,
    only,
  );
}
