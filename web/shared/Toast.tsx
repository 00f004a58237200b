import { Button, Snackbar } from '@mui/material';

interface Props {
  /** Null for nothing. */
  readonly words: string | null;
  /** Undoes the action, if possible. */
  readonly undo?: (() => void) | undefined;
  readonly done: () => void;
}

/** Reports an action for a while, longer if it can be undone. */
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
