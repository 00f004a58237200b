import type { ScriptPageMap as PageMap } from '#core/contract/pageMap.ts';
import { addressIn } from '../shared/address.ts';
import { isProductPage, type Area } from './areas.ts';

const reported = new Set<string>();

/**
 * Says, once a page, which parts of the page map a product's page turned out not to have: its theme may have changed.
 * Nothing of the visitor goes along.
 */
export function reportMisses(origin: string, pageMap: PageMap, areas: readonly Area[]): void {
  const path = addressIn(location, pageMap.productPage.parameters);
  if (!isProductPage(pageMap) || reported.has(path)) return;
  const area = areas.find(({ surface }) => surface === 'product');
  const isMissing = (part: 'control' | 'price') =>
    pageMap[part] !== undefined && (!area || area.parts(pageMap[part]).length === 0);
  const missing = area ? (['control', 'price'] as const).filter(isMissing) : (['productPage'] as const);
  if (missing.length === 0) return;
  reported.add(path);
  fetch(`${origin}/v1/misses`, {
    method: 'POST',
    credentials: 'omit',
    keepalive: true,
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ path, missing }),
  }).catch(() => undefined);
}
