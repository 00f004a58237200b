import { Button, FormControlLabel, IconButton, Skeleton, Switch } from '@mui/material';
import { X } from 'lucide-react';
import { useState } from 'react';
import type { CheckedSpot, SpotCheck } from '#core/contract/spotCheckCalls.ts';
import { shownOutcomeText } from '#core/analysis/spotCheck.ts';
import { useMay } from '../session/useMay.ts';
import { Allowed } from '../session/Allowed.tsx';
import type { Goods } from '../goods/useGoods.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import styles from './rehearsal.module.css';
import { SpotCheckSentence } from './SpotCheckSentence.tsx';
import { useSpotChecks } from './useRehearsal.ts';
import { useSpotCheckActs } from '../proof/useSpotCheckActs.ts';

/** Spot checks, which every draft is tested against. */
export function SpotChecks({ goods }: { readonly goods: Goods }) {
  const { data, error, isFetching, refetch } = useSpotChecks();
  const { keep, remove } = useSpotCheckActs();
  const mayChange = useMay('draft');
  const [isWriting, setIsWriting] = useState(false);
  const [gone, setGone] = useState<CheckedSpot | null>(null);
  if (error) return <LoadFailed error={error} retry={() => void refetch()} />;
  const checks = [...(data?.checks ?? [])].sort((a, b) => Number(a.passes) - Number(b.passes));
  return (
    <section className={styles.panel} aria-labelledby="spot-checks" aria-busy={isFetching}>
      <h2 id="spot-checks">
        Spot checks{' '}
        {data && data.checks.length > 0 && (
          <span className={styles.number}>
            {data.failing === 0 ? `${data.checks.length} hold` : `${data.failing} of ${data.checks.length} fail`}
          </span>
        )}
      </h2>
      {!data ? (
        <Skeleton variant="rounded" height={48} />
      ) : (
        checks.length === 0 && (
          <p className={styles.quiet}>
            No spot checks yet. Open a cell and keep what it shows, or write one. Each is checked again at every change.
          </p>
        )
      )}
      <Allowed permission="draft" quiet>
        <ul className={styles.checks}>
          {checks.map((check) => (
            <Check
              key={check.id}
              check={check}
              onForget={() => {
                // Shown here because the check's row is gone by then.
                remove.mutate(check.id, {
                  onSuccess: () => {
                    setGone(check);
                  },
                });
              }}
            />
          ))}
        </ul>
      </Allowed>
      {gone && (
        <p className={styles.quiet} role="status">
          Deleted: {gone.sentence}{' '}
          <Button
            size="small"
            onClick={() => {
              keep.mutate(bare(gone));
              setGone(null);
            }}
          >
            Undo
          </Button>
        </p>
      )}
      {isWriting ? (
        <SpotCheckSentence
          goods={goods}
          done={() => {
            setIsWriting(false);
          }}
        />
      ) : (
        mayChange && (
          <div>
            <Button
              size="small"
              variant="outlined"
              onClick={() => {
                setIsWriting(true);
              }}
            >
              Write a spot check
            </Button>
          </div>
        )
      )}
    </section>
  );
}

const bare = ({ variant, surface, visitor, at, expects, blocks }: CheckedSpot): SpotCheck => ({
  variant,
  surface,
  visitor,
  at,
  expects,
  blocks,
});

function Check({ check, onForget }: { readonly check: CheckedSpot; readonly onForget: () => void }) {
  const { change } = useSpotCheckActs();
  const { id, sentence, passes, seen, blocks } = check;
  return (
    <li className={passes ? styles.holds : styles.fails}>
      <p>
        <b>{passes ? 'Holds.' : 'Fails.'}</b> {sentence}
        {!passes && (
          <span className={styles.instead}>
            {seen ? `By the draft: ${shownOutcomeText(seen)}.` : 'The product is no longer in the catalog.'}
          </span>
        )}
      </p>
      <FormControlLabel
        control={
          <Switch
            size="small"
            checked={change.isPending ? change.variables.check.blocks : blocks}
            onChange={({ target }) => {
              change.mutate({ id, check: { ...bare(check), blocks: target.checked } });
            }}
          />
        }
        label="Must hold to publish"
      />
      <IconButton size="small" aria-label={`Delete: ${sentence}`} onClick={onForget}>
        <X size={16} />
      </IconButton>
    </li>
  );
}
