import { Button, Skeleton } from '@mui/material';
import { useMemo, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { Product } from '#core/contract/shopCalls.ts';
import { compile } from '#core/engine/compile.ts';
import { visitorOf } from '#core/model/audience.ts';
import { rulesIn } from '#core/rulebook/entries.ts';
import type { Rule, Rulebook } from '#core/rulebook/rulebook.ts';
import { ruleName } from '#core/rulebook/sentence.ts';
import { formatPrice } from '#core/texts/prices.ts';
import { RuleDialog } from '../catalog/RuleDialog.tsx';
import bulk from '../catalog/bulk.module.css';
import { useDraft } from '../draft/useDraft.ts';
import { namesFrom, titleIn, useGoods, type Goods } from '../goods/useGoods.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { FindField } from '../shared/pages.tsx';
import { ChoosingTable, PickCell, useChoice } from '../shared/SelectableTable.tsx';
import { Toast } from '../shared/Toast.tsx';
import { useFilters } from '../shared/useFilters.ts';
import { useMoment, withMoment } from '../shared/useMoment.ts';
import work from '../shared/worklist.module.css';

const COLUMNS = [
  { name: 'Product' },
  { name: 'Price', isNumber: true },
  { name: 'Stock', isNumber: true },
  { name: 'Tags' },
  { name: 'Your rules about it' },
] as const;
const STATES = { ruled: 'with a rule', unruled: 'without a rule', out: 'sold out' } as const;

/** A seller's products, to be found, chosen, and put under rules together. */
export function SellerProducts() {
  const goods = useGoods();
  const { rulebook } = useDraft();
  if (goods.error) return <LoadFailed error={goods.error} retry={() => void goods.refetch()} />;
  if (!goods.data || !rulebook) return <Skeleton variant="rounded" height={320} sx={{ m: 4 }} />;
  return <Products goods={goods.data} rulebook={rulebook} />;
}

function Products({ goods, rulebook }: { readonly goods: Goods; readonly rulebook: Rulebook }) {
  const filters = useFilters();
  const [search, set] = filters;
  const about = useRulesAbout(goods, rulebook);
  const words = (search.get('search') ?? '').toLowerCase();
  const state = search.get('state');
  const shown = goods.products.filter((product) => {
    const text = `${titleIn(product.title, goods.shop)} ${product.tags.join(' ')}`.toLowerCase();
    const isRuled = (about.get(product.id)?.length ?? 0) > 0;
    const fits = state === 'ruled' ? isRuled : state === 'unruled' ? !isRuled : state !== 'out' || isSoldOut(product);
    return text.includes(words) && fits;
  });
  const choice = useChoice(shown);
  const [isOpen, setOpen] = useState(false);
  const [done, setDone] = useState<string | null>(null);
  const { chosen } = choice;
  const counted = chosen.length === 1 ? '1 product' : `${chosen.length} products`;
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <h1>Products</h1>
        <span className={lists.count} role="status">
          {shown.length === goods.total ? `${goods.total} of yours` : `${shown.length} of your ${goods.total}`}
        </span>
        <FindField
          className={lists.search}
          label="Find a product"
          placeholder="Find by name or tag"
          search={search}
          set={set}
        />
      </header>
      <section className={lists.main} aria-label="Your products">
        <div className={work.filters}>
          {Object.entries(STATES).map(([code, name]) => (
            <button
              key={code}
              type="button"
              className={work.state}
              aria-pressed={state === code}
              onClick={() => {
                set('state', state === code ? null : code);
              }}
            >
              {name}
            </button>
          ))}
        </div>
        {goods.total > goods.products.length && (
          <p className={bulk.hint}>
            The first {goods.products.length} are shown. A rule that says which products it is about reaches all of
            them.
          </p>
        )}
        {chosen.length > 0 && (
          <div className={bulk.bar} role="region" aria-label="What is chosen">
            <b>{counted} chosen</b>
            <Button
              variant="contained"
              onClick={() => {
                setOpen(true);
              }}
            >
              Rules for them
            </Button>
            <Button onClick={choice.clear}>Choose none</Button>
          </div>
        )}
        <ChoosingTable
          pages={{
            items: shown,
            total: shown.length,
            isPending: false,
            error: null,
            refetch: () => Promise.reject(new Error('they are there')),
            more: null,
            isFetchingMore: false,
          }}
          choice={choice}
          columns={COLUMNS}
          empty={
            goods.total === 0
              ? 'The shop’s catalog names nothing as yours yet.'
              : 'None of your products fits. Take a filter off.'
          }
          row={(product, isPicked, pick) => (
            <ProductRow
              key={product.id}
              product={product}
              rules={about.get(product.id) ?? []}
              goods={goods}
              isPicked={isPicked}
              pick={pick}
            />
          )}
        />
      </section>
      {isOpen && (
        <RuleDialog
          chosen={{ ids: chosen.map(({ id }) => id) }}
          ids={chosen.map(({ id }) => id)}
          counted={counted}
          goods={goods}
          onClose={(words) => {
            setOpen(false);
            setDone(words);
            if (words !== null) choice.clear();
          }}
        />
      )}
      <Toast
        words={done}
        undo={undefined}
        done={() => {
          setDone(null);
        }}
      />
    </main>
  );
}

