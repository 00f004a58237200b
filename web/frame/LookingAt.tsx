import { Button, Popover } from '@mui/material';
import { useState } from 'react';
import type { Zone } from '#core/model/zone.ts';
import { DateTimeField } from '../shared/DateTimeField.tsx';
import { fieldTime, instantOf, momentWords } from '../shared/times.ts';
import styles from './Frame.module.css';
import { useMoment } from '../shared/useMoment.ts';

const DAY = 24 * 60 * 60 * 1000;

/** Moves every preview to another moment. */
export function LookingAt({ zone }: { readonly zone: Zone }) {
  const { moment, isNow, look } = useMoment(zone);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <button
        type="button"
        className={`${styles.pill} ${isNow ? styles.looking : styles.elsewhen}`}
        aria-haspopup="dialog"
        onClick={(event) => {
          setAnchor(event.currentTarget);
        }}
      >
        Looking at: {isNow ? 'now' : momentWords(moment, zone)}
      </button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => {
          setAnchor(null);
        }}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
      >
        <div className={styles.lookingAt} role="dialog" aria-label="The moment to look at">
          <DateTimeField
            kind="moment"
            label={`A moment, ${zone.name} time`}
            value={fieldTime(moment, zone)}
            onChange={(value) => {
              const chosen = instantOf(value, zone);
              if (chosen !== null) look(chosen);
            }}
            autoFocus
          />
          <div>
            {[7, 30, 120].map((days) => (
              <Button
                key={days}
                onClick={() => {
                  look(Date.now() + days * DAY);
                }}
              >
                In {days} days
              </Button>
            ))}
          </div>
          <Button
            variant="contained"
            disabled={isNow}
            onClick={() => {
              look(null);
              setAnchor(null);
            }}
          >
            Back to now
          </Button>
        </div>
      </Popover>
    </>
  );
}
