/** A kind of file that can be brought in, and the columns that it has. */
export interface ImportTarget {
  readonly name: 'catalog' | 'people';
  readonly title: string;
  readonly address: '/api/catalog/import' | '/api/people/import';
  readonly rowIs: string;
  /** Ours, each with what it holds; the first is needed. */
  readonly columns: Readonly<Record<string, string>>;
  /** Other headers that mean a column, as people write them. */
  readonly alike: Readonly<Record<string, readonly string[]>>;
}

export const CATALOG: ImportTarget = {
  name: 'catalog',
  title: 'Import products',
  address: '/api/catalog/import',
  rowIs: 'variant',
  columns: {
    variant_id: 'the variant’s id',
    product_id: 'the product’s id',
    path: 'path of its page',
    title: 'title',
    brand: 'brand',
    kind: 'kind',
    seller: 'seller',
    categories: 'Plants > Bulbs | Gifts',
    tags: 'rare | scented',
    attributes: 'hardiness=H5',
    dates: 'ships=2027-03-01',
    sku: 'stock-keeping unit',
    options: 'Size=9 cm pot',
    price: '14.50',
    price_before: '16.00',
    currency: 'EUR',
    stock_tracked: 'true or false',
    stock_quantity: 'whole number',
    sell_past_zero: 'true or false',
    image: 'address of a picture',
  },
  alike: {
    variant_id: ['variant', 'id', 'variantid'],
    product_id: ['product', 'productid', 'group'],
    title: ['name', 'product name'],
    path: ['url', 'link', 'address'],
    kind: ['type', 'product type'],
    seller: ['vendor'],
    categories: ['category', 'collection'],
    price_before: ['old price', 'compare price', 'was'],
    stock_quantity: ['stock', 'quantity', 'qty'],
    image: ['picture', 'photo'],
  },
};

export const PEOPLE: ImportTarget = {
  name: 'people',
  title: 'Import customers',
  address: '/api/people/import',
  rowIs: 'customer',
  columns: {
    customer_id: 'the customer’s id',
    email: 'e-mail address',
    name: 'name',
    phone: 'telephone with its country: +351 21 000 00 00',
    roles: 'trade | member@2026-01-01/2027-01-01',
  },
  alike: {
    customer_id: ['id', 'customer', 'customerid'],
    email: ['e-mail', 'mail', 'email address'],
    name: ['full name', 'customer name'],
    phone: ['telephone', 'mobile', 'phone number'],
    roles: ['role', 'groups', 'membership'],
  },
};

const plain = (text: string) =>
  text
    .toLowerCase()
    .normalize('NFD')
    .replace(/[^a-z0-9]+/g, '');

/** Which of our columns each of a file's is; null for those that mean nothing to us. No column is taken twice. */
export function matched(headers: readonly string[], { columns, alike }: ImportTarget): (string | null)[] {
  const taken = new Set<string>();
  const names = Object.keys(columns);
  return headers.map((header) => {
    const known =
      names.find((name) => plain(name) === plain(header)) ??
      names.find((name) => alike[name]?.some((other) => plain(other) === plain(header)));
    if (known === undefined || taken.has(known)) return null;
    taken.add(known);
    return known;
  });
}
