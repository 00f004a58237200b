import { useEffect, useState } from 'react';
import styles from './Frame.module.css';
import type { SeekDialog } from './CommandPaletteDialog.tsx';

/** Goes anywhere by name: Ctrl K. */
export function CommandPalette() {
  const [open, setOpen] = useState(false);
  // No part of the first screen, and there when it is asked for.
  const [Dialog, setDialog] = useState<typeof SeekDialog | null>(null);
  useEffect(() => {
    const load = async () => {
      const loaded = await import('./CommandPaletteDialog.tsx');
      setDialog(() => loaded.SeekDialog);
    };
    if ('requestIdleCallback' in window) requestIdleCallback(() => void load());
    else void load();
    const onKey = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
        event.preventDefault();
        setOpen(true);
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
        onClick={() => {
          setOpen(true);
        }}
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
