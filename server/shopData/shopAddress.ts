import type { PageMap } from '#core/contract/pageMap.ts';
import { invalid } from '../http/errors.ts';

/**
 * Builds the address of a page of the shop from its path.
 * @throws {ProblemError} 422 when it leads anywhere else
 */
export function addressInShop(path: string, map: PageMap | undefined): URL {
  const url = addressOf(path, map);
  if (map?.site !== undefined && url.origin === new URL(map.site).origin) return url;
  throw invalid('What was sent', [
    { pointer: '/page', found: JSON.stringify(path), allowed: 'a path of the shop, such as /plants/fern' },
  ]);
}

/**
 * The address of a page of the shop: one that is given whole, or a path of the site that the map names.
 * @throws {ProblemError} 422 when it is no address of a page
 */
export function addressOf(page: string, map: PageMap | undefined): URL {
  const url = URL.canParse(page, map?.site) ? new URL(page, map?.site) : null;
  if (url && /^https?:$/.test(url.protocol)) return url;
  const allowed = 'an address that begins with http:// or https://, or a path when the page map names the shop’s site';
  throw invalid('What was sent', [{ pointer: '/page', found: JSON.stringify(page), allowed }]);
}
