import { Checkbox, FormControlLabel, TextField } from '@mui/material';
import type { SellerTerms } from '#core/contract/sellerCalls.ts';
import { CONTROL_NAMES, RULE_KINDS, type ControlKind } from '#core/controls/controls.ts';
import { aspectOf } from '#core/aspects/aspects.ts';
import { SELLER_ASPECTS, type SellerAspect } from '#core/rulebook/sellers.ts';
import { Choose } from '../shared/Choose.tsx';
import { capital } from '../shared/wording.ts';
import styles from './sellers.module.css';

export type OwnTerms = Pick<SellerTerms, 'allowed' | 'publishing'>;

interface AllowanceFieldsProps<T extends OwnTerms> {
  readonly terms: T;
  readonly onChange: (terms: T) => void;
}

/** Fields for an allowance: controls, other aspects, texts, and the limit of pre-orders. */
export function AllowanceFields<T extends OwnTerms>({ terms, onChange }: AllowanceFieldsProps<T>) {
  const { allowed, publishing } = terms;
  const set = (part: Partial<SellerTerms['allowed']>) => {
    onChange({ ...terms, allowed: { ...allowed, ...part } });
  };
  const toggled = <T,>(list: readonly T[], one: T) =>
    list.includes(one) ? list.filter((other) => other !== one) : [...list, one];
  return (
    <div className={styles.terms}>
      <fieldset>
        <legend>In the button’s place they may put</legend>
        <div className={styles.boxes}>
          {RULE_KINDS.map((kind: ControlKind) => (
            <FormControlLabel
              key={kind}
              label={capital(CONTROL_NAMES[kind])}
              control={
                <Checkbox
                  size="small"
                  checked={allowed.kinds.includes(kind)}
                  onChange={() => {
                    set({ kinds: toggled(allowed.kinds, kind) });
                  }}
                />
              }
            />
          ))}
        </div>
      </fieldset>
      <fieldset>
        <legend>Beside it they may decide</legend>
        <div className={styles.boxes}>
          {SELLER_ASPECTS.map((aspect: SellerAspect) => (
            <FormControlLabel
              key={aspect}
              label={capital(aspectOf(aspect).name.replace(/^the /, ''))}
              control={
                <Checkbox
                  size="small"
                  checked={allowed.aspects.includes(aspect)}
                  onChange={() => {
                    set({ aspects: toggled(allowed.aspects, aspect) });
                  }}
                />
              }
            />
          ))}
          <FormControlLabel
            label="Hiding the price"
            control={
              <Checkbox
                size="small"
                checked={allowed.hidesPrices}
                onChange={({ target }) => {
                  set({ hidesPrices: target.checked });
                }}
              />
            }
          />
        </div>
      </fieldset>
      <div className={styles.terms2}>
        <Choose
          label="Words that shoppers read"
          words={{ own: 'Their own', shop: 'The shop’s: theirs are left out' }}
          value={allowed.ownWords ? 'own' : 'shop'}
          onChange={(whose) => {
            set({ ownWords: whose === 'own' });
          }}
        />
        <TextField
          label="Units of a pre-order at most"
          type="number"
          value={allowed.mostUnits ?? ''}
          placeholder="as many as they say"
          slotProps={{ htmlInput: { min: 1, max: 1_000_000 }, inputLabel: { shrink: true } }}
          onChange={({ target }) => {
            const units = Math.floor(Number(target.value));
            set({ mostUnits: target.value === '' || units < 1 ? null : Math.min(units, 1_000_000) });
          }}
        />
        <Choose
          label="What they publish"
          words={{ asked: 'Needs your approval', atOnce: 'Goes live at once' }}
          value={publishing}
          onChange={(next) => {
            onChange({ ...terms, publishing: next });
          }}
        />
      </div>
    </div>
  );
}
