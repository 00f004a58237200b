import { useDeferredValue, useMemo } from 'react';
import { useSearchParams } from 'react-router';
import type { Rule, Rulebook } from '#core/rulebook/rulebook.ts';
import { AudiencesButton } from '../audiences/AudiencesButton.tsx';
import { useLive } from '../live/useEditions.ts';
import { useMoment } from '../shared/useMoment.ts';
import { compiledFor } from '../goods/compiledFor.ts';
import type { Goods } from '../goods/useGoods.ts';
import styles from './proof.module.css';
import { cellsOf, reachOf, rowsOf, surfaceOf, type Proof as ProofOf, type Row } from './proofRows.ts';
import { Choice } from '../shared/Choice.tsx';
import { oneOf } from '../shared/useFilters.ts';
import { AlsoLookAt } from './AlsoLookAt.tsx';
import { PROOF_SURFACES } from './names.ts';
import { ProofRow } from './ProofRow.tsx';
import { ProofTable } from './ProofTable.tsx';
import { useWhy, WhyInAddress } from './WhyInAddress.tsx';
import { WhyIdle } from './WhyIdle.tsx';

interface ProofProps {
  readonly rule: Rule;
  readonly rulebook: Rulebook;
  readonly goods: Goods;
}

/** Real controls of the products that show a rule best, for every audience, in the draft beside the live edition. */
export function Proof({ rule, rulebook, goods }: ProofProps) {
  const { shop, products, audiences, total } = goods;
  const live = useLive();
  const { moment, isNow } = useMoment(shop.zone);
  const [search, setSearch] = useSearchParams();
  const ask = useWhy();
  const natural = surfaceOf(rule);
  const surface = oneOf(PROOF_SURFACES, search.get('surface')) ?? natural;
  const set = (name: string, value: string | null) => {
    setSearch((before) => {
      const next = new URLSearchParams(before);
      if (value === null) next.delete(name);
      else next.set(name, value);
      return next;
    });
  };

  const liveRulebook = live.data?.rulebook;
  const draft = useMemo(() => compiledFor(rulebook, goods), [rulebook, goods]);
  const compiledLive = useMemo(() => liveRulebook && compiledFor(liveRulebook, goods), [liveRulebook, goods]);
  const proof = useMemo<ProofOf | null>(
    () => (compiledLive ? { draft, live: compiledLive, audiences, surface, moment } : null),
    [draft, compiledLive, audiences, surface, moment],
  );
  const all = useMemo(() => rowsOf(products, surface), [products, surface]);
  // The choice of rows may lag behind typing; their content never does.
  const settled = useDeferredValue(proof);
  const reach = useMemo(() => settled && reachOf(all, rule.id, settled), [all, rule.id, settled]);
  const rowsPinned = search.get('rows') ?? '';
  const pinned = useMemo(
    () => rowsPinned.split(',').filter((id) => products.some((product) => product.id === id)),
    [rowsPinned, products],
  );
  if (!proof || !reach) return null;

  const unpinned = (rows: readonly Row[]) =>
    rows.filter((row) => all.includes(row) && !pinned.includes(row.product.id));
  const groups = [
    { name: 'Added by name', rows: all.filter(({ product }) => pinned.includes(product.id)) },
    { name: 'Decided by this rule', rows: unpinned(reach.decided) },
    { name: 'Not decided by this rule', rows: unpinned(reach.others) },
  ].filter(({ rows }) => rows.length > 0);
  const unit = surface === 'listing' ? 'products' : 'variants';

  return (
    <section className={styles.proof} aria-label="Proof">
      <header className={styles.head}>
        <p>
          <b>
            Decides {reach.decidedCount} of {all.length} {unit}
          </b>
          <span className={reach.changedCount > 0 ? styles.changedCount : styles.soft}>
            {reach.changedCount > 0
              ? `${reach.changedCount} would change${live.data?.edition ? ` from edition ${live.data.edition.number}` : ''}`
              : 'same as what is live'}
            {isNow ? '' : ' at this moment'}
          </span>
        </p>
        <Choice
          options={PROOF_SURFACES}
          value={surface}
          label="Surface"
          choose={(next) => {
            set('surface', next === natural ? null : next);
          }}
        />
      </header>
      {reach.decidedCount === 0 && products.length > 0 && (
        <WhyIdle rule={rule} rulebook={rulebook} rows={all} proof={proof} goods={goods} />
      )}
      {products.length === 0 ? (
        <p className={styles.noGoods}>
          There are no products to show yet. Send the catalog to <code>POST /api/catalog/import</code>; the page{' '}
          <a href="/api/docs">API reference</a> says how.
        </p>
      ) : (
        <ProofTable surface={surface} audiences={audiences}>
          {groups.map(({ name, rows }) => (
            <tbody key={name}>
              <tr className={styles.groupName}>
                <th scope="rowgroup" colSpan={audiences.length + 1}>
                  {name}
                </th>
              </tr>
              {rows.map((row) => (
                <ProofRow
                  key={row.key}
                  row={row}
                  cells={cellsOf(row, rule.id, proof)}
                  audiences={audiences}
                  shop={shop}
                  surface={surface}
                  onWhy={(audience) => {
                    ask(row, audience);
                  }}
                />
              ))}
            </tbody>
          ))}
        </ProofTable>
      )}
      <div className={styles.below}>
        <AlsoLookAt
          goods={goods}
          pinned={pinned}
          pin={(ids) => {
            set('rows', ids.join(',') || null);
          }}
        />
        <AudiencesButton />
      </div>
      {total > products.length && (
        <p className={styles.soft}>
          Checked on the first {products.length} of {total} products.
        </p>
      )}
      <WhyInAddress rows={all} proof={proof} goods={goods} />
    </section>
  );
}
