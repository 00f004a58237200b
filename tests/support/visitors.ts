import type { Locator, Page } from '@playwright/test';
import type { z } from 'zod';
import type { Decision, Visit } from '#core/engine/decision.ts';
import type { PageMap } from '#core/contract/pageMap.ts';
import type { GuardAnswer } from '#core/contract/storefront.ts';
import type { Dressing } from './programs.ts';
import type { Sight } from './shopPage.ts';
import { send, type Stage } from './stage.ts';

/** Visitors who view pages and press controls. */
export const VISITORS = [
  { name: 'guest', customer: null, roles: [] },
  { name: 'customer', customer: 'Greta Holm', id: 'c-07', roles: [] },
  { name: 'trade', customer: 'Jonas Reed', id: 'c-10', roles: ['trade'] },
] as const;
export type Visitor = (typeof VISITORS)[number];

/** A visitor at a shop, with what its pages are by themselves. */
export interface Looking {
  readonly stage: Stage;
  readonly dressing: Dressing;
  readonly map: PageMap;
  readonly page: Page;
  readonly visitor: Visitor;
  readonly originals: ReadonlyMap<string, Sight>;
}

interface Rehearsed {
  readonly products: readonly {
    readonly id: string;
    readonly decision: Decision | null;
    readonly variants: readonly { readonly id: string; readonly decision: Decision }[];
  }[];
  readonly visit: Visit;
}

/** Result of the proof. */
export const rehearsed = async (
  stage: Stage,
  surface: 'product' | 'listing' | 'quickView' | 'cart',
  { roles, customer, ...who }: Visitor,
  ids: readonly string[],
) =>
  (await send(stage, 'POST', '/api/rehearsal/decisions', {
    source: 'draft',
    surface,
    locale: 'en',
    visitor: { signedIn: customer !== null, roles, ...('id' in who ? { customerId: who.id } : {}) },
    products: ids,
  })) as Rehearsed;

export type Verdict = z.infer<typeof GuardAnswer>;

/** Verdict of the guard for the page's visitor. */
export async function guarded({ stage, page }: Pick<Looking, 'stage' | 'page'>, body: object): Promise<Verdict> {
  const visitor = await page.locator('script[data-locale]').first().getAttribute('data-visitor');
  const answer = await fetch(`${stage.understudy.url}/v1/guard`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ ...body, locale: 'en', ...(visitor ? { visitor } : {}) }),
  });
  return (await answer.json()) as Verdict;
}

/** Chooses a size where a product is bought, as each dressing has it. */
export async function choose(page: Page, dressing: Dressing, variant: string): Promise<void> {
  if (dressing === 'forms') await page.locator('select[name=variant]').selectOption(variant);
  else if (dressing === 'script') await page.locator(`[data-size="${variant}"]`).click();
  else await page.locator(`input[type=radio][value="${variant}"]`).click();
}

/** Finds what shows a product on a surface, whose parts lie in shadow roots in one of the dressings. */
export function areaOf(page: Page, surface: 'product' | 'listing' | 'quickView', title: string): Locator {
  if (surface === 'product') return page.locator('.bed');
  if (surface === 'quickView') return page.locator('.glance-card');
  return page.locator('.shelf-item, nursery-card').filter({ hasText: title });
}

/** Opens a product's quick view on the listing. */
export async function lookQuickly(page: Page, dressing: Dressing, path: string): Promise<void> {
  await page.locator(dressing === 'script' ? `[data-look*='"${path}"']` : `[data-glance="${path}"]`).click();
}
