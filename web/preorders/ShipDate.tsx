import { Button, Popover, TextField } from '@mui/material';
import { useState } from 'react';
import type { PreorderGoods } from '#core/contract/preorderCalls.ts';
import { DateTimeField } from '../shared/DateTimeField.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from '../shared/worklist.module.css';
import { useShipDate } from './usePreorders.ts';

interface Props {
  readonly variant: string;
  readonly ships: PreorderGoods['ships'];
  readonly people: number;
  readonly onNotified: (count: number) => void;
}

/** Moves the ship date of all who wait, and tells them in a few words of the owner's. */
export function ShipDate({ variant, ships, people, onNotified }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [from, setFrom] = useState(ships.from ?? '');
  const [until, setUntil] = useState(ships.until ?? '');
  const [words, setWords] = useState('');
  const move = useShipDate();
  return (
    <>
      <Button
        className={styles.auto ?? ''}
        variant="outlined"
        onClick={({ currentTarget }) => {
          setAnchor(currentTarget);
        }}
      >
        Move the ship date
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        onClose={() => {
          setAnchor(null);
        }}
      >
        <div className={styles.popover} role="dialog" aria-label="Move the ship date">
          <div className={styles.dates}>
            <DateTimeField kind="date" label="From" value={from} onChange={setFrom} clearable />
            <DateTimeField kind="date" label="Until" value={until} onChange={setUntil} clearable />
          </div>
          <TextField
            label="A message to the people waiting"
            multiline
            minRows={3}
            value={words}
            onChange={({ target }) => {
              setWords(target.value);
            }}
          />
          {move.error && <ErrorNote error={move.error} />}
          <Button
            variant="contained"
            loading={move.isPending}
            disabled={from === '' && until === ''}
            onClick={() => {
              move.mutate(
                { variant, from: from || null, until: until || null, words },
                {
                  onSuccess: (count) => {
                    setAnchor(null);
                    onNotified(count);
                  },
                },
              );
            }}
          >
            Move and notify {people === 1 ? 'one person' : `${people} people`}
          </Button>
        </div>
      </Popover>
    </>
  );
}
