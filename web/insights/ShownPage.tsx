import { MenuItem, Skeleton, TextField } from '@mui/material';
import { lazy, Suspense } from 'react';
import { Link } from 'react-router';
import type { FunnelRow } from '#core/contract/insightCalls.ts';
import { ruleNames } from '#core/rulebook/sentence.ts';
import { useDraft } from '../draft/useDraft.ts';
import { namesFrom } from '../goods/useGoods.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { oneOf, useFilters, queryText } from '../shared/useFilters.ts';
import { BehindRow } from './BehindRow.tsx';
import { FEWEST, FUNNEL_SORTS, FunnelTable, keyOf } from './FunnelTable.tsx';
import { InsightsHead } from './InsightsHead.tsx';
import { useMay } from '../session/useMay.ts';
import { DeleteCounts } from './DeleteCounts.tsx';
import styles from './insights.module.css';
import { PERIOD_NAMES, useFunnel, usePeriod, useSeries } from './useInsights.ts';

// Charts weigh more than the page.
const SeriesChart = lazy(async () => ({ default: (await import('./SeriesChart.tsx')).SeriesChart }));

/** More rules than these are looked for by name. */
const MANY = 8;

/** Insights: controls shown, pressed, and their results. */
export function ShownPage() {
  const [search, set, change] = useFilters();
  const within = usePeriod();
  const mayDelete = useMay('settings');
  const { goods, period, chosen } = within;
  const { rulebook } = useDraft();
  const audience = search.get('audience') ?? undefined;
  const funnel = useFunnel({ period, audience });
  const rows = funnel.data?.rows ?? [];
  const open = rows.find((row) => keyOf(row) === search.get('row'));
  const series = useSeries({ period, audience }, open);
  const error = goods.error ?? funnel.error ?? series.error;
  if (error) return <LoadFailed error={error} retry={() => void Promise.all([funnel.refetch(), series.refetch()])} />;
  const nameOf = ruleNames(rulebook?.rules ?? [], goods.data && namesFrom(goods.data), goods.data?.sellers);
  const called = ({ rule }: Pick<FunnelRow, 'rule'>) => (rule === null ? 'No rule' : nameOf(rule));
  const words = (search.get('search') ?? '').trim().toLowerCase();
  const fitting = rows.filter((row) => called(row).toLowerCase().includes(words));
  const sort = oneOf(FUNNEL_SORTS, search.get('sort')) ?? 'finished';
  const seen = rows.reduce((sum, row) => sum + row.seen, 0);
  const audiences = [...new Set([...(funnel.data?.audiences ?? []), ...(audience === undefined ? [] : [audience])])];
  return (
    <main className={lists.page}>
      <InsightsHead
        within={within}
        counted={funnel.isPending ? 'looking…' : `${seen.toLocaleString('en-GB')} seen in ${PERIOD_NAMES[chosen]}`}
      />
      <div className={open ? styles.both : styles.one}>
        <section className={lists.main} aria-label="What stood in the button’s place" aria-busy={funnel.isPending}>
          {funnel.isPending || !goods.data ? (
            <Skeleton variant="rounded" height={280} />
          ) : rows.length === 0 ? (
            <NothingCounted
              audience={audience}
              all={() => {
                set('audience', null);
              }}
            />
          ) : (
            <>
              <Suspense fallback={<Skeleton variant="rounded" height={236} />}>
                {series.data ? (
                  <SeriesChart
                    series={series.data}
                    of={open ? called(open) : audience === undefined ? 'All that was shown' : `Shown to ${audience}`}
                    zone={goods.data.shop.zone}
                    file={`/api/insights/series.csv?${queryText({ ...period, audience, ...(open ? { rule: open.rule ?? '', control: open.control } : {}) })}`}
                    editionAt={(number) => within.to(`/insights/editions/${number}`)}
                  />
                ) : (
                  <Skeleton variant="rounded" height={236} />
                )}
              </Suspense>
              <div className={styles.over}>
                <h2>By rule</h2>
                {rows.length > MANY && (
                  <TextField
                    size="small"
                    placeholder="Find a rule"
                    defaultValue={search.get('search') ?? ''}
                    slotProps={{ htmlInput: { 'aria-label': 'Find a rule' } }}
                    sx={{ width: 170 }}
                    onChange={({ target }) => {
                      set('search', target.value);
                    }}
                  />
                )}
                <TextField
                  select
                  size="small"
                  label="Shown to"
                  value={audience ?? ''}
                  slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
                  sx={{ width: 190 }}
                  onChange={({ target }) => {
                    set('audience', target.value);
                  }}
                >
                  <MenuItem value="">everybody</MenuItem>
                  {audiences.map((name) => (
                    <MenuItem key={name} value={name}>
                      {name}
                    </MenuItem>
                  ))}
                </TextField>
                <a
                  className={styles.file}
                  href={`/api/insights/funnel.csv?${queryText({ ...period, audience })}`}
                  download
                >
                  Export CSV
                </a>
              </div>
              <FunnelTable
                rows={fitting}
                sort={sort}
                onSort={(next) => {
                  set('sort', next === 'finished' ? null : next);
                }}
                called={called}
                open={open}
                onOpen={(row) => {
                  change({ row: row === open ? null : keyOf(row) });
                }}
              />
              {fitting.length === 0 && <p className={lists.empty}>No rule that was shown has “{words}” in its name.</p>}
              {seen < FEWEST && (
                <p className={styles.below}>
                  Too few to tell yet. Shares and comparisons appear from {FEWEST} views on; choose more days above, or
                  wait.
                </p>
              )}
              {mayDelete && period && (
                <p className={styles.below}>
                  Counts look wrong? <DeleteCounts key={within.chosen} period={period} />
                </p>
              )}
            </>
          )}
        </section>
        {open && period && (
          <BehindRow
            row={open}
            name={called(open)}
            period={period}
            onClose={() => {
              set('row', null);
            }}
          />
        )}
      </div>
    </main>
  );
}

function NothingCounted({ audience, all }: { readonly audience: string | undefined; readonly all: () => void }) {
  if (audience !== undefined)
    return (
      <p className={lists.empty}>
        Nothing was counted of {audience} in these days.{' '}
        <button type="button" className={styles.name} onClick={all}>
          Show everybody
        </button>
      </p>
    );
  return (
    <p className={lists.empty}>
      Nothing was counted in these days. Pages tell what shoppers see and press as soon as Understudy’s line is in their
      head: <Link to="/connection">see Connection</Link>. Choose more days above if it has been there for longer.
    </p>
  );
}
