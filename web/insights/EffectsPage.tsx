import { Skeleton } from '@mui/material';
import { Link, useParams } from 'react-router';
import { useEditions } from '../live/useEditions.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { momentWords } from '../shared/times.ts';
import work from '../shared/worklist.module.css';
import { EffectSheet } from './EffectSheet.tsx';
import { InsightsHead } from './InsightsHead.tsx';
import { usePeriod } from './useInsights.ts';

/** Screen of each edition's effect, before and after its publication. */
export function EffectsPage() {
  const within = usePeriod();
  const { goods } = within;
  const editions = useEditions();
  const { number } = useParams();
  const error = goods.error ?? editions.error;
  if (error) return <LoadFailed error={error} retry={() => void editions.refetch()} />;
  const all = editions.data?.editions ?? [];
  const from = within.period?.from ?? '';
  const inPeriod = all.filter(({ publishedAt }) => publishedAt >= from);
  // One that the address names is there, whichever days are looked at.
  const listed = all.filter((edition) => inPeriod.includes(edition) || edition.number === Number(number));
  const chosen = listed.find((edition) => edition.number === Number(number)) ?? listed.find(hadTime) ?? listed[0];
  return (
    <main className={lists.page}>
      <InsightsHead
        within={within}
        counted={
          editions.isPending ? 'looking…' : `${inPeriod.length} ${inPeriod.length === 1 ? 'edition' : 'editions'}`
        }
      />
      {!editions.data || !goods.data ? (
        <Skeleton variant="rounded" height={220} sx={{ m: 4 }} />
      ) : !chosen ? (
        <p className={lists.empty} style={{ margin: '28px 20px' }}>
          No edition was published in this period. Choose more days above, or{' '}
          <Link to="/review">publish the draft</Link>.
        </p>
      ) : (
        <div className={work.columns}>
          <aside className={lists.aside} aria-label="Editions">
            <ul className={work.lists}>
              {listed.map((edition) => (
                <li key={edition.number} className={edition === chosen ? work.chosen : undefined}>
                  <Link to={within.to(`/insights/editions/${edition.number}`)} aria-current={edition === chosen}>
                    <b>Edition {edition.number}</b>
                    <small>
                      {edition.note ?? 'No note'}
                      <br />
                      {momentWords(Date.parse(edition.publishedAt), goods.data.shop.zone)}
                    </small>
                  </Link>
                </li>
              ))}
            </ul>
          </aside>
          <EffectSheet key={chosen.number} number={chosen.number} zone={goods.data.shop.zone} to={within.to} />
        </div>
      )}
    </main>
  );
}

const WEEK_MS = 7 * 86_400_000;
/** Whether there were days enough since for something to be said. */
const hadTime = ({ publishedAt }: { readonly publishedAt: string }) => Date.now() - Date.parse(publishedAt) > WEEK_MS;
