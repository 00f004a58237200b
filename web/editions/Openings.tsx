import { Button } from '@mui/material';
import { useState } from 'react';
import type { Opening } from '#core/contract/rulebookCalls.ts';
import type { Zone } from '#core/model/zone.ts';
import { Allowed } from '../session/Allowed.tsx';
import { useDraft } from '../draft/useDraft.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { DateTimeField } from '../shared/DateTimeField.tsx';
import { fieldTime, instantOf, momentWords } from '../shared/times.ts';
import styles from './editions.module.css';
import { usePreview } from '../rehearsal/useRehearsal.ts';
import { useOpeningActs, useOpenings } from '../live/useOpenings.ts';

/** Audience of an opening's preview; Rehearsal offers others. */
const GUEST = { name: 'Guest', signedIn: false, roles: [], customer: null, invited: false };

/** Scheduled openings, which can be changed and cancelled. */
export function Openings({ zone, live }: { readonly zone: Zone; readonly live: number }) {
  const openings = useOpenings().data ?? [];
  if (openings.length === 0) return null;
  return (
    <section className={styles.openings} aria-labelledby="openings">
      <h2 id="openings">Scheduled to open</h2>
      <ul>
        {openings.map((opening) => (
          <Row key={`${opening.id} ${opening.at}`} opening={opening} zone={zone} live={live} />
        ))}
      </ul>
    </section>
  );
}

function Row({ opening, zone, live }: { readonly opening: Opening; readonly zone: Zone; readonly live: number }) {
  const { id, at, note, rules, over, setBy, isDraft } = opening;
  const { change, callOff } = useOpeningActs();
  const { flush } = useDraft();
  const [isMoving, setIsMoving] = useState(false);
  const [when, setWhen] = useState(fieldTime(Date.parse(at), zone));
  const instant = instantOf(when, zone);
  const preview = usePreview();
  const error = change.error ?? callOff.error ?? preview.error;
  const moved = (kept: 'kept' | 'draft', to: string) => ({ id, at: to, note: note ?? '', rules: kept });
  return (
    <li>
      <p>
        <b>{momentWords(Date.parse(at), zone)}</b> {note ?? 'No note'}
        <small>
          {rules === 1 ? '1 rule' : `${rules} rules`}, set by {setBy}
          {over !== live && `. Edition ${live} was published since: the opening replaces it`}
          {!isDraft && '. The draft has changed since; what opens is what was set'}
        </small>
      </p>
      <div className={styles.acts}>
        {isMoving ? (
          <>
            <DateTimeField kind="moment" label={`Opens, ${zone.name} time`} value={when} onChange={setWhen} />
            <Button
              variant="contained"
              loading={change.isPending}
              disabled={instant === null}
              onClick={() => {
                if (instant !== null) change.mutate(moved('kept', new Date(instant).toISOString()));
              }}
            >
              Move
            </Button>
            <Button
              onClick={() => {
                setIsMoving(false);
                setWhen(fieldTime(Date.parse(at), zone));
              }}
            >
              Cancel
            </Button>
          </>
        ) : (
          <>
            <Button
              loading={preview.isPending}
              onClick={() => {
                preview.mutate({ page: '/', source: { opening: id }, audience: GUEST, at });
              }}
            >
              Open the shop
            </Button>
            <Allowed permission="publish" quiet>
              <Button
                onClick={() => {
                  setIsMoving(true);
                }}
              >
                Another time
              </Button>
              {!isDraft && (
                <Button
                  loading={change.isPending}
                  onClick={() => {
                    void flush().then(() => {
                      change.mutate(moved('draft', at));
                    });
                  }}
                >
                  Open the draft instead
                </Button>
              )}
              <Button
                color="error"
                loading={callOff.isPending}
                onClick={() => {
                  callOff.mutate(id);
                }}
              >
                Cancel the opening
              </Button>
            </Allowed>
          </>
        )}
      </div>
      {error && <ErrorNote error={error} />}
    </li>
  );
}