interface RowProps {
  readonly product: Product;
  readonly rules: readonly Rule[];
  readonly goods: Goods;
  readonly isPicked: boolean;
  readonly pick: (isPicked: boolean) => void;
}

function ProductRow({ product, rules, goods, isPicked, pick }: RowProps) {
  const [search] = useSearchParams();
  const { shop } = goods;
  const title = titleIn(product.title, shop);
  const names = namesFrom(goods);
  const prices = product.variants.map(({ price }) => price);
  const [least, most] = [Math.min(...prices), Math.max(...prices)].map((price) => formatPrice(price, shop, 'en'));
  return (
    <tr>
      <PickCell name={title} isPicked={isPicked} pick={pick} />
      <th scope="row">
        {title}
        <small>{product.variants.length === 1 ? '' : `${product.variants.length} variants`}</small>
      </th>
      <td className={work.number}>{least === most ? least : `${least} to ${most}`}</td>
      <td className={work.number}>{stockOf(product) ?? 'not tracked'}</td>
      <td>{product.tags.join(', ')}</td>
      <td>
        {rules.map((rule, index) => (
          <span key={rule.id}>
            {index > 0 && ', '}
            <Link to={withMoment(`/rules/${encodeURIComponent(rule.id)}`, search)}>{ruleName(rule, names)}</Link>
          </span>
        ))}
      </td>
    </tr>
  );
}

/** Units of all variants; null where none is tracked. */
function stockOf({ variants }: Product): number | null {
  const tracked = variants.flatMap(({ stock }) => (stock.tracked ? stock.quantity : []));
  return tracked.length === 0 ? null : tracked.reduce((sum, units) => sum + units, 0);
}
const isSoldOut = (product: Product) => stockOf(product) === 0;

/** By product, the seller's rules of the draft that hold for it for anybody at the moment looked at. */
function useRulesAbout({ shop, products, audiences }: Goods, rulebook: Rulebook): ReadonlyMap<string, readonly Rule[]> {
  const { moment } = useMoment(shop.zone);
  return useMemo(() => {
    const compiled = compile(rulebook, shop).rules.filter(({ rule, missing }) => rule.on && missing.length === 0);
    const own = new Map(rulesIn(rulebook).map((rule) => [rule.id, rule]));
    const visitors = audiences.map(visitorOf);
    return new Map(
      products.map((product) => [
        product.id,
        compiled
          .filter(({ test }) =>
            product.variants.some((variant) =>
              visitors.some(
                (visitor) => test({ product, variant, visitor, moment, surface: 'product', page: null }).matches,
              ),
            ),
          )
          .flatMap(({ rule }) => own.get(rule.id) ?? []),
      ]),
    );
  }, [shop, products, audiences, rulebook, moment]);
}
