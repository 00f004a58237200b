import type { PickerStart } from '#core/contract/pageMapCalls.ts';
import { addressIn } from '../../shared/address.ts';
import { parametersIn, samePath } from './paths.ts';

/** Products known to the picker. */
export type Known = Pick<PickerStart, 'products' | 'exponent'>;

/** The page's product, according to the page and the catalog. */
export interface PageProduct {
  /** Whether either of them says that there is one. */
  readonly isCertain: boolean;
  readonly titles: readonly string[];
  /** Minor units. */
  readonly prices: readonly number[];
  /** Ids of its variants, and of itself. */
  readonly ids: ReadonlySet<string>;
  /** Its own id. */
  readonly id: string | undefined;
}

/** Structured data of a page (schema.org as JSON-LD and microdata, Open Graph), and the catalog at its address. */
export function productOfPage(page: Document, url: URL, { products, exponent }: Known): PageProduct {
  const parameters = parametersIn(products.map(({ path }) => path));
  const addressOf = (at: URL) => addressIn(at, parameters);
  const inCatalog = products.find(({ path }) => samePath(addressOf(new URL(path, url)), addressOf(url)));
  const said = [...page.querySelectorAll('script[type="application/ld+json"]')].flatMap(({ textContent }) =>
    productsIn(parsed(textContent)),
  );
  const [first] = said;
  const meta = (name: string) => page.querySelector(`meta[property="${name}"]`)?.getAttribute('content') ?? undefined;
  const isMicrodata = page.querySelector('[itemtype$="schema.org/Product"]') !== null;
  const minor = (amount: unknown) => {
    const value = Number(amount);
    return Number.isFinite(value) && value > 0 ? [Math.round(value * 10 ** exponent)] : [];
  };
  const offers = first ? offersOf(first) : [];
  return {
    isCertain:
      inCatalog !== undefined ||
      said.length === 1 ||
      isMicrodata ||
      meta('og:type') === 'product' ||
      meta('product:price:amount') !== undefined,
    titles: [inCatalog?.title, textOf(first?.name), meta('og:title')].flatMap((title) => title ?? []),
    prices: [
      ...(inCatalog?.prices ?? []),
      ...offers.flatMap(({ price, lowPrice }) => [...minor(price), ...minor(lowPrice)]),
      ...minor(meta('product:price:amount')),
    ],
    id: inCatalog?.id,
    ids: new Set([
      ...(inCatalog ? [inCatalog.id, ...inCatalog.variants] : []),
      ...[first, ...offers].flatMap((node) => textOf(node?.sku) ?? []),
    ]),
  };
}

type Node = Record<string, unknown>;

const textOf = (value: unknown) => (typeof value === 'string' && value !== '' ? value : undefined);

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

/** Products anywhere in JSON-LD, outermost first. */
function productsIn(value: unknown): Node[] {
  if (Array.isArray(value)) return value.flatMap(productsIn);
  if (typeof value !== 'object' || value === null) return [];
  const node = value as Node;
  if (/\bProduct(Group)?\b/.test([node['@type']].flat().join(' '))) return [node];
  return Object.values(node).flatMap(productsIn);
}

function offersOf(value: unknown): Node[] {
  if (Array.isArray(value)) return value.flatMap(offersOf);
  if (typeof value !== 'object' || value === null) return [];
  const node = value as Node;
  const isOffer = /\b(Aggregate)?Offer\b/.test([node['@type']].flat().join(' ')) || node.priceCurrency !== undefined;
  return [...(isOffer ? [node] : []), ...Object.values(node).flatMap(offersOf)];
}
