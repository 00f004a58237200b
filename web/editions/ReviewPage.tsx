import { rulesIn } from '#core/rulebook/entries.ts';
import { Button } from '@mui/material';
import { Link, useSearchParams } from 'react-router';
import { unfinished } from '#core/rulebook/unfinished.ts';
import { withMoment } from '../shared/useMoment.ts';
import { namesFrom, useGoods } from '../goods/useGoods.ts';
import { SavingNote } from '../draft/SavingNote.tsx';
import { useChanges, useDraft } from '../draft/useDraft.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { ChangeList } from './ChangeList.tsx';
import { shownOutcomeText } from '#core/analysis/spotCheck.ts';
import { ruleName } from '#core/rulebook/sentence.ts';
import { Findings } from '../rehearsal/Findings.tsx';
import { useSpotChecks } from '../rehearsal/useRehearsal.ts';
import { Impact } from '../rehearsal/Impact.tsx';
import { PublishForm } from './PublishForm.tsx';
import styles from './editions.module.css';
import { draftAgainstLive } from '../rehearsal/useImpact.ts';
import { useLive } from '../live/useEditions.ts';

/** Review before publishing: every change as a sentence, obstacles, and a note. */
export function ReviewPage() {
  const draft = useDraft();
  const changes = useChanges();
  const goods = useGoods();
  const live = useLive();
  const checks = useSpotChecks();
  const [search] = useSearchParams();
  const error = draft.error ?? goods.error ?? live.error;
  if (error) return <LoadFailed error={error} />;
  if (!draft.rulebook || !changes || !goods.data || !live.data) return null;

  const { rulebook } = draft;
  const published = live.data.rulebook;
  const next = (live.data.edition?.number ?? 0) + 1;
  const lacking = rulesIn(rulebook).filter((rule) => unfinished(rule).length > 0);
  const names = namesFrom(goods.data);
  const failing = checks.data?.checks.filter(({ passes }) => !passes) ?? [];
  const hindered =
    lacking.length > 0
      ? 'It cannot be published while rules in it are unfinished.'
      : failing.some(({ blocks }) => blocks)
        ? 'It cannot be published while it fails a spot check that must hold.'
        : null;
  return (
    <main className={styles.page}>
      <SavingNote />
      <h1>Review the draft</h1>
      {changes.length === 0 ? (
        <p className={styles.lead}>
          The draft is what is live: there is nothing to publish. <Link to="/rules">Go to the rules</Link> to change
          them.
        </p>
      ) : (
        <>
          <p className={styles.lead}>
            {changes.length === 1 ? 'One change' : `${changes.length} changes`}{' '}
            {live.data.edition ? `from edition ${live.data.edition.number}` : 'to a shop without rules'}, for every
            visitor from the moment of publishing.
          </p>
          <ChangeList changes={changes} names={names} linked />
          <Impact compared={draftAgainstLive(rulebook, draft.flush)} goods={goods.data} />
          {lacking.length > 0 && (
            <div className={styles.lacking} role="alert">
              <p>Finish or delete these before publishing:</p>
              <ul>
                {lacking.map((rule) => (
                  <li key={rule.id}>
                    <Link to={withMoment(`/rules/${encodeURIComponent(rule.id)}`, search)}>
                      {ruleName(rule, names)}
                    </Link>
                    :{' '}
                    {unfinished(rule)
                      .map((lack) => LACKS[lack])
                      .join(', ')}
                  </li>
                ))}
              </ul>
            </div>
          )}
          {failing.length > 0 && (
            <div className={styles.lacking} role="alert">
              <p>The draft fails {failing.length === 1 ? 'a spot check' : `${failing.length} spot checks`}:</p>
              <ul>
                {failing.map(({ id, sentence, seen, blocks }) => (
                  <li key={id}>
                    {sentence} {seen && `By the draft: ${shownOutcomeText(seen)}.`}{' '}
                    {blocks && <b>It must hold to publish.</b>}
                  </li>
                ))}
              </ul>
              <Link to={withMoment('/rehearsal', search)}>Rehearse the draft, or change the check</Link>
            </div>
          )}
          <Findings goods={goods.data} isReview />
          <PublishForm next={next} zone={goods.data.shop.zone} published={published} hindered={hindered} />
        </>
      )}
      {draft.undo && changes.length === 0 && (
        <Button variant="outlined" onClick={draft.undo}>
          Undo the last change of the draft
        </Button>
      )}
    </main>
  );
}

const LACKS = {
  noGoods: 'it names no goods',
  emptyGroup: 'a group in it is empty',
  emptyThen: 'it does not say what happens',
} as const;
