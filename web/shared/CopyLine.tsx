import { Button } from '@mui/material';
import { useState } from 'react';
import styles from './shared.module.css';

/** A line to take elsewhere. */
export function CopyLine({
  text,
  shown = text,
  label,
}: {
  readonly text: string;
  readonly shown?: string;
  readonly label: string;
}) {
  const [copied, setCopied] = useState(false);
  const copy = async () => {
    await navigator.clipboard.writeText(text);
    setCopied(true);
  };
  return (
    <div className={styles.copy}>
      <code>{shown}</code>
      <Button
        variant="outlined"
        aria-label={`Copy ${label}`}
        onClick={() => void copy()}
        onBlur={() => {
          setCopied(false);
        }}
      >
        {copied ? 'Copied' : 'Copy'}
      </Button>
    </div>
  );
}
