import { useEffect, useLayoutEffect, useState } from 'react';
import styles from './Frame.module.css';
import type { SeekDialog } from './CommandPaletteDialog.tsx';

/** The dialog is not part of the first screen: it is loaded when the browser is idle, or when it is asked for. */
const load = () => import('./CommandPaletteDialog.tsx');

/** Goes anywhere by name: Ctrl K. */
export function CommandPalette() {
  const [open, setOpen] = useState(false);
  const [Dialog, setDialog] = useState<typeof SeekDialog | null>(null);
  const show = () => {
    setOpen(true);
    load().then(
      ({ SeekDialog }) => {
        setDialog(() => SeekDialog);
      },
      // The next press tries again.
      () => {
        setOpen(false);
      },
    );
  };
  useEffect(() => {
    if ('requestIdleCallback' in window) requestIdleCallback(() => void load().catch(() => undefined));
  }, []);
  // Before the screen is painted, so that no press is lost.
  useLayoutEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
        event.preventDefault();
        show();
      }
    };
    addEventListener('keydown', onKey);
    return () => {
      removeEventListener('keydown', onKey);
    };
  }, []);
  return (
    <>
      <button
        type="button"
        className={styles.key}
        aria-label="Go to a rule, a product or a screen (Ctrl K)"
        onClick={show}
      >
        Ctrl K
      </button>
      {open && Dialog && (
        <Dialog
          close={() => {
            setOpen(false);
          }}
        />
      )}
    </>
  );
}
