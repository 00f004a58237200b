import { Skeleton } from '@mui/material';
import { useMemo } from 'react';
import { ruleNames } from '#core/rulebook/sentence.ts';
import { AudiencesButton } from '../audiences/AudiencesButton.tsx';
import { Impact } from './Impact.tsx';
import { draftAgainstLive } from './useImpact.ts';
import { useLive } from '../live/useEditions.ts';
import { useMoment } from '../shared/useMoment.ts';
import { compiledFor } from '../goods/compiledFor.ts';
import { namesFrom, useGoods } from '../goods/useGoods.ts';
import { AlsoLookAt } from '../proof/AlsoLookAt.tsx';
import { PROOF_SURFACES } from '../proof/names.ts';
import { ProofTable } from '../proof/ProofTable.tsx';
import { ProofRow } from '../proof/ProofRow.tsx';
import { cellsOf, rowsOf, type Proof, type ProofSurface, type Which } from '../proof/proofRows.ts';
import { useWhy, WhyInAddress } from '../proof/WhyInAddress.tsx';
import proofStyles from '../proof/proof.module.css';
import { SavingNote } from '../draft/SavingNote.tsx';
import { useDraft } from '../draft/useDraft.ts';
import { Choice } from '../shared/Choice.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { Progress } from '../shared/Progress.tsx';
import { oneOf, useFilters } from '../shared/useFilters.ts';
import { Findings } from './Findings.tsx';
import styles from './rehearsal.module.css';
import { ShopPreview } from './ShopPreview.tsx';
import { SpotChecks } from './SpotChecks.tsx';
import { TimeLine } from './TimeLine.tsx';
import { useCalendar, useProducts, useRows } from './useRehearsal.ts';

const WHICH = { draft: 'Draft', live: 'Live', both: 'Both' } as const;

/** Rehearsal of the draft: every distinct outcome for every audience at any moment, and findings. */
export function RehearsalPage() {
  const draft = useDraft();
  const goods = useGoods();
  const live = useLive();
  const [search, set] = useFilters();
  const ask = useWhy();
  const { moment, isNow } = useMoment(goods.data?.shop.zone);
  const chosen = useRows(isNow ? undefined : new Date(moment).toISOString());
  const calendar = useCalendar('draft');
  const pinned = useMemo(() => (search.get('rows') ?? '').split(',').filter(Boolean), [search]);
  const ids = [...new Set([...pinned, ...(chosen.data ?? []).map(({ product }) => product)])];
  const shown = useProducts(ids, goods.data?.products ?? []);
  const { rulebook } = draft;
  const published = live.data?.rulebook;
  const compiled = useMemo(() => rulebook && goods.data && compiledFor(rulebook, goods.data), [rulebook, goods.data]);
  const compiledLive = useMemo(
    () => published && goods.data && compiledFor(published, goods.data),
    [published, goods.data],
  );
  const error = draft.error ?? goods.error ?? live.error ?? chosen.error ?? calendar.error;
  if (error) return <LoadFailed error={error} />;
  if (!goods.data || !compiled || !compiledLive || !chosen.data || !rulebook)
    return (
      <main className={styles.page} aria-busy="true">
        <h1>Rehearsal</h1>
        <Progress question={chosen} />
        {!chosen.isGivenUp && <Skeleton variant="rounded" height={320} />}
      </main>
    );

  const { audiences } = goods.data;
  const surface: ProofSurface = oneOf(PROOF_SURFACES, search.get('surface')) ?? 'product';
  const which: Which = oneOf(WHICH, search.get('which')) ?? 'draft';
  const proof: Proof = { draft: compiled, live: compiledLive, audiences, surface, moment };
  const variants = new Set(chosen.data.map(({ variant }) => variant));
  const rows = rowsOf(shown, surface).filter(
    ({ product, variant }) => surface === 'listing' || pinned.includes(product.id) || variants.has(variant.id),
  );
  const nameOf = ruleNames(rulebook.rules, namesFrom(goods.data), goods.data.sellers);

  return (
    <main className={styles.page}>
      <SavingNote />
      <header className={styles.head}>
        <h1>Rehearsal</h1>
        <p>
          {rows.length === 1 ? 'One row shows' : `${rows.length} rows show`} every distinct outcome among{' '}
          {goods.data.total} {goods.data.total === 1 ? 'product' : 'products'}.
        </p>
        <ShopPreview goods={goods.data} />
      </header>
      <Progress question={calendar} />
      {calendar.data && (
        <TimeLine
          instants={calendar.data.instants}
          from={Date.parse(calendar.data.at)}
          until={Date.parse(calendar.data.until)}
          shop={goods.data.shop}
          ruleName={nameOf}
        />
      )}
      <div className={styles.columns}>
        <section className={proofStyles.proof} aria-label="Proof" aria-busy={chosen.isFetching}>
          <Progress question={chosen} />
          <div className={styles.choices}>
            <Choice
              options={PROOF_SURFACES}
              value={surface}
              label="Surface"
              choose={(next) => {
                set('surface', next === 'product' ? null : next);
              }}
            />
            <Choice
              options={WHICH}
              value={which}
              label="Whose rules"
              choose={(next) => {
                set('which', next === 'draft' ? null : next);
              }}
            />
            <AudiencesButton />
          </div>
          {rows.length === 0 ? (
            <p className={proofStyles.noGoods}>There are no products to rehearse with yet. Import the catalog first.</p>
          ) : (
            <ProofTable surface={surface} audiences={audiences}>
              <tbody>
                {rows.map((row) => (
                  <ProofRow
                    key={row.key}
                    row={row}
                    cells={cellsOf(row, null, proof)}
                    audiences={audiences}
                    shop={goods.data.shop}
                    surface={surface}
                    which={which}
                    onWhy={(audience) => {
                      ask(row, audience);
                    }}
                  />
                ))}
              </tbody>
            </ProofTable>
          )}
          <AlsoLookAt
            goods={goods.data}
            pinned={pinned}
            pin={(ids) => {
              set('rows', ids.join(',') || null);
            }}
          />
          <Impact compared={draftAgainstLive(rulebook, draft.flush)} goods={goods.data} />
        </section>
        <aside className={styles.side}>
          <SpotChecks goods={goods.data} />
          <Findings goods={goods.data} />
        </aside>
      </div>
      <WhyInAddress rows={rowsOf(shown, surface)} proof={proof} goods={goods.data} />
    </main>
  );
}
