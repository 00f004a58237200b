import { Button, ToggleButton, ToggleButtonGroup } from '@mui/material';
import { useState } from 'react';
import { merge, type Clash } from '#core/rulebook/merge.ts';
import { type Entry, type Rulebook } from '#core/rulebook/rulebook.ts';
import { fullSentence, ruleName } from '#core/rulebook/sentence.ts';
import { namesFrom, useGoods } from '../goods/useGoods.ts';
import styles from './saving.module.css';
import { ReadableText } from '../shared/ReadableText.tsx';
import { useDraft } from './useDraft.ts';

/** Explains a problem with saving and what to do. Nothing if all is well. */
export function SavingNote() {
  const { saving, settle, rulebook } = useDraft();
  if (saving.state === 'failed') {
    return (
      <p className={styles.trouble} role="alert">
        Not saved: {saving.error.message} Your changes are kept here and will be sent again automatically.
      </p>
    );
  }
  if (saving.state !== 'conflict' || !rulebook) return null;
  return <Conflict mine={rulebook} theirs={saving.theirs} base={saving.base} settle={settle} />;
}

interface ConflictProps {
  readonly mine: Rulebook;
  readonly theirs: Rulebook;
  readonly base: Rulebook;
  readonly settle: (settled: Rulebook) => void;
}

/** Conflict of two people: both versions of each rule that both changed, to merge or choose. */
function Conflict({ mine, theirs, base, settle }: ConflictProps) {
  const [picked, setPicked] = useState<Readonly<Record<string, 'mine' | 'theirs'>>>({});
  const pickOf = (id: string) => picked[id] ?? 'mine';
  const { rulebook, clashes } = merge(base, mine, theirs, pickOf);
  return (
    <div className={styles.trouble} role="alert">
      <p>
        Somebody else changed the draft meanwhile. Nothing is lost yet, and undo brings back what you had.{' '}
        {clashes.length === 0
          ? 'You changed different rules, so both can be kept.'
          : `You both changed ${clashes.length === 1 ? 'one rule' : `${clashes.length} rules`}: choose whose to keep.`}
      </p>
      {clashes.map((clash) => (
        <ClashChoice
          key={clash.id}
          clash={clash}
          picked={pickOf(clash.id)}
          onPick={(whose) => {
            setPicked({ ...picked, [clash.id]: whose });
          }}
        />
      ))}
      <Button
        variant="contained"
        onClick={() => {
          settle(rulebook);
        }}
      >
        Merge both
      </Button>
      <Button
        variant="outlined"
        onClick={() => {
          settle(theirs);
        }}
      >
        Use all of theirs
      </Button>
      <Button
        variant="outlined"
        onClick={() => {
          settle(mine);
        }}
      >
        Keep all of mine
      </Button>
    </div>
  );
}

interface ClashChoiceProps {
  readonly clash: Clash;
  readonly picked: 'mine' | 'theirs';
  readonly onPick: (whose: 'mine' | 'theirs') => void;
}

function ClashChoice({ clash, picked, onPick }: ClashChoiceProps) {
  const goods = useGoods();
  const names = goods.data ? namesFrom(goods.data) : {};
  const words = (rule: Entry | null) => (
    <ReadableText text={rule ? `${ruleName(rule, names)}. ${fullSentence(rule, names)}` : 'Deleted.'} />
  );
  const either = clash.mine ?? clash.theirs;
  return (
    <div className={styles.clash}>
      <ToggleButtonGroup
        exclusive
        size="small"
        value={picked}
        aria-label={`Whose ${either ? ruleName(either, names) : clash.id} to keep`}
        onChange={(_event, whose: 'mine' | 'theirs' | null) => {
          if (whose) onPick(whose);
        }}
      >
        <ToggleButton value="mine">Mine</ToggleButton>
        <ToggleButton value="theirs">Theirs</ToggleButton>
      </ToggleButtonGroup>
      <p className={picked === 'mine' ? undefined : styles.passed}>
        <span className={styles.side}>mine</span> {words(clash.mine)}
      </p>
      <p className={picked === 'theirs' ? undefined : styles.passed}>
        <span className={styles.side}>theirs</span> {words(clash.theirs)}
      </p>
    </div>
  );
}
