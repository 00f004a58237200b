import { Button } from '@mui/material';
import styles from './editors.module.css';

interface StopHereProps {
  readonly stopHere: boolean;
  readonly onChange: (stopHere: boolean) => void;
}

/** Whether a rule closes the running order where it counts. */
export function StopHere({ stopHere, onChange }: StopHereProps) {
  return (
    <div className={styles.editor}>
      <p className={styles.hint}>
        Where this rule counts, the rules below it are not heard: what it leaves unsaid is the shop’s own.
      </p>
      <footer>
        {stopHere ? (
          <Button
            color="error"
            autoFocus
            onClick={() => {
              onChange(false);
            }}
          >
            Take this out
          </Button>
        ) : (
          <Button
            variant="contained"
            autoFocus
            onClick={() => {
              onChange(true);
            }}
          >
            Stop here
          </Button>
        )}
      </footer>
    </div>
  );
}
