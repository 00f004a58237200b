import { Button, TextField } from '@mui/material';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { unfinished } from '#core/decide/unfinished.ts';
import { withMoment } from '../frame/useMoment.ts';
import { namesFrom, useGoods } from '../goods/useGoods.ts';
import { SavingNote } from '../rules/SavingNote.tsx';
import { useDraft } from '../rules/useDraft.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { ChangeList } from './ChangeList.tsx';
import { Impact } from './Impact.tsx';
import styles from './editions.module.css';
import { useLive, usePublish } from './useEditions.ts';

/** Before publishing: every change as a sentence, what stands in the way, a note. */
export function ReviewPage() {
  const draft = useDraft();
  const goods = useGoods();
  const live = useLive();
  const publish = usePublish();
  const navigate = useNavigate();
  const [search] = useSearchParams();
  const [note, setNote] = useState('');
  const error = draft.error ?? goods.error ?? live.error;
  if (error) return <LoadFailed error={error} />;
  if (!draft.rulebook || !draft.changes || !goods.data || !live.data) return null;

  const { changes, rulebook } = draft;
  const published = live.data.rulebook;
  const next = (live.data.edition?.number ?? 0) + 1;
  const lacking = rulebook.rules.filter((rule) => unfinished(rule).length > 0);
  const names = namesFrom(goods.data);
  const onPublish = async () => {
    const ifMatch = await draft.flush();
    await publish.mutateAsync({ note, ifMatch });
    await navigate(withMoment('/editions', search));
  };
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
          <Impact rulebook={rulebook} flush={draft.flush} goods={goods.data} />
          {lacking.length > 0 && (
            <div className={styles.lacking} role="alert">
              <p>Finish or delete these before publishing:</p>
              <ul>
                {lacking.map((rule) => (
                  <li key={rule.id}>
                    <Link to={withMoment(`/rules/${encodeURIComponent(rule.id)}`, search)}>{rule.name ?? rule.id}</Link>
                    :{' '}
                    {unfinished(rule)
                      .map((lack) => LACKS[lack])
                      .join(', ')}
                  </li>
                ))}
              </ul>
            </div>
          )}
          <div className={styles.publish}>
            <TextField
              label="A note for those who look back (optional)"
              multiline
              value={note}
              onChange={({ target }) => {
                setNote(target.value);
              }}
              slotProps={{ htmlInput: { maxLength: 2000 } }}
            />
            {publish.error && <ErrorNote error={publish.error} />}
            <div>
              <Button
                variant="contained"
                size="medium"
                disabled={lacking.length > 0 || draft.saving.state === 'conflict'}
                loading={publish.isPending}
                onClick={() => void onPublish().catch(() => undefined)}
              >
                Publish edition {next}
              </Button>
              <Button
                onClick={() => {
                  draft.change(published);
                }}
              >
                Give up these changes
              </Button>
            </div>
          </div>
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
