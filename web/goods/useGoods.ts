import { useQuery } from '@tanstack/react-query';
import type { Audience, ResolvedAudience } from '#core/contract/audienceCalls.ts';
import type { Product, Vocabulary } from '#core/contract/shopCalls.ts';
import { quoted, type Names } from '#core/facts/wording.ts';
import type { SellerRules } from '#core/rulebook/sellers.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { formatPrice } from '#core/texts/prices.ts';
import { send } from '../api/client.ts';
import { useSeller } from './whose.ts';
import { keys } from '../api/keys.ts';

/** Number of products in a proof. */
const LOOKED_AT = 500;

/** Data for proofs: the shop, products, vocabulary and audiences. */
export interface Goods {
  readonly shop: ShopFacts;
  readonly products: readonly Product[];
  /** Number of the shop's products, which may exceed those loaded. */
  readonly total: number;
  readonly vocabulary: Vocabulary;
  readonly audiences: readonly ResolvedAudience[];
  /** Sellers with their live rules. */
  readonly sellers: readonly (SellerRules & { readonly name: string })[];
}

async function readGoods(): Promise<Goods> {
  const [shop, page, vocabulary, audiences, selling] = await Promise.all([
    send('GET /api/shop'),
    send('GET /api/products', { query: { limit: LOOKED_AT } }),
    send('GET /api/vocabulary'),
    send('GET /api/audiences'),
    send('GET /api/sellers'),
  ]);
  return {
    shop: shop.body,
    products: page.body.products,
    total: page.body.total,
    vocabulary: vocabulary.body,
    audiences: audiences.body,
    sellers: selling.body.sellers.map(({ id, name, names, allowed, rules }) => ({
      id,
      name,
      names,
      allowed: allowed ?? selling.body.terms.allowed,
      rules,
    })),
  };
}

/** Data for a seller's proofs: their own products, without others' rules. */
async function readSellersGoods(): Promise<Goods> {
  return { ...(await send('GET /api/seller/goods')).body, sellers: [] };
}

export function useGoods({ isWanted = true, throwOnError = false } = {}) {
  const seller = useSeller();
  const queryFn = seller ? readSellersGoods : readGoods;
  return useQuery({ queryKey: keys.goods, queryFn, enabled: isWanted, throwOnError });
}

/** Display names of ids, for sentences. */
export function namesFrom({ products, vocabulary, shop }: Goods) {
  const titles = new Map(products.map(({ id, title }) => [id, titleIn(title, shop)]));
  const variants = new Map(
    products.flatMap((product) =>
      product.variants.map(
        ({ id, title }) => [id, [titleIn(product.title, shop), title].filter(Boolean).join(', ')] as const,
      ),
    ),
  );
  const categories = new Map(vocabulary.categories.map(({ id, names }) => [id, names.join(' › ')]));
  return {
    product: (id: string) => titles.get(id) ?? id,
    category: (id: string) => categories.get(id) ?? id,
    variant: (id: string) => variants.get(id) ?? id,
    role: roleName(vocabulary),
    date: (code: string) => vocabulary.dates.find(({ name }) => name === code)?.title ?? undefined,
    price: (minor: number) => formatPrice(minor, shop, null),
    mainLocale: shop.locales[0] ?? 'en',
    shop,
  } satisfies Names;
}

export const titleIn = (title: Product['title'], { locales }: ShopFacts) =>
  typeof title === 'string' ? title : (title[locales[0] ?? 'en'] ?? Object.values(title)[0] ?? '');

/** An audience as it is stored, without its customer's facts. */
export const keptAudience = ({ name, signedIn, roles, customer, invited }: Audience): Audience => ({
  name,
  signedIn,
  roles: [...roles],
  customer,
  invited,
});

/** Names of roles in a sentence: the owner's, or the code. */
export const roleName =
  ({ roles }: Pick<Vocabulary, 'roles'>) =>
  (code: string): string =>
    quoted(roleTitle(roles, code));

/** Name of a role. */
export const roleTitle = (roles: Vocabulary['roles'], code: string): string =>
  roles.find(({ name }) => name === code)?.title ?? code;
