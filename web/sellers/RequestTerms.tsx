import { Checkbox, FormControlLabel } from '@mui/material';
import type { SellerTerms } from '#core/contract/sellerCalls.ts';
import { Choose } from '../shared/Choose.tsx';
import styles from './sellers.module.css';

const SENDING = {
  together: 'once all have priced',
  inParts: 'in parts, as each has priced',
} as const;

interface RequestTermsProps {
  readonly terms: SellerTerms;
  readonly onChange: (terms: SellerTerms) => void;
}

/** Fields for requests about sellers' products: recipients, and when a joint quote is sent. */
export function RequestTerms({ terms, onChange }: RequestTermsProps) {
  return (
    <fieldset className={styles.terms}>
      <legend>Requests</legend>
      <FormControlLabel
        label="Tell us too of what a seller is asked"
        control={
          <Checkbox
            size="small"
            checked={terms.copies}
            onChange={({ target }) => {
              onChange({ ...terms, copies: target.checked });
            }}
          />
        }
      />
      <Choose
        label="Send a quote over several sellers’ products"
        words={SENDING}
        value={terms.quotes}
        onChange={(quotes) => {
          onChange({ ...terms, quotes });
        }}
      />
    </fieldset>
  );
}
