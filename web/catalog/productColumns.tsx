import type { GridColDef } from '@mui/x-data-grid';
import { Link } from 'react-router';
import { PRODUCT_ORDERS } from '#core/contract/findCalls.ts';
import type { Product } from '#core/contract/shopCalls.ts';
import type { CompiledRulebook } from '#core/engine/compile.ts';
import { decide } from '#core/engine/decide.ts';
import { visitorOf, type AudienceFacts } from '#core/model/audience.ts';
import { PRODUCT_COLUMNS, PRODUCT_COLUMN_NAMES } from '#core/model/productColumns.ts';
import { formatPrice } from '#core/texts/prices.ts';
import { Picture } from '../goods/Picture.tsx';
import { namesFrom, titleIn, type Goods } from '../goods/useGoods.ts';
import { ControlChip } from '../proof/OutcomeChip.tsx';
import styles from './catalog.module.css';
import { capital } from '../shared/wording.ts';

/** Rules and moment (epoch ms) shown; null until loaded. */
export interface Deciding {
  readonly rulebook: CompiledRulebook;
  readonly moment: number;
}

export type ProductColumn = GridColDef<Product> & { readonly headerName: string };

/** Column of an audience: its control on the product page. */
const audienceField = (name: string) => `to ${name}`;

/** Columns that are there until others are chosen; the first audience's is one of them. */
const USUAL = ['title', 'categories', 'stock', 'price'];

/** All that a list of products can say of each. */
export function columnsOf(goods: Goods, deciding: Deciding | null = null): readonly ProductColumn[] {
  const { shop, audiences, vocabulary } = goods;
  const { category } = namesFrom(goods);
  const dateTitle = (name: string) => vocabulary.dates.find((date) => date.name === name)?.title ?? name;
  const columns: readonly ProductColumn[] = [
    {
      field: 'title',
      headerName: 'Product',
      flex: 2,
      minWidth: 230,
      renderCell: ({ row }) => (
        <span className={styles.product}>
          <Picture src={row.image} className={styles.picture} />
          <span className={styles.title}>
            <Link to={`/catalog/${encodeURIComponent(row.id)}`} tabIndex={-1}>
              {titleIn(row.title, shop)}
            </Link>
            <code>{row.id}</code>
          </span>
        </span>
      ),
    },
    {
      field: 'categories',
      headerName: 'Category',
      flex: 1,
      minWidth: 150,
      valueGetter: (_value, { categories }) => categories.map(category).join(', '),
      renderCell: ({ row, value }) => (
        <span title={value as string}>
          {row.categories.map((id) => category(id).split(' › ').slice(-2).join(' › ')).join(', ')}
        </span>
      ),
    },
    { field: 'tags', headerName: 'Tags', flex: 1, minWidth: 140, valueGetter: (_value, { tags }) => tags.join(', ') },
    ...audiences.map((audience): ProductColumn => ({
      field: audienceField(audience.name),
      headerName: audience.name,
      description: `What ${audience.name} is shown on the product’s page, by the draft`,
      width: 128,
      renderCell: ({ row }) => <Shown product={row} audience={audience} deciding={deciding} />,
    })),
    { field: 'stock', headerName: 'Stock', width: 128, valueGetter: (_value, row) => stockWords(row) },
    {
      field: 'price',
      headerName: 'Price',
      width: 96,
      ...TO_THE_RIGHT,
      valueGetter: (_value, row) => priceWords(row, goods),
    },
    {
      field: 'variants',
      headerName: 'Variants',
      width: 80,
      ...TO_THE_RIGHT,
      valueGetter: (_value, { variants }) => variants.length,
    },
    { ...numeric('reserved', 'Reserved'), valueGetter: (_value, row) => reservedOf(row) },
    { ...numeric('waiting', 'Waiting'), valueGetter: (_value, row) => waitingFor(row) },
    ...PRODUCT_COLUMN_NAMES.map((field): ProductColumn => ({
      field,
      headerName: PRODUCT_COLUMNS[field].title,
      width: 120,
      ...ALIGNED[PRODUCT_COLUMNS[field].type],
    })),
    ...vocabulary.dates.map(({ name }): ProductColumn => ({
      field: `date ${name}`,
      headerName: capital(dateTitle(name)),
      width: 108,
      valueGetter: (_value, { dates }) => dates[name]?.replace('T', ' ') ?? '',
    })),
  ];
  const isSortable = (field: string) => PRODUCT_ORDERS.some((order) => order === field);
  return columns.map((column) => ({ ...column, sortable: isSortable(column.field) }));
}

const TO_THE_RIGHT = { align: 'right', headerAlign: 'right' } as const;
const ALIGNED = { name: {}, wholeNumber: TO_THE_RIGHT } as const;

const numeric = (field: string, headerName: string) => ({ field, headerName, width: 88, ...TO_THE_RIGHT }) as const;

/** Columns named in the address, or the default ones. */
export function columnsChosen(search: URLSearchParams, all: readonly ProductColumn[]): ReadonlySet<string> {
  const named = search.get('columns');
  const audience = all.find(({ field }) => field.startsWith(audienceField('')));
  return new Set(named === null ? [...USUAL, audience?.field ?? ''] : ['title', ...named.split(',')]);
}

interface ShownProps {
  readonly product: Product;
  readonly audience: AudienceFacts;
  readonly deciding: Deciding | null;
}

/** Kinds of control shown, each once. */
function Shown({ product, audience, deciding }: ShownProps) {
  if (!deciding) return null;
  const { rulebook, moment } = deciding;
  const seen = { visitor: visitorOf(audience), moment, surface: 'product', page: null } as const;
  const controls = new Map(
    product.variants.map((variant) => {
      const { control } = decide(rulebook, { ...seen, product, variant });
      return [control.kind, control] as const;
    }),
  );
  return (
    <span className={styles.shown}>
      {[...controls].map(([kind, control]) => (
        <ControlChip key={kind} control={control} />
      ))}
    </span>
  );
}

const sumOf = ({ variants }: Product, of: (variant: Product['variants'][number]) => number) =>
  variants.reduce((sum, variant) => sum + of(variant), 0);
const reservedOf = (product: Product) => sumOf(product, ({ reserved }) => reserved);
const waitingFor = (product: Product) => product.waiting + sumOf(product, ({ waiting }) => waiting);

function stockWords({ variants }: Product): string {
  const tracked = variants.filter(({ stock }) => stock.tracked);
  if (tracked.length === 0) return 'untracked';
  const total = tracked.reduce((sum, { stock }) => sum + stock.quantity, 0);
  const out = tracked.filter(({ stock }) => stock.quantity <= 0).length;
  if (out === variants.length) return 'out of stock';
  return `${total}${out > 0 ? `, ${out} of ${variants.length} out` : ''}`;
}

function priceWords({ variants }: Product, { shop }: Goods): string {
  const prices = variants.map(({ price }) => price);
  const lowest = Math.min(...prices);
  return `${prices.some((price) => price !== lowest) ? 'from ' : ''}${formatPrice(lowest, shop, null)}`;
}
