import { TextField } from '@mui/material';
import { useState } from 'react';
import { hrefFault } from './standIns.ts';

interface HrefFieldProps {
  readonly href: string | undefined;
  readonly may: 'page' | 'anything';
  readonly label?: string;
  readonly autoFocus?: boolean;
  readonly hint?: string | undefined;
  /** Told of every address that is right, and undefined when there is none. */
  readonly onChange: (href: string | undefined) => void;
}

/** Where something leads. */
export function HrefField({ href = '', may, label = 'Leads to', autoFocus, hint, onChange }: HrefFieldProps) {
  const [text, setText] = useState(href);
  const fault = text === '' ? null : hrefFault(text, may);
  return (
    <TextField
      label={label}
      value={text}
      placeholder={may === 'anything' ? '/contact?about={product.id}' : '/closed'}
      autoFocus={autoFocus === true}
      error={fault !== null}
      helperText={fault ?? hint}
      onChange={({ target }) => {
        const next = target.value.trim();
        setText(next);
        if (next === '') onChange(undefined);
        else if (hrefFault(next, may) === null) onChange(next);
      }}
    />
  );
}
