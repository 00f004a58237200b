import type { PopperProps } from '@mui/material';
import type { KeyboardEvent } from 'react';
import styles from './fields.module.css';

/**
 * Suggestions that stand below their field, in the popover itself, so that they cover nothing of it. They stay open: where
 * they closed as the field is left, what is being pressed below would move away.
 */
export function InPlace({ open, children }: Pick<PopperProps, 'open' | 'children'>) {
  return open && typeof children !== 'function' ? <div className={styles.suggestions}>{children}</div> : null;
}

/** Escape closes the popover at once: its suggestions are no layer of their own. */
export function closesAtOnce(event: KeyboardEvent & { defaultMuiPrevented?: boolean | undefined }): void {
  if (event.key === 'Escape') event.defaultMuiPrevented = true;
}

/** Name of the list, different from its field's. */
export const SUGGESTIONS = { 'aria-label': 'Suggestions', 'aria-labelledby': undefined };
