import { Button, Snackbar } from '@mui/material';

interface Props {
  /** Null for nothing. */
  readonly words: string | null;
  /** Takes back what was done, where it can be. */
  readonly undo?: (() => void) | undefined;
  readonly done: () => void;
}

/** Says for a while what was done. What can be undone stays longer, whatever else is pressed. */
export function Toast({ words, undo, done }: Props) {
  return (
    <Snackbar
      open={words !== null}
      message={words}
      autoHideDuration={undo ? 10_000 : 6000}
      action={
        undo && (
          <Button
            color="inherit"
            onClick={() => {
              undo();
              done();
            }}
          >
            Undo
          </Button>
        )
      }
      onClose={(_event, reason) => {
        if (!undo || reason !== 'clickaway') done();
      }}
    />
  );
}
