import { ChevronDown, ChevronRight } from 'lucide-react';
import { useMemo } from 'react';
import { Link } from 'react-router';
import type { Product } from '#core/contract/shopCalls.ts';
import { compile } from '#core/engine/compile.ts';
import { formatPrice } from '#core/texts/prices.ts';
import { useLive } from '../live/useEditions.ts';
import { useMoment } from '../shared/useMoment.ts';
import { Picture } from '../goods/Picture.tsx';
import { titleIn, type Goods } from '../goods/useGoods.ts';
import proof from '../proof/proof.module.css';
import { cellsOf, rowsOf } from '../proof/proofRows.ts';
import { StandIn } from '../proof/StandIn.tsx';
import { useDraft } from '../draft/useDraft.ts';
import lists from '../shared/lists.module.css';
import styles from './catalog.module.css';

interface ProductEntryProps {
  readonly product: Product;
  readonly goods: Goods;
  readonly isOpen: boolean;
  readonly onOpen: (isOpen: boolean) => void;
  readonly onTag: (tag: string) => void;
}

/** A product in a line; opened, all its facts, its variants, and what each audience is shown. */
export function ProductEntry({ product, goods, isOpen, onOpen, onTag }: ProductEntryProps) {
  const { shop, vocabulary } = goods;
  const { id, title, image, path, tags, categories, variants } = product;
  const names = new Map(vocabulary.categories.map((category) => [category.id, category.names.join(' › ')]));
  return (
    <li className={lists.entry}>
      <button
        type="button"
        className={styles.line}
        aria-expanded={isOpen}
        onClick={() => {
          onOpen(!isOpen);
        }}
      >
        {isOpen ? <ChevronDown size={16} aria-hidden /> : <ChevronRight size={16} aria-hidden />}
        <Picture src={image} className={styles.picture} />
        <span className={styles.title}>
          <b>{titleIn(title, shop)}</b>
          <code>{id}</code>
        </span>
        <span className={styles.where}>{categories.map((id) => names.get(id) ?? id).join(', ')}</span>
        <span className={styles.stock}>{stockWords(product)}</span>
        <span className={styles.price}>{priceWords(product, goods)}</span>
      </button>
      {isOpen && (
        <div className={styles.facts}>
          <dl>
            <Fact name="Path">{path && <code>{path}</code>}</Fact>
            <Fact name="Tags">
              {tags.length > 0 &&
                tags.map((tag) => (
                  <button
                    key={tag}
                    type="button"
                    className={lists.chip}
                    onClick={() => {
                      onTag(tag);
                    }}
                  >
                    {tag}
                  </button>
                ))}
            </Fact>
            <Fact name="Brand">{product.brand}</Fact>
            <Fact name="Kind">{product.kind}</Fact>
            <Fact name="Seller">{product.seller}</Fact>
            <Fact name="Dates">{pairs(product.dates)}</Fact>
            <Fact name="Attributes">{pairs(product.attributes)}</Fact>
            <Fact name="On the waitlist">{product.waiting > 0 && String(product.waiting)}</Fact>
          </dl>
          <p className={styles.whole}>
            <Link to={`/catalog/${encodeURIComponent(id)}`}>All about {titleIn(title, shop)}</Link>
          </p>
          <Decisions product={product} goods={goods} count={variants.length} />
        </div>
      )}
    </li>
  );
}

function Fact({ name, children }: { readonly name: string; readonly children: React.ReactNode }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>{(children ?? false) ? children : <span className={lists.none}>none</span>}</dd>
    </div>
  );
}

const pairs = (record: Readonly<Record<string, string>>) =>
  Object.entries(record)
    .map(([name, value]) => `${name} ${value}`)
    .join(' · ');

interface DecisionsProps {
  readonly product: Product;
  readonly goods: Goods;
  readonly count: number;
}

/** Every variant with its facts, and with what each audience is shown of it in the draft. */
function Decisions({ product, goods, count }: DecisionsProps) {
  const { shop, audiences } = goods;
  const { rulebook } = useDraft();
  const live = useLive();
  const { moment } = useMoment(shop.zone);
  const compiled = useMemo(
    () => (rulebook && live.data ? { draft: compile(rulebook, shop), live: compile(live.data.rulebook, shop) } : null),
    [rulebook, live.data, shop],
  );
  return (
    <table className={styles.variants}>
      <caption>
        {count === 1 ? 'One variant' : `${count} variants`}, and what each audience is shown on the product’s page
      </caption>
      <thead>
        <tr>
          <th scope="col">Variant</th>
          <th scope="col">Facts</th>
          {audiences.map(({ name }) => (
            <th key={name} scope="col">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rowsOf([product], 'product').map((row) => {
          const { variant } = row;
          const cells = compiled ? cellsOf(row, '', { ...compiled, audiences, surface: 'product', moment }) : [];
          return (
            <tr key={variant.id}>
              <th scope="row">
                {variant.title || 'The only one'}
                <code>{variant.id}</code>
              </th>
              <td className={styles.variantFacts}>{factsOf(variant, goods).join(' · ')}</td>
              {cells.map(({ draft, changed }, index) => (
                <td key={audiences[index]?.name}>
                  <span className={`${proof.cell} ${changed ? proof.changed : ''}`}>
                    <StandIn decision={draft} shop={shop} />
                  </span>
                </td>
              ))}
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function factsOf(
  { price, priceBefore, stock, options, reserved, waiting }: Product['variants'][number],
  { shop }: Goods,
): string[] {
  const facts = [
    formatPrice(price, shop, null),
    priceBefore !== null && `was ${formatPrice(priceBefore, shop, null)}`,
    stock.tracked ? `${stock.quantity} in stock` : 'untracked',
    stock.sellPastZero && 'oversold allowed',
    pairs(options),
    reserved > 0 && `${reserved} reserved`,
    waiting > 0 && `${waiting} waiting`,
  ];
  return facts.filter((fact): fact is string => typeof fact === 'string' && fact !== '');
}

function stockWords({ variants }: Product): string {
  const tracked = variants.filter(({ stock }) => stock.tracked);
  if (tracked.length === 0) return 'untracked';
  const total = tracked.reduce((sum, { stock }) => sum + stock.quantity, 0);
  const out = tracked.filter(({ stock }) => stock.quantity <= 0).length;
  if (out === variants.length) return 'out of stock';
  return `${total} in stock${out > 0 ? `, ${out} of ${variants.length} out` : ''}`;
}

function priceWords({ variants }: Product, { shop }: Goods): string {
  const prices = variants.map(({ price }) => price);
  const lowest = Math.min(...prices);
  return `${prices.some((price) => price !== lowest) ? 'from ' : ''}${formatPrice(lowest, shop, null)}`;
}
