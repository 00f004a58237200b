import { Button, Checkbox, Skeleton, Snackbar, TextField } from '@mui/material';
import { useState } from 'react';
import {
  PREORDER_STATES,
  type Preorder,
  type PreorderGoods,
  type PreorderState,
} from '#core/contract/preorderCalls.ts';
import type { ShopFacts } from '#core/decide/subject.ts';
import { formatPrice } from '#core/texts/placeholders.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import lists from '../shared/lists.module.css';
import { FindField, MoreButton } from '../shared/pages.tsx';
import { momentWords } from '../shared/times.ts';
import { useFilters } from '../shared/useFilters.ts';
import styles from '../shared/worklist.module.css';
import { ShipDate } from './ShipDate.tsx';
import { shipWords } from './shipWords.ts';
import { useAllocate, useAllocationPreview, useMove, usePreorders } from './usePreorders.ts';

const NONE: ReadonlySet<string> = new Set();

/** The reservations of one variant, and what can be done for them. */
export function GoodsSheet({ goods, shop }: { readonly goods: PreorderGoods; readonly shop: ShopFacts }) {
  const { variant, title, reserved, allocated, cap, stock, free, ships, people } = goods;
  const [search, set] = useFilters();
  const state = search.get('state') ?? '';
  const find = search.get('search') ?? '';
  const query = new URLSearchParams({ variant, ...(state && { state }), ...(find && { search: find }) }).toString();
  const preorders = usePreorders(query);
  const [units, setUnits] = useState(free);
  const [picked, setPicked] = useState(NONE);
  const [isLooking, setLooking] = useState(false);
  const [said, setSaid] = useState<{ words: string; undo?: () => void } | null>(null);
  const first = preorders.items.filter(({ id, state }) => picked.has(id) && state === 'reserved').map(({ id }) => id);
  const preview = useAllocationPreview({ variant, units, first }, isLooking);
  const allocate = useAllocate();
  const move = useMove();
  const served = new Set(isLooking ? preview.data?.served : []);
  const chosen = preorders.items.filter(({ id }) => picked.has(id));

  const moveChosen = (to: PreorderState, words: string) => {
    const ids = chosen.map(({ id }) => id);
    const back = new Set(chosen.map(({ state }) => state));
    const [only] = back;
    move.mutate(
      { preorders: ids, to, tell: true },
      {
        onSuccess: (moved) => {
          setPicked(NONE);
          const undo = () => {
            if (only) move.mutate({ preorders: ids, to: only, tell: false });
          };
          setSaid({ words: `${moved} ${words}.`, ...(back.size === 1 && moved > 0 ? { undo } : {}) });
        },
      },
    );
  };
  const error = allocate.error ?? move.error ?? preview.error;
  return (
    <section className={lists.main} aria-label={title} aria-busy={preorders.isPending}>
      <header className={styles.head}>
        <h2>{title}</h2>
        <p className={lists.none}>
          {reserved + allocated} of {cap ?? 'any number of'} units reserved, {allocated} of them set aside;{' '}
          {shipWords(ships)}
          {stock !== null && `; ${stock} in stock`}
        </p>
      </header>
      <form
        className={styles.invite}
        onSubmit={(event) => {
          event.preventDefault();
          if (!isLooking) {
            setLooking(true);
            return;
          }
          allocate.mutate(
            { variant, units, first },
            {
              onSuccess: ({ served: ids }) => {
                setLooking(false);
                setPicked(NONE);
                setSaid({
                  words: `Set aside for ${ids.length === 1 ? 'one person' : `${ids.length} people`}, who were told.`,
                });
              },
            },
          );
        }}
      >
        <span>Set aside</span>
        <TextField
          type="number"
          value={units}
          onChange={({ target }) => {
            setUnits(Math.max(0, Math.floor(Number(target.value))));
          }}
          slotProps={{ htmlInput: { min: 0, 'aria-label': 'Units to set aside' } }}
          sx={{ width: 84 }}
        />
        <span>
          units, first come, first served{first.length > 0 && `, the ${first.length} chosen before all others`}
        </span>
        {isLooking && preview.data && (
          <b role="status">
            serves {preview.data.served.length} of {people}, leaves {preview.data.left}
          </b>
        )}
        <Button type="submit" variant="contained" loading={allocate.isPending} disabled={units === 0 || people === 0}>
          {isLooking ? 'Set aside and tell them' : 'See whom that serves'}
        </Button>
        {isLooking && (
          <Button
            variant="outlined"
            onClick={() => {
              setLooking(false);
            }}
          >
            Leave it
          </Button>
        )}
        <ShipDate
          variant={variant}
          ships={ships}
          people={people}
          told={(count) => {
            setSaid({ words: `The date has moved, and ${count} were told.` });
          }}
        />
      </form>
      {error && <ErrorNote error={error} />}
      <div className={styles.filters}>
        <FindField
          className={lists.search}
          label="Find a reservation"
          placeholder="Find by person or order"
          search={search}
          set={set}
        />
        {PREORDER_STATES.map((name) => (
          <button
            key={name}
            type="button"
            className={styles.state}
            aria-pressed={state === name}
            onClick={() => {
              set('state', state === name ? null : name);
            }}
          >
            {name === 'allocated' ? 'set aside' : name === 'fulfilled' ? 'sent' : name}
          </button>
        ))}
        <a className={styles.file} href={`/api/preorders.csv?${query}`} download>
          Take away as CSV
        </a>
      </div>
      {picked.size > 0 && (
        <div className={styles.acts} role="group" aria-label="For those chosen">
          <span>{picked.size} chosen</span>
          <Button
            variant="contained"
            onClick={() => {
              moveChosen('fulfilled', 'marked as sent');
            }}
          >
            Mark as sent
          </Button>
          <Button
            variant="outlined"
            onClick={() => {
              moveChosen('cancelled', 'cancelled and told');
            }}
          >
            Cancel and tell them
          </Button>
        </div>
      )}
      {preorders.error ? (
        <LoadFailed error={preorders.error} retry={() => void preorders.refetch()} />
      ) : preorders.isPending ? (
        [1, 2, 3, 4].map((row) => <Skeleton key={row} variant="rounded" height={36} sx={{ mb: 1 }} />)
      ) : preorders.items.length === 0 ? (
        <p className={lists.empty}>No reservation fits. Take a filter off.</p>
      ) : (
        <table className={styles.table}>
          <thead>
            <tr>
              <th scope="col">
                <Checkbox
                  size="small"
                  checked={picked.size > 0 && chosen.length === preorders.items.length}
                  indeterminate={picked.size > 0 && chosen.length < preorders.items.length}
                  onChange={({ target }) => {
                    setPicked(target.checked ? new Set(preorders.items.map(({ id }) => id)) : NONE);
                  }}
                  slotProps={{ input: { 'aria-label': 'Choose all that are shown' } }}
                />
              </th>
              <th scope="col">Who</th>
              <th scope="col">Order</th>
              <th scope="col" className={styles.number}>
                Units
              </th>
              <th scope="col" className={styles.number}>
                Each
              </th>
              <th scope="col">State</th>
              <th scope="col">Ships</th>
              <th scope="col">Reserved</th>
            </tr>
          </thead>
          <tbody>
            {preorders.items.map((preorder) => (
              <Row
                key={preorder.id}
                preorder={preorder}
                shop={shop}
                isServed={served.has(preorder.id)}
                isPicked={picked.has(preorder.id)}
                pick={(isPicked) => {
                  const now = new Set(picked);
                  if (isPicked) now.add(preorder.id);
                  else now.delete(preorder.id);
                  setPicked(now);
                }}
              />
            ))}
          </tbody>
        </table>
      )}
      <MoreButton pages={preorders} />
      <Snackbar
        open={said !== null}
        autoHideDuration={10_000}
        message={said?.words}
        action={
          said?.undo && (
            <Button
              color="inherit"
              onClick={() => {
                said.undo?.();
                setSaid(null);
              }}
            >
              Undo
            </Button>
          )
        }
        onClose={(_event, reason) => {
          if (reason !== 'clickaway') setSaid(null);
        }}
      />
    </section>
  );
}

