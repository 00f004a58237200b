import { useEffect, useLayoutEffect, useState } from 'react';
import styles from './Frame.module.css';
import type { SeekDialog } from './CommandPaletteDialog.tsx';

/** The dialog is not part of the first screen: it is loaded when the browser is idle, or when it is asked for. */
const load = () => import('./CommandPaletteDialog.tsx');

const NAME = 'Go to a rule, a product or a screen';

/** Goes anywhere by name: Ctrl K. */
export function CommandPalette() {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState('');
  const [Dialog, setDialog] = useState<typeof SeekDialog | null>(null);
  const show = () => {
    setOpen(true);
    setTyped('');
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
      <button type="button" className={styles.key} aria-label={`${NAME} (Ctrl K)`} onClick={show}>
        Ctrl K
      </button>
      {open && !Dialog && (
        // Takes the keys typed before the dialog has loaded, which would otherwise act on the screen behind it.
        <input
          autoFocus
          className={styles.paletteLoading}
          aria-label={NAME}
          placeholder={NAME}
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
          }}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === 'Escape') setOpen(false);
          }}
        />
      )}
      {open && Dialog && (
        <Dialog
          typed={typed}
          close={() => {
            setOpen(false);
          }}
        />
      )}
    </>
  );
}
