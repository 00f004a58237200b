import { Dialog, DialogContent, DialogTitle } from '@mui/material';
import { useEffect, useState } from 'react';
import styles from './Frame.module.css';
import { isTyping } from '../shared/isTyping.ts';

const KEYS = [
  ['Ctrl K', 'Go to a rule, a product or a screen'],
  ['Ctrl Z', 'Undo'],
  ['Ctrl Shift Z', 'Redo'],
  ['↑ ↓', 'The rule above or below, in the running order'],
  ['Alt ↑ ↓', 'Move the rule up or down'],
  ['Enter', 'Open a phrase, or the reasons behind a control'],
  ['Esc', 'Close what is open'],
  ['?', 'This list'],
] as const;

export function Shortcuts() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === '?' && !isTyping(event)) setOpen(true);
    };
    addEventListener('keydown', onKey);
    return () => {
      removeEventListener('keydown', onKey);
    };
  }, []);
  return (
    <Dialog
      open={open}
      onClose={() => {
        setOpen(false);
      }}
      aria-labelledby="shortcuts"
    >
      <DialogTitle id="shortcuts">Keys</DialogTitle>
      <DialogContent>
        <dl className={styles.keys}>
          {KEYS.map(([key, what]) => (
            <div key={key} style={{ display: 'contents' }}>
              <dt>
                <kbd>{key}</kbd>
              </dt>
              <dd>{what}</dd>
            </div>
          ))}
        </dl>
      </DialogContent>
    </Dialog>
  );
}
