import { Button, Dialog, DialogActions, DialogContent, DialogTitle, LinearProgress } from '@mui/material';
import { useState } from 'react';
import type { FactChange } from '#core/contract/ownFactsCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { useMay } from '../session/useMay.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { momentWords } from '../shared/times.ts';
import styles from './bulk.module.css';
import { changeWords } from './FactsDialog.tsx';
import { isUnderWay, useFactActs, useFactChanges } from './useFactChanges.ts';

/** Progress of the newest bulk change, and then its undo. */
export function NewestFactChange() {
  const { data = [] } = useFactChanges();
  const { undo } = useFactActs();
  const mayUndo = useMay('catalog');
  const [opened] = useState(() => Date.now());
  // Show it once rather than on every visit.
  const [seen, setSeen] = useState(() => sessionStorage.getItem(SEEN));
  const [newest] = data;
  if (!newest) return null;
  const isGoing = isUnderWay(newest);
  const isNew = seen !== keyOf(newest) && Date.parse(newest.madeAt) > opened - RECENT_MS;
  if (!isGoing && !isNew) return null;
  return (
    <div className={styles.newest} role="status">
      <span>{stateWords(newest)}</span>
      {isGoing && (
        <LinearProgress
          variant="determinate"
          value={(100 * newest.done) / Math.max(1, newest.products)}
          aria-label="Products changed"
        />
      )}
      <span className={styles.acts}>
        {mayUndo && !newest.isUndoing && (
          <Button
            loading={undo.isPending}
            onClick={() => {
              undo.mutate(newest.id);
            }}
          >
            Undo
          </Button>
        )}
        {!isGoing && (
          <Button
            onClick={() => {
              sessionStorage.setItem(SEEN, keyOf(newest));
              setSeen(keyOf(newest));
            }}
          >
            Close
          </Button>
        )}
      </span>
    </div>
  );
}

/** Opens the list of bulk changes, if there are any. */
export function PastFactChanges({ shop }: { readonly shop: ShopFacts }) {
  const { data = [] } = useFactChanges();
  const [isListing, setListing] = useState(false);
  if (data.length === 0) return null;
  return (
    <>
      <button
        type="button"
        className={styles.all}
        onClick={() => {
          setListing(true);
        }}
      >
        Changes of many products
      </button>
      {isListing && (
        <FactChangesDialog
          changes={data}
          shop={shop}
          onClose={() => {
            setListing(false);
          }}
        />
      )}
    </>
  );
}

/** Age up to which a bulk change is shown unasked. */
const RECENT_MS = 15 * 60_000;

/** Under this name the browser's tab keeps which change was seen. */
const SEEN = 'understudy.change-seen';

const keyOf = ({ id, isUndoing }: FactChange) => `${id} ${isUndoing}`;

function stateWords(change: FactChange): string {
  const { products, done, isUndoing, changes } = change;
  const whose = `${products.toLocaleString('en-GB')} product${products === 1 ? '' : 's'}`;
  const what = changeWords(changes);
  if (isUnderWay(change))
    return `${isUndoing ? 'Taking back' : 'Changing'} ${whose}: ${what} (${isUndoing ? products - done : done} so far)`;
  return isUndoing ? `Undone for ${whose}: ${what}.` : `${whose}: ${what}.`;
}

interface FactChangesDialogProps {
  readonly changes: readonly FactChange[];
  readonly shop: ShopFacts;
  readonly onClose: () => void;
}

function FactChangesDialog({ changes, shop, onClose }: FactChangesDialogProps) {
  const { undo } = useFactActs();
  const mayUndo = useMay('catalog');
  return (
    <Dialog open maxWidth="sm" fullWidth aria-labelledby="changes-title" onClose={onClose}>
      <DialogTitle id="changes-title">Changes of many products</DialogTitle>
      <DialogContent>
        <p className={styles.hint}>
          Of the last thirty days, the newest first. What was changed anew since is not taken back.
        </p>
        {undo.error && <ErrorNote error={undo.error} />}
        <ul className={styles.changes}>
          {changes.map((change) => (
            <li key={change.id}>
              <span>
                {stateWords(change)}
                <small>
                  {change.madeBy}, {momentWords(Date.parse(change.madeAt), shop.zone)}
                </small>
              </span>
              {mayUndo && !change.isUndoing && (
                <Button
                  onClick={() => {
                    undo.mutate(change.id);
                  }}
                >
                  Undo
                </Button>
              )}
            </li>
          ))}
        </ul>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
