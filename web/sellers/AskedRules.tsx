import { Button, TextField } from '@mui/material';
import { useState } from 'react';
import type { Seller } from '#core/contract/sellerCalls.ts';
import type { Names } from '#core/facts/wording.ts';
import { changesBetween } from '#core/rulebook/changes.ts';
import { EMPTY_RULEBOOK, type Rule } from '#core/rulebook/rulebook.ts';
import { ChangeList } from '../editions/ChangeList.tsx';
import { Allowed } from '../session/Allowed.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from './sellers.module.css';
import { useAnswerSeller } from './useSellers.ts';

const bookOf = (rules: readonly Rule[]) => ({ ...EMPTY_RULEBOOK, rules: [...rules] });

/** Rules that a seller asks to publish, compared with the live ones, to approve or decline. */
export function AskedRules({ seller, names }: { readonly seller: Seller; readonly names: Names }) {
  const answer = useAnswerSeller();
  const [reason, setReason] = useState<string | null>(null);
  const { id, name, rules, asked } = seller;
  if (!asked) return null;
  const changes = changesBetween(bookOf(rules), bookOf(asked.rules));
  return (
    <article className={styles.asked} aria-label={`What ${name} asks`}>
      <p>
        <b>{name}</b>: {asked.by} asks to publish {changes.length === 1 ? 'one change' : `${changes.length} changes`}.
      </p>
      <ChangeList changes={changes} names={names} />
      {answer.error && <ErrorNote error={answer.error} />}
      <Allowed permission="publish" quiet>
        {reason === null ? (
          <div className={styles.acts}>
            <Button
              variant="contained"
              loading={answer.isPending}
              onClick={() => {
                answer.mutate({ id, publish: true, askedAt: asked.at });
              }}
            >
              Approve and publish
            </Button>
            <Button
              onClick={() => {
                setReason('');
              }}
            >
              Decline…
            </Button>
          </div>
        ) : (
          <form
            className={styles.refusal}
            onSubmit={(event) => {
              event.preventDefault();
              answer.mutate({ id, publish: false, askedAt: asked.at, reason });
            }}
          >
            <TextField
              label="Reason, which the seller reads"
              value={reason}
              autoFocus
              multiline
              onChange={({ target }) => {
                setReason(target.value);
              }}
            />
            <div className={styles.acts}>
              <Button type="submit" variant="contained" loading={answer.isPending}>
                Say no
              </Button>
              <Button
                onClick={() => {
                  setReason(null);
                }}
              >
                Back
              </Button>
            </div>
          </form>
        )}
      </Allowed>
    </article>
  );
}
