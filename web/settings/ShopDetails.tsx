import { Button, MenuItem, Skeleton, TextField } from '@mui/material';
import { useState } from 'react';
import { TRACKING, type ShopDetails as Details } from '#core/contract/shopDetails.ts';
import { dateName } from '#core/texts/dateName.ts';
import { useGoods, type Goods } from '../goods/useGoods.ts';
import { Allowed } from '../session/Allowed.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { NamesTable } from './NamesTable.tsx';
import styles from './settings.module.css';
import { useDetails, useSaveDetails } from './useDetails.ts';

const TRACKING_WORDS: Readonly<Record<(typeof TRACKING)[number], string>> = {
  whereCounted: 'Tracked where the file gives a quantity',
  always: 'Always tracked',
  never: 'Not tracked',
};

const KEPT = {
  messages: { label: 'Messages', help: 'Then they are deleted, sent and failed ones alike' },
  requests: { label: 'Requests that are over', help: 'Then who waited, asked or reserved is forgotten' },
  record: { label: 'The record', help: 'Then its entries are deleted' },
  counts: { label: 'What Insights counts', help: 'Then the numbers of older days are forgotten' },
} as const;
const DAYS = { '': 'for good', 90: '90 days', 365: 'a year', 730: 'two years', 1825: 'five years' } as const;

/** The shop's address, where shoppers sign in, names of roles and dates, payment methods, stock, and retention. */
export function ShopDetails() {
  const details = useDetails();
  const goods = useGoods();
  const error = details.error ?? goods.error;
  if (error) return <LoadFailed error={error} retry={() => void details.refetch()} />;
  if (!details.data || !goods.data) return <Skeleton variant="rounded" height={220} />;
  return (
    <Allowed permission="settings">
      <Form key={JSON.stringify(details.data)} saved={details.data} vocabulary={goods.data.vocabulary} />
    </Allowed>
  );
}

interface FormProps {
  readonly saved: Details;
  readonly vocabulary: Goods['vocabulary'];
}

function Form({ saved, vocabulary }: FormProps) {
  const [details, setDetails] = useState(saved);
  const save = useSaveDetails();
  const isChanged = JSON.stringify(details) !== JSON.stringify(saved);
  const set = (changed: Partial<Details>) => {
    setDetails({ ...details, ...changed });
  };
  const methods = [...new Set([...vocabulary.paymentMethods, ...details.paymentMethods].map(({ code }) => code))];
  const namesOfMethods = Object.fromEntries(details.paymentMethods.map(({ code, name }) => [code, name]));
  const foundName = (code: string) => vocabulary.paymentMethods.find((method) => method.code === code)?.name ?? '';
  return (
    <form
      className={styles.details}
      onSubmit={(event) => {
        event.preventDefault();
        const [address, signInAt] = [details.address?.trim() || null, details.signInAt?.trim() || null];
        save.mutate({ ...details, address, signInAt });
      }}
    >
      <section aria-labelledby="address-heading">
        <h2 id="address-heading">Address</h2>
        <TextField
          label="Address"
          multiline
          minRows={3}
          fullWidth
          helperText="Below every letter, as many countries’ laws ask"
          value={details.address ?? ''}
          slotProps={{ htmlInput: { maxLength: 500 } }}
          onChange={({ target }) => {
            set({ address: target.value });
          }}
        />
      </section>
      <section aria-labelledby="sign-in-heading">
        <h2 id="sign-in-heading">Signing in</h2>
        <TextField
          label="Where shoppers sign in"
          fullWidth
          placeholder="/sign-in?back={product.path}"
          helperText="Where a waitlist asks for an account and its rule does not say where"
          value={details.signInAt ?? ''}
          slotProps={{ htmlInput: { maxLength: 2000 } }}
          onChange={({ target }) => {
            set({ signInAt: target.value });
          }}
        />
      </section>
      <NamesTable
        title="What roles are called"
        what="role"
        codes={vocabulary.roles.map(({ name }) => name)}
        names={details.roles}
        change={(roles) => {
          set({ roles });
        }}
      />
      <NamesTable
        title="What dates are called"
        what="date"
        codes={vocabulary.dates.map(({ name }) => name)}
        names={details.dates}
        usual={(code) => dateName(code)}
        change={(dates) => {
          set({ dates });
        }}
      />
      <NamesTable
        title="Payment methods"
        what="payment method"
        codes={methods}
        names={namesOfMethods}
        usual={foundName}
        change={(names) => {
          set({ paymentMethods: Object.entries(names).map(([code, name]) => ({ code, name })) });
        }}
      />
      <section aria-labelledby="stock-heading">
        <h2 id="stock-heading">Stock</h2>
        <TextField
          select
          fullWidth
          label="New variants whose file does not say"
          value={details.tracking}
          onChange={({ target }) => {
            set({ tracking: TRACKING.find((way) => way === target.value) ?? details.tracking });
          }}
        >
          {TRACKING.map((way) => (
            <MenuItem key={way} value={way}>
              {TRACKING_WORDS[way]}
            </MenuItem>
          ))}
        </TextField>
      </section>
      <section aria-labelledby="outage-heading">
        <h2 id="outage-heading">When the database cannot be reached</h2>
        <TextField
          select
          fullWidth
          label="Pages keep showing the last known buttons"
          helperText="Nothing can be bought meanwhile: the guard refuses every cart until the database is back."
          value={details.outageMinutes}
          onChange={({ target }) => {
            set({ outageMinutes: Number(target.value) });
          }}
        >
          {[...new Set([0, 1, 5, 15, 60, details.outageMinutes])]
            .sort((a, b) => a - b)
            .map((minutes) => (
              <MenuItem key={minutes} value={minutes}>
                {minutes === 0 ? 'not at all' : minutes === 1 ? 'for 1 minute' : `for ${minutes} minutes`}
              </MenuItem>
            ))}
        </TextField>
      </section>
      <section aria-labelledby="keep-heading">
        <h2 id="keep-heading">How long things are kept</h2>
        {Object.entries(KEPT).map(([what, { label, help }]) => {
          const days = details.keep[what as keyof Details['keep']];
          return (
            <TextField
              key={what}
              select
              fullWidth
              label={label}
              helperText={days === null ? undefined : help}
              sx={{ mb: 1.75 }}
              value={days === null ? '' : String(days)}
              slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
              onChange={({ target }) => {
                const kept = target.value === '' ? null : Number(target.value);
                set({ keep: { ...details.keep, [what]: kept } });
              }}
            >
              {Object.entries({ ...DAYS, ...(days === null ? {} : { [days]: `${days} days`, ...DAYS }) }).map(
                ([value, words]) => (
                  <MenuItem key={value} value={value}>
                    {words}
                  </MenuItem>
                ),
              )}
            </TextField>
          );
        })}
      </section>
      {save.error && <ErrorNote error={save.error} />}
      <div className={styles.row}>
        <Button type="submit" variant="contained" disabled={!isChanged} loading={save.isPending}>
          Save
        </Button>
        {isChanged && (
          <Button
            onClick={() => {
              setDetails(saved);
            }}
          >
            Discard
          </Button>
        )}
      </div>
    </form>
  );
}
