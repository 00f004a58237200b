import type { Page } from '@playwright/test';
import axe from 'axe-core';

interface Violation {
  readonly id: string;
  readonly nodes: readonly { readonly target: readonly unknown[]; readonly failureSummary?: string }[];
}
interface Axe {
  run(where: unknown, options: object): Promise<{ readonly violations: readonly Violation[] }>;
}

/**
 * Runs axe on a page or part of it. Injects axe once per document; these pages have no frames.
 * @param rules only these, all of them otherwise
 */
export async function violationsIn(
  page: Page,
  { within, rules }: { within?: string; rules?: readonly string[] } = {},
): Promise<readonly Violation[]> {
  if (!(await page.evaluate(() => 'axe' in globalThis))) await page.evaluate(axe.source);
  const only = rules && { runOnly: { type: 'rule', values: rules } };
  return page.evaluate(
    async ({ within, only }) => {
      const { axe: loaded } = globalThis as unknown as { axe: Axe };
      const options = { resultTypes: ['violations'], elementRef: false, ...only };
      const { violations } = await loaded.run(within ?? document, options);
      return violations.map(({ id, nodes }) => ({
        id,
        nodes: nodes.map(({ target, failureSummary = '' }) => ({ target, failureSummary })),
      }));
    },
    { within, only },
  );
}
