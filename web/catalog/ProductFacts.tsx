import { Button } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Product } from '#core/contract/shopCalls.ts';
import { dateName } from '#core/texts/dateName.ts';
import type { Goods } from '../goods/useGoods.ts';
import { Allowed } from '../session/Allowed.tsx';
import { DateTimeField } from '../shared/DateTimeField.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import lists from '../shared/lists.module.css';
import styles from './product.module.css';
import { askingFor } from './filter.ts';
import { useProductActs } from './useProduct.ts';

interface ProductFactsProps {
  readonly product: Product;
  readonly goods: Goods;
}

/** What the catalog says of a product; its dates are changed by hand. */
export function ProductFacts({ product, goods: { vocabulary } }: ProductFactsProps) {
  const { id, path, tags, categories, brand, kind, seller, attributes } = product;
  const [dates, setDates] = useState(product.dates);
  const { saveDates } = useProductActs(id);
  const isChanged = JSON.stringify(dates) !== JSON.stringify(product.dates);
  const names = [...new Set([...vocabulary.dates.map(({ name }) => name), ...Object.keys(product.dates)])];
  const called = (name: string) => {
    const noun = vocabulary.dates.find((date) => date.name === name)?.title ?? dateName(name);
    return noun.charAt(0).toUpperCase() + noun.slice(1);
  };
  const category = (of: string) => vocabulary.categories.find((one) => one.id === of)?.names.join(' › ') ?? of;
  const set = (name: string, value: string) => {
    const { [name]: _before, ...others } = dates;
    setDates(value === '' ? others : { ...others, [name]: value });
  };
  return (
    <section aria-labelledby="facts-heading">
      <h2 id="facts-heading">What is known of it</h2>
      <dl className={styles.known}>
        <Fact name="Categories">{categories.map(category).join(', ')}</Fact>
        <Fact name="Tags">
          {tags.map((tag) => (
            <Link
              key={tag}
              className={lists.chip}
              to={`/catalog?${new URLSearchParams({ where: JSON.stringify(askingFor('product.tags', tag)) }).toString()}`}
            >
              {tag}
            </Link>
          ))}
        </Fact>
        <Fact name="Brand">{brand}</Fact>
        <Fact name="Kind">{kind}</Fact>
        <Fact name="Seller">{seller}</Fact>
        {Object.entries(attributes).map(([name, value]) => (
          <Fact key={name} name={name}>
            {value}
          </Fact>
        ))}
        <Fact name="Path">{path && <code>{path}</code>}</Fact>
      </dl>
      {names.length > 0 && (
        <Allowed permission="catalog" quiet>
          <form
            className={styles.dates}
            onSubmit={(event) => {
              event.preventDefault();
              saveDates.mutate(dates);
            }}
          >
            {names.map((name) => (
              <DateTimeField
                key={name}
                kind={dates[name]?.includes('T') ? 'moment' : 'date'}
                label={called(name)}
                value={dates[name] ?? ''}
                clearable
                onChange={(value) => {
                  set(name, value);
                }}
              />
            ))}
            {saveDates.error && <ErrorNote error={saveDates.error} />}
            {isChanged && (
              <div className={styles.acts}>
                <Button type="submit" variant="contained" loading={saveDates.isPending}>
                  Save dates
                </Button>
                <Button
                  onClick={() => {
                    setDates(product.dates);
                  }}
                >
                  Discard
                </Button>
              </div>
            )}
          </form>
        </Allowed>
      )}
    </section>
  );
}

function Fact({ name, children }: { readonly name: string; readonly children: React.ReactNode }) {
  const isEmpty = children === null || children === '' || (Array.isArray(children) && children.length === 0);
  if (isEmpty) return null;
  return (
    <div>
      <dt>{name}</dt>
      <dd>{children}</dd>
    </div>
  );
}
