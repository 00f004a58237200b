import { Button } from '@mui/material';
import styles from './fields.module.css';

interface ConfirmProps {
  readonly hint: string;
  readonly onRemove: () => void;
}

/** Explains a phrase that is present or absent, with a button to remove it. */
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
