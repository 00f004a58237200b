import { Button, MenuItem, TextField } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Product } from '#core/contract/shopCalls.ts';
import { ruleName } from '#core/rulebook/sentence.ts';
import { useDraft } from '../draft/useDraft.ts';
import type { Goods } from '../goods/useGoods.ts';
import { Allowed } from '../session/Allowed.tsx';
import { DateTimeField } from '../shared/DateTimeField.tsx';
import styles from './product.module.css';
import { land, TREATMENTS, type Landed, type Treatment } from './treat.ts';

interface TreatProductProps {
  readonly product: Product;
  readonly title: string;
  readonly goods: Goods;
}

/** Changes one product's treatment without writing a rule from scratch. */
export function TreatProduct({ product, title, goods }: TreatProductProps) {
  const { rulebook, change, undo } = useDraft();
  const [treatment, setTreatment] = useState<Treatment>('preorder');
  const [until, setUntil] = useState('');
  const [landed, setLanded] = useState<Landed | null>(null);
  const { shop, vocabulary } = goods;
  const rule = landed && rulebook?.rules.find(({ id }) => id === landed.rule);
  return (
    <section aria-labelledby="treat-heading">
      <h2 id="treat-heading">Decide for this product</h2>
      <Allowed permission="draft">
        <form
          className={styles.treat}
          onSubmit={(event) => {
            event.preventDefault();
            if (!rulebook) return;
            const home = { locales: shop.locales, dates: vocabulary.dates.map(({ name }) => name) };
            const next = land(rulebook, { product: product.id, title, treatment, until }, home);
            change(next.rulebook);
            setLanded(next);
          }}
        >
          <TextField
            select
            label="What"
            fullWidth={false}
            value={treatment}
            sx={{ width: 200 }}
            onChange={({ target }) => {
              setTreatment(target.value as Treatment);
              setLanded(null);
            }}
          >
            {Object.entries(TREATMENTS).map(([way, { label }]) => (
              <MenuItem key={way} value={way}>
                {label}
              </MenuItem>
            ))}
          </TextField>
          <div className={styles.until}>
            <DateTimeField
              kind="date"
              label="Until (for good if empty)"
              value={until}
              clearable
              onChange={(day) => {
                setUntil(day);
                setLanded(null);
              }}
            />
          </div>
          <Button type="submit" variant="contained" disabled={!rulebook}>
            Add to the draft
          </Button>
        </form>
      </Allowed>
      {landed && rule && (
        <p role="status" className={styles.landed}>
          {landed.isJoined ? 'Added to the rule ' : 'Now in the draft: '}
          <Link to={`/rules/${encodeURIComponent(rule.id)}`}>{ruleName(rule)}</Link>. Not live until you publish it.{' '}
          {undo && (
            <Button
              size="small"
              onClick={() => {
                undo();
                setLanded(null);
              }}
            >
              Undo
            </Button>
          )}
        </p>
      )}
    </section>
  );
}
