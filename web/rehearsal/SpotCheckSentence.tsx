import { Autocomplete, Button, MenuItem, TextField } from '@mui/material';
import { useState } from 'react';
import { CONTROL_NAMES } from '#core/controls/controls.ts';
import type { SpotCheck } from '#core/contract/spotCheckCalls.ts';
import { keptAudience, titleIn, type Goods } from '../goods/useGoods.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { DateTimeField } from '../shared/DateTimeField.tsx';
import { instantOf } from '../shared/times.ts';
import styles from './rehearsal.module.css';
import { useSpotCheckActs } from '../proof/useSpotCheckActs.ts';

type Kind = SpotCheck['expects']['kind'];

/** A spot check edited phrase by phrase: audience, outcome, product, place and time. */
export function SpotCheckSentence({ goods, done }: { readonly goods: Goods; readonly done: () => void }) {
  const { shop, audiences, products } = goods;
  const { keep } = useSpotCheckActs();
  const [who, setWho] = useState(audiences[0]?.name ?? '');
  const [kind, setKind] = useState<Kind>('buy');
  const [label, setLabel] = useState('');
  const [variant, setVariant] = useState<string | null>(null);
  const [surface, setSurface] = useState<SpotCheck['surface']>('product');
  const [at, setAt] = useState('');
  const variants = products.flatMap((product) =>
    product.variants.map(({ id, title }) => ({
      id,
      name: [titleIn(product.title, shop), title].filter(Boolean).join(', '),
    })),
  );
  const visitor = audiences.find(({ name }) => name === who);
  const instant = at === '' ? null : instantOf(at, shop.zone);
  const onKeep = () => {
    if (!visitor || variant === null) return;
    keep.mutate(
      {
        variant,
        surface,
        visitor: keptAudience(visitor),
        at: instant === null ? null : new Date(instant).toISOString(),
        expects: { kind, label: label.trim() || null, priceShown: null },
        blocks: true,
      },
      { onSuccess: done },
    );
  };
  return (
    <form
      className={styles.sentence}
      aria-label="A spot check"
      onSubmit={(event) => {
        event.preventDefault();
        onKeep();
      }}
    >
      <TextField
        select
        label="Who"
        value={who}
        onChange={({ target }) => {
          setWho(target.value);
        }}
      >
        {audiences.map(({ name }) => (
          <MenuItem key={name} value={name}>
            {name}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label="sees"
        value={kind}
        onChange={({ target }) => {
          setKind(target.value as Kind);
        }}
      >
        {Object.entries(CONTROL_NAMES).map(([value, words]) => (
          <MenuItem key={value} value={value}>
            {words}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        label="saying (any words, when empty)"
        value={label}
        onChange={({ target }) => {
          setLabel(target.value);
        }}
      />
      <Autocomplete
        options={variants}
        getOptionLabel={({ name }) => name}
        getOptionKey={({ id }) => id}
        onChange={(_event, chosen) => {
          setVariant(chosen?.id ?? null);
        }}
        renderInput={(params) => <TextField {...params} label="for" required />}
      />
      <TextField
        select
        label="on"
        value={surface}
        onChange={({ target }) => {
          setSurface(target.value as SpotCheck['surface']);
        }}
      >
        <MenuItem value="product">product pages</MenuItem>
        <MenuItem value="listing">listings</MenuItem>
      </TextField>
      <DateTimeField
        kind="moment"
        label={`at (any time, when empty; ${shop.zone.name})`}
        value={at}
        onChange={setAt}
        clearable
      />
      {keep.error && <ErrorNote error={keep.error} />}
      <div className={styles.acts}>
        <Button type="submit" variant="contained" loading={keep.isPending} disabled={variant === null}>
          Keep this spot check
        </Button>
        <Button onClick={done}>Cancel</Button>
      </div>
    </form>
  );
}
