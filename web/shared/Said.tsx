import { Snackbar } from '@mui/material';

/** Says for a while what was done; null for nothing. */
export function Said({ words, done }: { readonly words: string | null; readonly done: () => void }) {
  return <Snackbar open={words !== null} message={words} autoHideDuration={6000} onClose={done} />;
}
