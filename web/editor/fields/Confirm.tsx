import { Button } from '@mui/material';
import styles from './fields.module.css';

interface ConfirmProps {
  readonly hint: string;
  readonly onRemove: () => void;
}

/** What a phrase means that is either there or not, with the way to take it out. */
export function Confirm({ hint, onRemove }: ConfirmProps) {
  return (
    <div className={styles.editor}>
      <p className={styles.hint}>{hint}</p>
      <footer>
        <Button color="error" autoFocus onClick={onRemove}>
          Remove
        </Button>
      </footer>
    </div>
  );
}
