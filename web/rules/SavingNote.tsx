import { Button } from '@mui/material';
import styles from './rules.module.css';
import { useDraft } from './useDraft.ts';

/** What stands in the way of saving, and what to do about it. Nothing when all is well. */
export function SavingNote() {
  const { saving, settle, rulebook } = useDraft();
  if (saving.state === 'failed') {
    return (
      <p className={styles.trouble} role="alert">
        Not saved: {saving.error.message} Your changes are kept here and are sent again by themselves.
      </p>
    );
  }
  if (saving.state !== 'conflict') return null;
  const mine = rulebook?.rules.length ?? 0;
  return (
    <div className={styles.trouble} role="alert">
      <p>
        Somebody else changed the draft meanwhile. Theirs has {saving.theirs.rules.length} rules, yours {mine}. Nothing
        is lost yet: choose which to go on with. Undo brings the other back.
      </p>
      <Button
        variant="contained"
        onClick={() => {
          settle('theirs');
        }}
      >
        Take theirs
      </Button>
      <Button
        variant="outlined"
        onClick={() => {
          settle('mine');
        }}
      >
        Keep mine
      </Button>
    </div>
  );
}
