import { isSellers } from '#core/rulebook/entries.ts';
import { Button, Skeleton } from '@mui/material';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { Seller, SellerTerms } from '#core/contract/sellerCalls.ts';
import { placeForNew } from '#core/rulebook/closure.ts';
import { insertRule } from '../draft/edits.ts';
import { useDraft } from '../draft/useDraft.ts';
import { namesFrom, useGoods } from '../goods/useGoods.ts';
import { Allowed } from '../session/Allowed.tsx';
import { useMay } from '../session/useMay.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { FEW, FindField, MoreButton, useFirstOf } from '../shared/pages.tsx';
import { useFilters } from '../shared/useFilters.ts';
import { withMoment } from '../shared/useMoment.ts';
import { AllowanceFields } from './AllowanceFields.tsx';
import { RequestTerms } from './RequestTerms.tsx';
import { AskedRules } from './AskedRules.tsx';
import { SellerDialog } from './SellerDialog.tsx';
import styles from './sellers.module.css';
import { useAddSeller, useSellers, useSetTerms } from './useSellers.ts';
import { requestWords, termsWords } from './words.ts';

/** Screen of the sellers, their allowances and requests. */
export function SellersPage() {
  const sellers = useSellers();
  const goods = useGoods();
  const [search, setSearch] = useSearchParams();
  const mayChange = useMay('settings');
  const add = useAddSeller();
  const error = sellers.error ?? goods.error;
  if (error) return <LoadFailed error={error} retry={() => void sellers.refetch()} />;
  if (!sellers.data || !goods.data) return <Skeleton variant="rounded" height={320} sx={{ m: 4 }} />;
  const { sellers: all, unnamed, terms } = sellers.data;
  const open = (id: string | null) => {
    setSearch((before) => {
      const next = new URLSearchParams(before);
      if (id === null) next.delete('seller');
      else next.set('seller', id);
      return next;
    });
  };
  const shown = all.find(({ id }) => id === search.get('seller'));
  const asking = all.filter(({ asked }) => asked);
  return (
    <main className={styles.page}>
      <header className={lists.head}>
        <h1>Sellers</h1>
        <span className={lists.count} role="status">
          {all.length === 1 ? '1 seller' : `${all.length} sellers`}
        </span>
      </header>
      <div className={styles.body}>
        <PlaceInOrder />
        {asking.length > 0 && (
          <section aria-labelledby="asked-heading">
            <h2 id="asked-heading">Awaiting approval</h2>
            {asking.slice(0, MOST_ASKING).map((seller) => (
              <AskedRules key={seller.id} seller={seller} names={namesFrom(goods.data)} />
            ))}
            {asking.length > MOST_ASKING && (
              <p className={styles.quiet}>and {asking.length - MOST_ASKING} more, once these are answered.</p>
            )}
          </section>
        )}
        <section aria-labelledby="sellers-heading">
          <h2 id="sellers-heading">Who sells what</h2>
          {all.length === 0 ? (
            <p className={styles.quiet}>
              {unnamed.length === 0
                ? 'No product says who sells it. The catalog’s column “seller” does.'
                : 'No sellers yet. Add the ones from your catalog who may decide about their own products.'}
            </p>
          ) : (
            <SellersTable sellers={all} onOpen={open} />
          )}
          {add.error && <ErrorNote error={add.error} />}
          {unnamed.length > 0 && (
            <>
              <h3>In your catalog, not added yet</h3>
              <ul className={styles.unnamed}>
                {unnamed.slice(0, MOST_UNNAMED).map(({ name, products }) => (
                  <li key={name}>
                    <span>
                      {name} <small>{products === 1 ? '1 product' : `${products} products`}</small>
                    </span>
                    {mayChange && (
                      <Button
                        size="small"
                        loading={add.isPending && add.variables === name}
                        onClick={() => {
                          add.mutate(name);
                        }}
                      >
                        Add as a seller
                      </Button>
                    )}
                  </li>
                ))}
              </ul>
              {unnamed.length > MOST_UNNAMED && (
                <p className={styles.quiet}>and {unnamed.length - MOST_UNNAMED} more.</p>
              )}
            </>
          )}
        </section>
        <Terms terms={terms} />
      </div>
      {shown && (
        <SellerDialog
          key={shown.id}
          seller={shown}
          others={all.filter(({ id }) => id !== shown.id)}
          unnamed={unnamed.map(({ name }) => name)}
          terms={terms}
          names={namesFrom(goods.data)}
          zone={goods.data.shop.zone}
          onClose={() => {
            open(null);
          }}
        />
      )}
    </main>
  );
}

const MOST_ASKING = 20;
const MOST_UNNAMED = 30;

