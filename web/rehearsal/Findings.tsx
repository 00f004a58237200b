import { Button, Skeleton } from '@mui/material';
import { Link, useSearchParams } from 'react-router';
import type { FindingReply } from '#core/contract/rehearsalCalls.ts';
import type { Zone } from '#core/model/zone.ts';
import { withMoment } from '../shared/useMoment.ts';
import { useDraft } from '../draft/useDraft.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { Progress } from '../shared/Progress.tsx';
import { fieldTime, momentWords } from '../shared/times.ts';
import styles from './rehearsal.module.css';
import { mended, useFindings } from './useRehearsal.ts';

const SEVERITIES = { fault: 'Fault', warning: 'Check', note: 'Note' } as const;

/** What the owner should see in the draft, each with a case in which it shows and, where there is one, what mends it. */
export function Findings({
  zone,
  isReview = false,
}: {
  readonly zone: Zone;
  /** Only what matters before publishing: notes are left out, but for what a closure makes idle. */
  readonly isReview?: boolean;
}) {
  const findings = useFindings();
  const { data, error, isFetching, refetch } = findings;
  if (error) return <LoadFailed error={error} retry={() => void refetch()} />;
  const found = data?.findings.filter(({ severity, kind }) => !isReview || severity !== 'note' || kind === 'idle');
  return (
    <section className={styles.panel} aria-labelledby="findings" aria-busy={isFetching}>
      <h2 id="findings">
        Findings {found && found.length > 0 && <span className={styles.number}>{found.length}</span>}
      </h2>
      <Progress question={findings} />
      {!found ? (
        !findings.isGivenUp && <Skeleton variant="rounded" height={64} />
      ) : found.length === 0 ? (
        <p className={styles.quiet}>No problems found in the draft.</p>
      ) : (
        <ul className={styles.findings}>
          {found.map((finding) => (
            <Finding key={`${finding.kind} ${finding.rule} ${finding.text}`} finding={finding} zone={zone} />
          ))}
        </ul>
      )}
      {data && data.looked < data.of && (
        <p className={styles.quiet}>
          Checked {data.looked} of {data.of} products in the time available; for the others only names were checked.
        </p>
      )}
    </section>
  );
}

function Finding({ finding, zone }: { readonly finding: FindingReply; readonly zone: Zone }) {
  const { severity, text, rule, witness, mend } = finding;
  const { rulebook, change } = useDraft();
  const [search] = useSearchParams();
  return (
    <li className={styles[severity]}>
      <p>
        <b>{SEVERITIES[severity]}.</b> {text}
      </p>
      <p className={styles.witness}>
        <Link to={withMoment(`/rules/${encodeURIComponent(rule)}`, search)}>Open the rule</Link>
        {witness && (
          <Link to={whyOf(witness, zone)}>
            See {witness.title}, {witness.audience}, {momentWords(Date.parse(witness.at), zone)}
          </Link>
        )}
      </p>
      {mend && rulebook && (
        <div className={styles.acts}>
          <Button
            size="small"
            variant="outlined"
            onClick={() => {
              change(mended(rulebook, rule, mend));
            }}
          >
            {mend.label}
          </Button>
        </div>
      )}
    </li>
  );
}

/** Where a finding's witness is opened: its cell, at its moment. */
function whyOf({ product, variant, audience, at, surface }: NonNullable<FindingReply['witness']>, zone: Zone): string {
  const place = surface === 'listing' ? 'listing' : 'product';
  const query = new URLSearchParams({
    rows: product,
    surface: place,
    at: fieldTime(Date.parse(at), zone),
    why: `${place === 'listing' ? product : variant}~${audience}`,
  });
  return `/rehearsal?${query.toString()}`;
}