interface RowProps {
  readonly preorder: Preorder;
  readonly shop: ShopFacts;
  readonly isServed: boolean;
  readonly isPicked: boolean;
  readonly pick: (isPicked: boolean) => void;
}

const STATE_NAMES: Readonly<Record<PreorderState, string>> = {
  reserved: 'reserved',
  allocated: 'set aside',
  fulfilled: 'sent',
  cancelled: 'cancelled',
};

function Row({ preorder, shop, isServed, isPicked, pick }: RowProps) {
  const { name, email, customer, order, units, unitPrice, state, ships, createdAt } = preorder;
  const who = name ?? email ?? customer ?? 'somebody';
  return (
    <tr className={isServed ? styles.served : undefined}>
      <td>
        <Checkbox
          size="small"
          checked={isPicked}
          onChange={({ target }) => {
            pick(target.checked);
          }}
          slotProps={{ input: { 'aria-label': `Choose ${who}` } }}
        />
      </td>
      <th scope="row">
        {who}
        <small>{[name === null ? null : email, customer].filter(Boolean).join(' · ')}</small>
      </th>
      <td className={styles.day}>{order}</td>
      <td className={styles.number}>{units}</td>
      <td className={styles.number}>{unitPrice === null ? '' : formatPrice(unitPrice, shop, 'en')}</td>
      <td>
        <span className={styles[state]}>{STATE_NAMES[state]}</span>
      </td>
      <td className={styles.day}>{shipWords(ships).replace('ships ', '')}</td>
      <td className={styles.day}>{momentWords(Date.parse(createdAt), shop.zone)}</td>
    </tr>
  );
}