/** Without a place in the running order, no seller decides anything. */
function PlaceInOrder() {
  const { rulebook, change } = useDraft();
  const [search] = useSearchParams();
  const mayChange = useMay('draft');
  const entry = rulebook?.rules.find(isSellers);
  if (!rulebook || entry?.on) return null;
  return (
    <div className={styles.noPlace} role="status">
      {entry ? (
        <p>
          The sellers’ place in the running order is switched off, so their rules have no effect.{' '}
          <Link to={withMoment(`/rules/${encodeURIComponent(entry.id)}`, search)}>Go to it</Link>
        </p>
      ) : (
        <>
          <p>The running order has no place for sellers yet, so their rules have no effect.</p>
          {mayChange && (
            <Button
              variant="outlined"
              onClick={() => {
                const place = placeForNew(rulebook, { when: { all: [] }, then: {} });
                change(insertRule(rulebook, { id: 'sellers', sellers: true, on: true }, place));
              }}
            >
              Add to the draft
            </Button>
          )}
        </>
      )}
    </div>
  );
}

interface SellersTableProps {
  readonly sellers: readonly Seller[];
  readonly onOpen: (id: string) => void;
}

function SellersTable({ sellers, onOpen }: SellersTableProps) {
  const [search, set] = useFilters();
  const words = (search.get('search') ?? '').toLowerCase();
  const found = sellers.filter(({ name, names }) => [name, ...names].join(' ').toLowerCase().includes(words));
  const first = useFirstOf(found);
  return (
    <>
      {sellers.length > FEW && (
        <FindField className={styles.find} label="Find a seller" placeholder="Find by name" search={search} set={set} />
      )}
      <table className={styles.sellers}>
        <thead>
          <tr>
            <th scope="col">Seller</th>
            <th scope="col">Products</th>
            <th scope="col">Live rules</th>
            <th scope="col">Permissions</th>
            <th scope="col">People</th>
          </tr>
        </thead>
        <tbody>
          {first.items.map((seller) => (
            <SellerRow
              key={seller.id}
              seller={seller}
              onOpen={() => {
                onOpen(seller.id);
              }}
            />
          ))}
        </tbody>
      </table>
      {found.length === 0 && <p className={styles.quiet}>No seller has “{words}” in their name.</p>}
      <MoreButton pages={first} />
    </>
  );
}

function SellerRow({ seller, onOpen }: { readonly seller: Seller; readonly onOpen: () => void }) {
  const { name, names, products, rules, allowed, publishing, people } = seller;
  const [search] = useSearchParams();
  const also = names.filter((one) => one !== name);
  const where = JSON.stringify({ fact: 'product.seller', op: 'in', value: names });
  return (
    <tr>
      <th scope="row">
        <button type="button" className={styles.name} onClick={onOpen}>
          {name}
        </button>
        {also.length > 0 && <small>in the catalog {also.join(', ')}</small>}
      </th>
      <td>
        <Link to={withMoment(`/catalog?where=${encodeURIComponent(where)}`, search)}>{products}</Link>
      </td>
      <td>{rules.filter(({ on }) => on).length || 'none'}</td>
      <td>{allowed === null && publishing === null ? 'default' : 'their own terms'}</td>
      <td>
        {people.length === 0 ? (
          <span className={styles.quiet}>nobody invited</span>
        ) : (
          people.map((one) => one.name).join(', ')
        )}
      </td>
    </tr>
  );
}

function Terms({ terms }: { readonly terms: SellerTerms }) {
  const set = useSetTerms();
  const [given, setGiven] = useState<SellerTerms | null>(null);
  return (
    <section aria-labelledby="terms-heading">
      <h2 id="terms-heading">What all sellers may decide</h2>
      <p>
        {termsWords(given ?? terms)} {requestWords(given ?? terms)}
      </p>
      <Allowed permission="settings">
        {given === null ? (
          <Button
            variant="outlined"
            onClick={() => {
              setGiven(terms);
            }}
          >
            Change it
          </Button>
        ) : (
          <form
            onSubmit={(event) => {
              event.preventDefault();
              set.mutate(given, {
                onSuccess: () => {
                  setGiven(null);
                },
              });
            }}
          >
            {set.error && <ErrorNote error={set.error} />}
            <AllowanceFields terms={given} onChange={setGiven} />
            <RequestTerms terms={given} onChange={setGiven} />
            <p className={styles.quiet}>
              It counts at once, for what is live too: what they may no longer say is left out.
            </p>
            <div className={styles.acts}>
              <Button type="submit" variant="contained" loading={set.isPending}>
                Save
              </Button>
              <Button
                onClick={() => {
                  setGiven(null);
                }}
              >
                Cancel
              </Button>
            </div>
          </form>
        )}
      </Allowed>
    </section>
  );
}
