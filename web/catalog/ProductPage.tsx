import { Skeleton } from '@mui/material';
import { useMemo } from 'react';
import { Link, useParams } from 'react-router';
import type { Product } from '#core/contract/shopCalls.ts';
import { useDraft } from '../draft/useDraft.ts';
import { Picture } from '../goods/Picture.tsx';
import { compiledFor } from '../goods/compiledFor.ts';
import { titleIn, useGoods, type Goods } from '../goods/useGoods.ts';
import { useLive } from '../live/useEditions.ts';
import { PROOF_SURFACES } from '../proof/names.ts';
import { ProofRow } from '../proof/ProofRow.tsx';
import { cellsOf, rowsOf, type Proof } from '../proof/proofRows.ts';
import { ProofTable } from '../proof/ProofTable.tsx';
import { useWhy, WhyInAddress } from '../proof/WhyInAddress.tsx';
import { Choice } from '../shared/Choice.tsx';
import lists from '../shared/lists.module.css';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { momentWords } from '../shared/times.ts';
import { oneOf, useFilters } from '../shared/useFilters.ts';
import { useMoment } from '../shared/useMoment.ts';
import { usePageMap } from '../shared/usePageMap.ts';
import styles from './product.module.css';
import { ProductFacts } from './ProductFacts.tsx';
import { ProductRules } from './ProductRules.tsx';
import { ProductStock } from './ProductStock.tsx';
import { TreatProduct } from './TreatProduct.tsx';
import { useProduct } from './useProduct.ts';

/** One product: its facts, each audience's control and the reasons, its requests, and actions. */
export function ProductPage() {
  const { id = '' } = useParams();
  const goods = useGoods();
  const found = useProduct(id);
  const error = goods.error ?? found.error;
  if (error) return <LoadFailed error={error} retry={() => void Promise.all([goods.refetch(), found.refetch()])} />;
  if (!goods.data || found.data === undefined)
    return (
      <main className={lists.page} aria-busy="true">
        <header className={lists.head}>
          <h1>Catalog</h1>
        </header>
        <Skeleton variant="rounded" height={320} sx={{ m: 3 }} />
      </main>
    );
  if (found.data === null)
    return (
      <main className={lists.page}>
        <header className={lists.head}>
          <h1>No such product</h1>
        </header>
        <p className={styles.gone}>
          The catalog has no product {id}. It may have been archived by an import.{' '}
          <Link to="/catalog">Look for it</Link>.
        </p>
      </main>
    );
  return <Loaded product={found.data} goods={goods.data} />;
}

function Loaded({ product, goods }: { readonly product: Product; readonly goods: Goods }) {
  const { shop, audiences } = goods;
  const { rulebook } = useDraft();
  const live = useLive();
  const { moment } = useMoment(shop.zone);
  const [search, set] = useFilters();
  const site = usePageMap().data?.live?.map.site;
  const surface = oneOf(PROOF_SURFACES, search.get('surface')) ?? 'product';
  const liveRules = live.data?.rulebook;
  const proof = useMemo<Proof | null>(
    () =>
      rulebook && liveRules
        ? { draft: compiledFor(rulebook, goods), live: compiledFor(liveRules, goods), audiences, surface, moment }
        : null,
    [rulebook, liveRules, goods, audiences, surface, moment],
  );
  const rows = rowsOf([product], surface);
  const ask = useWhy();
  const title = titleIn(product.title, shop);
  const next = proof && nextChange(product, proof);
  return (
    <main className={lists.page}>
      <header className={lists.head}>
        <Picture src={product.image} className={styles.picture} />
        <h1>{title}</h1>
        <code className={lists.count}>{product.id}</code>
        {site && product.path && (
          <a href={new URL(product.path, site).href} target="_blank" rel="noreferrer">
            Its page in the shop
          </a>
        )}
        <Link to="/catalog">All products</Link>
      </header>
      <div className={styles.columns}>
        <div className={styles.main}>
          <section aria-labelledby="shown-heading" aria-busy={proof === null}>
            <header className={styles.shown}>
              <h2 id="shown-heading">What shoppers see</h2>
              <Choice
                options={PROOF_SURFACES}
                value={surface}
                label="Surface"
                choose={(chosen) => {
                  set('surface', chosen === 'product' ? null : chosen);
                }}
              />
            </header>
            {proof ? (
              <ProofTable surface={surface} audiences={audiences}>
                <tbody>
                  {rows.map((row) => (
                    <ProofRow
                      key={row.key}
                      row={row}
                      cells={cellsOf(row, null, proof)}
                      audiences={audiences}
                      shop={shop}
                      surface={surface}
                      which="both"
                      onWhy={(audience) => {
                        ask(row, audience);
                      }}
                    />
                  ))}
                </tbody>
              </ProofTable>
            ) : (
              <Skeleton variant="rounded" height={160} />
            )}
            <p className={styles.quiet}>
              {next === null
                ? 'By the clock alone nothing of it changes.'
                : `Next scheduled change: ${momentWords(next, shop.zone)}.`}
            </p>
          </section>
          <TreatProduct product={product} title={title} goods={goods} />
          <ProductStock key={JSON.stringify(product.variants)} product={product} />
        </div>
        <aside className={styles.side}>
          {proof && rulebook && <ProductRules product={product} proof={proof} rulebook={rulebook} goods={goods} />}
          <Requests product={product} />
          <ProductFacts product={product} goods={goods} />
        </aside>
      </div>
      {proof && <WhyInAddress rows={rows} proof={proof} goods={goods} />}
    </main>
  );
}

/** The first instant at which the clock alone could change anything that anybody is shown, in epoch ms; null for none. */
function nextChange(product: Product, proof: Proof): number | null {
  const ends = rowsOf([product], 'product').flatMap((row) =>
    cellsOf(row, null, { ...proof, surface: 'product' }).flatMap(({ draft }) =>
      draft.validUntil === null ? [] : [Date.parse(draft.validUntil)],
    ),
  );
  return ends.length === 0 ? null : Math.min(...ends);
}

/** Waitlist entries, reservations and enquiries of the product. */
function Requests({ product }: { readonly product: Product }) {
  const { id, waiting, variants } = product;
  const query = (of: object) => new URLSearchParams({ ...of }).toString();
  const lines = [
    ...(waiting > 0 ? [{ to: `/waitlists?${query({ product: id })}`, words: `${waiting} on its waitlist` }] : []),
    ...variants.flatMap(({ id: variant, title, waiting: here, reserved }) => [
      ...(here > 0
        ? [
            {
              to: `/waitlists?${query({ product: id, variant })}`,
              words: `${here} on the waitlist of ${title || 'it'}`,
            },
          ]
        : []),
      ...(reserved > 0
        ? [{ to: `/preorders?${query({ variant })}`, words: `${reserved} reserved${title ? ` of ${title}` : ''}` }]
        : []),
    ]),
  ];
  return (
    <section aria-labelledby="requests-heading">
      <h2 id="requests-heading">Requests for it</h2>
      {lines.length === 0 && <p className={styles.quiet}>No one is waiting for it and there are no reservations.</p>}
      <ul className={styles.links}>
        {lines.map(({ to, words }) => (
          <li key={to}>
            <Link to={to}>{words}</Link>
          </li>
        ))}
        <li>
          <Link to={`/enquiries?${query({ product: id })}`}>Enquiries about it</Link>
        </li>
        <li>
          <Link to={`/quotes?${query({ product: id })}`}>Quotes that name it</Link>
        </li>
      </ul>
    </section>
  );
}
