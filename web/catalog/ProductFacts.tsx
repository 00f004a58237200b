import { Button } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Product } from '#core/contract/shopCalls.ts';
import type { OwnChanges } from '#core/contract/ownFactsCalls.ts';
import { sameName } from '#core/model/names.ts';
import { PRODUCT_COLUMNS, PRODUCT_COLUMN_NAMES } from '#core/model/productColumns.ts';
import { dateName } from '#core/texts/dateName.ts';
import type { Goods } from '../goods/useGoods.ts';
import { Allowed } from '../session/Allowed.tsx';
import { useMay } from '../session/useMay.ts';
import { DateTimeField } from '../shared/DateTimeField.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import lists from '../shared/lists.module.css';
import { FactsDialog } from './FactsDialog.tsx';
import { askingFor } from './filter.ts';
import styles from './product.module.css';
import { useProductFacts } from './useFactChanges.ts';
import { useProductActs } from './useProduct.ts';

interface ProductFactsProps {
  readonly product: Product;
  readonly goods: Goods;
}

/** Details of a product with their origin: the shop's file, or edited here. */
export function ProductFacts({ product, goods }: ProductFactsProps) {
  const { id, path, tags, categories, attributes } = product;
  const { vocabulary } = goods;
  const { file, own } = useProductFacts(id).data ?? {};
  const { saveFacts } = useProductActs(id);
  const mayChange = useMay('catalog');
  const [isChanging, setChanging] = useState(false);
  const category = (of: string) => vocabulary.categories.find((one) => one.id === of)?.names.join(' › ') ?? of;
  const isOwnTag = (tag: string) => own?.addTags.some((other) => sameName(other) === sameName(tag)) ?? false;
  const asFile = (of: NonNullable<OwnChanges['asFile']>) => (
    <AsFile
      saving={saveFacts.isPending}
      onPress={() => {
        saveFacts.mutate({ asFile: of });
      }}
    />
  );
  const attributeNames = [...new Set([...Object.keys(attributes), ...Object.keys(own?.attributes ?? {})])];
  return (
    <section aria-labelledby="facts-heading">
      <header className={styles.shown}>
        <h2 id="facts-heading">Product details</h2>
        {mayChange && (
          <Button
            size="small"
            onClick={() => {
              setChanging(true);
            }}
          >
            Change…
          </Button>
        )}
      </header>
      <dl className={styles.known}>
        <Fact name="Categories">{categories.map(category).join(', ')}</Fact>
        <Fact name="Tags">
          {[
            ...tags.map((tag) => (
              <span key={tag}>
                <Link
                  className={lists.chip}
                  to={`/catalog?${new URLSearchParams({ where: JSON.stringify(askingFor('product.tags', tag)) }).toString()}`}
                >
                  {tag}
                </Link>
                {isOwnTag(tag) && <Origin>edited {mayChange && asFile({ tags: [tag] })}</Origin>}
              </span>
            )),
            ...(own?.removeTags ?? []).map((tag) => (
              <span key={tag}>
                <s className={lists.chip}>{tag}</s>
                <Origin>in the file, taken away here {mayChange && asFile({ tags: [tag] })}</Origin>
              </span>
            )),
          ]}
        </Fact>
        {PRODUCT_COLUMN_NAMES.map((column) => (
          <Fact key={column} name={PRODUCT_COLUMNS[column].title}>
            {product[column]}
          </Fact>
        ))}
        {attributeNames.map((name) => (
          <Fact key={name} name={name}>
            {attributes[name] ?? 'none'}
            {own && name in own.attributes && (
              <Origin>
                edited; {fileWords(file?.attributes[name])} {mayChange && asFile({ attributes: [name] })}
              </Origin>
            )}
          </Fact>
        ))}
        <Fact name="Path">{path && <code>{path}</code>}</Fact>
      </dl>
      <p className={styles.quiet}>Values not marked as edited come from your shop’s file.</p>
      <Dates
        key={JSON.stringify(product.dates)}
        product={product}
        goods={goods}
        saveFacts={saveFacts}
        origin={(name) =>
          own && name in own.dates ? (
            <Origin>
              edited; {fileWords(file?.dates[name])} {mayChange && asFile({ dates: [name] })}
            </Origin>
          ) : null
        }
      />
      {isChanging && (
        <FactsDialog
          chosen={{ ids: [id] }}
          counted="1 product"
          goods={goods}
          onClose={() => {
            setChanging(false);
          }}
        />
      )}
    </section>
  );
}

const fileWords = (value: string | undefined) =>
  value === undefined ? 'the file says none' : `the file says ${value}`;

function AsFile({ saving, onPress }: { readonly saving: boolean; readonly onPress: () => void }) {
  return (
    <button type="button" className={styles.asFile} disabled={saving} onClick={onPress}>
      As in the file
    </button>
  );
}

const Origin = ({ children }: { readonly children: React.ReactNode }) => (
  <small className={styles.origin}>{children}</small>
);

interface DatesProps extends ProductFactsProps {
  readonly saveFacts: ReturnType<typeof useProductActs>['saveFacts'];
  /** Origin of a date, if not the file. */
  readonly origin: (name: string) => React.ReactNode;
}

/** A product's dates, edited apart from the file's values. */
function Dates({ product, goods: { vocabulary }, saveFacts, origin }: DatesProps) {
  const [dates, setDates] = useState(product.dates);
  const names = [...new Set([...vocabulary.dates.map(({ name }) => name), ...Object.keys(product.dates)])];
  const changed = names.filter((name) => dates[name] !== product.dates[name]);
  const called = (name: string) => {
    const noun = vocabulary.dates.find((date) => date.name === name)?.title ?? dateName(name);
    return noun.charAt(0).toUpperCase() + noun.slice(1);
  };
  const set = (name: string, value: string) => {
    const { [name]: _before, ...others } = dates;
    setDates(value === '' ? others : { ...others, [name]: value });
  };
  if (names.length === 0) return null;
  return (
    <Allowed permission="catalog" quiet>
      <form
        className={styles.dates}
        onSubmit={(event) => {
          event.preventDefault();
          saveFacts.mutate({ dates: Object.fromEntries(changed.map((name) => [name, dates[name] ?? null])) });
        }}
      >
        {names.map((name) => (
          <div key={name}>
            <DateTimeField
              kind={dates[name]?.includes('T') ? 'moment' : 'date'}
              label={called(name)}
              value={dates[name] ?? ''}
              clearable
              onChange={(value) => {
                set(name, value);
              }}
            />
            {origin(name)}
          </div>
        ))}
        {saveFacts.error && <ErrorNote error={saveFacts.error} />}
        {changed.length > 0 && (
          <div className={styles.acts}>
            <Button type="submit" variant="contained" loading={saveFacts.isPending}>
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
