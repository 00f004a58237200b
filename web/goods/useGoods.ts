import { useQuery } from '@tanstack/react-query';
import type { Audience, getAudiences, ResolvedAudience } from '#core/contract/audienceCalls.ts';
import type { getShop, getVocabulary, listProducts, Product, Vocabulary } from '#core/contract/shopCalls.ts';
import { quoted, type Names } from '#core/facts/wording.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { formatPrice } from '#core/texts/prices.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

/** As many products as a proof looks at. */
const LOOKED_AT = 500;

/** What rules are proved on: the shop, its goods, the names they use, and whom to look through. */
export interface Goods {
  readonly shop: ShopFacts;
  readonly products: readonly Product[];
  /** How many products the shop has; more than are looked at, in a large one. */
  readonly total: number;
  readonly vocabulary: Vocabulary;
  readonly audiences: readonly ResolvedAudience[];
}

async function readGoods(): Promise<Goods> {
  const [shop, page, vocabulary, audiences] = await Promise.all([
    send<typeof getShop>('get', '/api/shop'),
    send<typeof listProducts>('get', `/api/products?limit=${LOOKED_AT}`),
    send<typeof getVocabulary>('get', '/api/vocabulary'),
    send<typeof getAudiences>('get', '/api/audiences'),
  ]);
  return {
    shop: shop.body,
    products: page.body.products,
    total: page.body.total,
    vocabulary: vocabulary.body,
    audiences: audiences.body,
  };
}

export const useGoods = () => useQuery({ queryKey: keys.goods, queryFn: readGoods });

/** How ids are called, for sentences. */
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

/** An audience as it is kept and sent, without what its customer has. */
export const keptAudience = ({ name, signedIn, roles, customer, invited }: Audience): Audience => ({
  name,
  signedIn,
  roles: [...roles],
  customer,
  invited,
});

/** How roles are called in a sentence: by the owner's name for them, or by their code. */
export const roleName =
  ({ roles }: Pick<Vocabulary, 'roles'>) =>
  (code: string): string =>
    quoted(roleTitle(roles, code));

/** What a role is called. */
export const roleTitle = (roles: Vocabulary['roles'], code: string): string =>
  roles.find(({ name }) => name === code)?.title ?? code;
