import { Button, Checkbox, FormControlLabel, Popover, TextField } from '@mui/material';
import { useState } from 'react';
import type { PreorderGoods } from '#core/contract/preorderCalls.ts';
import { DateTimeField } from '../shared/DateTimeField.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from '../shared/worklist.module.css';
import { shipWords } from './shipWords.ts';
import { usePromise } from './usePromise.ts';
import { useShipDate } from './usePreorders.ts';

interface Props {
  readonly goods: PreorderGoods;
  /** @param promise what became of the promise to new customers, in words; empty for nothing */
  readonly onNotified: (count: number, promise: string) => void;
}

/** Moves the ship date of everybody who waits, notifies them, and changes what new customers are promised. */
export function ShipDate({ goods, onNotified }: Props) {
  const { variant, ships, people } = goods;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [from, setFrom] = useState(ships.from ?? '');
  const [until, setUntil] = useState(ships.until ?? '');
  const [words, setWords] = useState('');
  const move = useShipDate();
  const promise = usePromise(goods);
  const [isPromised, setPromised] = useState(true);
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
          {promise && (
            <FormControlLabel
              control={
                <Checkbox
                  size="small"
                  checked={isPromised}
                  onChange={({ target }) => {
                    setPromised(target.checked);
                  }}
                />
              }
              label={`Promise new customers this date too (now: ${shipWords(promise.now)})`}
            />
          )}
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
                    if (!promise || !isPromised) {
                      onNotified(count, '');
                      return;
                    }
                    const failed = (error: Error) => `New customers are not promised it: ${error.message}`;
                    void promise
                      .change({ from: from || null, until: until || null })
                      .catch(failed)
                      .then((outcome) => {
                        onNotified(count, outcome);
                      });
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
