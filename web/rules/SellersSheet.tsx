import { Button, Snackbar } from '@mui/material';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { Rulebook, SellersEntry } from '#core/rulebook/rulebook.ts';
import { fullSentence, ruleName, SELLERS_SENTENCE } from '#core/rulebook/sentence.ts';
import { removeRule } from '../draft/edits.ts';
import { useDraft } from '../draft/useDraft.ts';
import { Allowed } from '../session/Allowed.tsx';
import { withMoment } from '../shared/useMoment.ts';
import { namesFrom, type Goods } from '../goods/useGoods.ts';
import { EntryTools } from './EntryTools.tsx';
import styles from './rules.module.css';

interface SellersSheetProps {
  readonly entry: SellersEntry;
  readonly rulebook: Rulebook;
  readonly goods: Goods;
}

/** Sheet of the sellers' place: rules above it outrank them. */
export function SellersSheet({ entry, rulebook, goods }: SellersSheetProps) {
  const { change, undo } = useDraft();
  const [search] = useSearchParams();
  const [message, setMessage] = useState<string | null>(null);
  const names = namesFrom(goods);
  const deciding = goods.sellers.filter(({ rules }) => rules.length > 0).slice(0, MOST_NAMED);
  return (
    <>
      <Allowed permission="draft">
        <header className={styles.ruleHead}>
          <h1 className={styles.entryName}>{ruleName(entry)}</h1>
          <EntryTools
            entry={entry}
            rulebook={rulebook}
            onDelete={() => {
              setMessage(`Deleted “${ruleName(entry)}”.`);
              change(removeRule(rulebook, entry.id));
            }}
          />
        </header>
      </Allowed>
      <div className={styles.entrySays}>
        <p className={styles.entrySentence}>{SELLERS_SENTENCE}</p>
        <p>
          Rules above this place outrank the sellers. Rules below it decide what a seller said nothing about. Move it as
          you move a rule: drag it, or press Alt with an arrow key.
        </p>
        {deciding.length === 0 ? (
          <p>No seller has a live rule yet.</p>
        ) : (
          <dl className={styles.deciding}>
            {deciding.map(({ id, name, rules }) => (
              <div key={id}>
                <dt>
                  <Link to={withMoment(`/sellers?seller=${encodeURIComponent(id)}`, search)}>{name}</Link>
                </dt>
                <dd>
                  {rules.map((rule) => (
                    <div key={rule.id}>
                      <b>{ruleName(rule, names)}</b>
                      <span>{fullSentence(rule, names)}</span>
                    </div>
                  ))}
                </dd>
              </div>
            ))}
          </dl>
        )}
        <p>
          <Link to={withMoment('/sellers', search)}>Say who sells what, and what they may decide</Link>
        </p>
      </div>
      <Snackbar
        open={message !== null}
        message={message}
        autoHideDuration={8000}
        onClose={() => {
          setMessage(null);
        }}
        action={undo && <Button onClick={undo}>Undo</Button>}
      />
    </>
  );
}

/** Maximum number of sellers named; their own screen lists all. */
const MOST_NAMED = 30;
