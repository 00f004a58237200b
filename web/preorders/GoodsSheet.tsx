import { Button, TextField } from '@mui/material';
import { useState } from 'react';
import type { Preorder, PreorderGoods } from '#core/contract/preorderCalls.ts';
import { isAllowed, type CommandOf } from '#core/requests/machine.ts';
import { preorder as lifecycle, type PreorderState } from '#core/requests/preorder.ts';
import { CommandButton } from '../requests/CommandButton.tsx';
import type { ShopFacts } from '#core/model/subject.ts';
import { formatPrice } from '#core/texts/prices.ts';
import { Allowed } from '../session/Allowed.tsx';
import { ChoosingTable, ListFilters, PickCell, useChoice } from '../shared/SelectableTable.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import lists from '../shared/lists.module.css';
import { Toast } from '../shared/Toast.tsx';
import { momentWords } from '../shared/times.ts';
import { useFilters, queryText } from '../shared/useFilters.ts';
import styles from '../shared/worklist.module.css';
import { ShipDate } from './ShipDate.tsx';
import { shipWords, takenWords } from './shipWords.ts';
import { useAllocate, useAllocationPreview, useMove, usePreorders } from './usePreorders.ts';

const STATE_NAMES: Readonly<Record<PreorderState, string>> = {
  reserved: 'reserved',
  allocated: 'allocated',
  fulfilled: 'sent',
  cancelled: 'cancelled',
};
const COLUMNS = [
  { name: 'Who' },
  { name: 'Order' },
  { name: 'Units', isNumber: true },
  { name: 'Each', isNumber: true },
  { name: 'State' },
  { name: 'Ships' },
  { name: 'Reserved' },
] as const;

/** Reservations of one variant, and actions for them. */
export function GoodsSheet({ goods, shop }: { readonly goods: PreorderGoods; readonly shop: ShopFacts }) {
  const { variant, title, reserved, allocated, cap, stock, free, ships, people } = goods;
  const filters = useFilters();
  const [search] = filters;
  const state = search.get('state') ?? '';
  const find = search.get('search') ?? '';
  const query = { variant, ...(state && { state }), ...(find && { search: find }) };
  const preorders = usePreorders(query);
  const [units, setUnits] = useState(free);
  const choice = useChoice(preorders.items);
  const { chosen } = choice;
  const [isLooking, setLooking] = useState(false);
  const [message, setMessage] = useState<{ words: string; undo?: () => void } | null>(null);
  const allowing = (command: CommandOf<typeof lifecycle>) =>
    chosen.filter(({ state }) => isAllowed(lifecycle, state, command, 'owner'));
  const first = allowing('allocate').map(({ id }) => id);
  const preview = useAllocationPreview({ variant, units, first }, isLooking);
  const allocate = useAllocate();
  const move = useMove();
  const served = new Set(isLooking ? preview.data?.served : []);

  const moveChosen = (command: 'fulfil' | 'cancel', words: string) => {
    const [to = 'reserved'] = lifecycle.transitions[command].to;
    const picked = allowing(command);
    if (to === 'same') return;
    move.mutate(
      { preorders: picked.map(({ id }) => id), to, notify: true },
      {
        onSuccess: (moved) => {
          choice.clear();
          const undo = () => {
            for (const before of new Set(picked.map(({ state }) => state))) {
              const ids = picked.filter(({ state }) => state === before).map(({ id }) => id);
              move.mutate({ preorders: ids, to: before, notify: false });
            }
          };
          setMessage({ words: `${moved} ${words}.`, ...(moved > 0 ? { undo } : {}) });
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
          {takenWords(reserved + allocated, cap)} reserved, {allocated} of them allocated; {shipWords(ships)}
          {stock !== null && `; ${stock} in stock`}
        </p>
      </header>
      <Allowed permission="requests">
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
                  choice.clear();
                  setMessage({
                    words: `Allocated for ${ids.length === 1 ? 'one person' : `${ids.length} people`}, who have been notified.`,
                  });
                },
              },
            );
          }}
        >
          <span>Allocate</span>
          <TextField
            type="number"
            value={units}
            onChange={({ target }) => {
              setUnits(Math.max(0, Math.floor(Number(target.value))));
            }}
            slotProps={{ htmlInput: { min: 0, 'aria-label': 'Units to allocate' } }}
            sx={{ width: 84 }}
          />
          <span>
            units, first come, first served
            {first.length > 0 && (first.length === 1 ? ', the chosen one first' : `, the ${first.length} chosen first`)}
          </span>
          {isLooking && preview.data && (
            <b role="status">
              serves {preview.data.served.length} of {people}, leaves {preview.data.left}
            </b>
          )}
          <Button type="submit" variant="contained" loading={allocate.isPending} disabled={units === 0 || people === 0}>
            {isLooking ? 'Allocate and notify' : 'Preview'}
          </Button>
          {isLooking && (
            <Button
              variant="outlined"
              onClick={() => {
                setLooking(false);
              }}
            >
              Cancel
            </Button>
          )}
          <ShipDate
            goods={goods}
            onNotified={(count, promise) => {
              const notified = count === 1 ? 'one person was notified' : `${count} people were notified`;
              setMessage({ words: [`The ship date has moved, and ${notified}.`, promise].filter(Boolean).join(' ') });
            }}
          />
        </form>
      </Allowed>
      {error && <ErrorNote error={error} />}
      <ListFilters
        filters={filters}
        label="Find a reservation"
        placeholder="Search by person or order"
        states={STATE_NAMES}
        file={`/api/preorders.csv?${queryText(query)}`}
      />
      {chosen.length > 0 && (
        <Allowed permission="requests" quiet>
          <div className={styles.acts} role="group" aria-label="With the selected">
            <span>{chosen.length} chosen</span>
            <CommandButton
              variant="contained"
              label="Mark as sent"
              reason={lifecycle.transitions.fulfil.otherwise}
              fitting={allowing('fulfil').length}
              of={chosen.length}
              give={() => {
                moveChosen('fulfil', 'marked as sent');
              }}
            />
            <CommandButton
              label="Cancel and notify"
              reason={lifecycle.transitions.cancel.otherwise}
              fitting={allowing('cancel').length}
              of={chosen.length}
              give={() => {
                moveChosen('cancel', 'cancelled and notified');
              }}
            />
          </div>
        </Allowed>
      )}
      <ChoosingTable
        pages={preorders}
        choice={choice}
        columns={COLUMNS}
        empty="No reservations match. Remove a filter."
        row={(preorder, isPicked, pick) => (
          <Row
            key={preorder.id}
            preorder={preorder}
            shop={shop}
            isServed={served.has(preorder.id)}
            isPicked={isPicked}
            pick={pick}
          />
        )}
      />
      <Toast
        words={message?.words ?? null}
        undo={message?.undo}
        done={() => {
          setMessage(null);
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

function Row({ preorder, shop, isServed, isPicked, pick }: RowProps) {
  const { name, email, customer, order, units, unitPrice, state, ships, createdAt } = preorder;
  const who = name ?? email ?? customer ?? 'somebody';
  return (
    <tr className={isServed ? styles.served : undefined}>
      <PickCell name={who} isPicked={isPicked} pick={pick} />
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
