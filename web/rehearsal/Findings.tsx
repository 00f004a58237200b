import { Button, Skeleton } from '@mui/material';
import { useMemo } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { FindingKind } from '#core/analysis/finding.ts';
import { withQuickFix } from '#core/analysis/quickFixes.ts';
import type { FindingReply } from '#core/contract/rehearsalCalls.ts';
import type { Zone } from '#core/model/zone.ts';
import { ruleNames } from '#core/rulebook/sentence.ts';
import { useMay } from '../session/useMay.ts';
import { withMoment } from '../shared/useMoment.ts';
import { useDraft } from '../draft/useDraft.ts';
import { namesFrom, type Goods } from '../goods/useGoods.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { Progress } from '../shared/Progress.tsx';
import { fieldTime, momentWords } from '../shared/times.ts';
import { fixLabel, findingText } from './findingTexts.ts';
import styles from './rehearsal.module.css';
import { useFindings } from './useRehearsal.ts';

const SEVERITIES = { fault: 'Fault', warning: 'Check', note: 'Note' } as const;

/** Findings in the draft, each with an example and, if there is one, a quick fix. */
/** Notes that matter before publishing: an idle rule under a closure. */
const MATTERS_AS_NOTE: ReadonlySet<FindingKind> = new Set(['idle']);

export function Findings({
  goods,
  isReview = false,
}: {
  readonly goods: Goods;
  /** Only findings that matter before publishing: no notes, except idle rules under a closure. */
  readonly isReview?: boolean;
}) {
  const findings = useFindings();
  const { data, error, isFetching, refetch } = findings;
  const { rulebook } = useDraft();
  const nameOf = useMemo(() => ruleNames(rulebook?.rules ?? [], namesFrom(goods), goods.sellers), [rulebook, goods]);
  if (error) return <LoadFailed error={error} retry={() => void refetch()} />;
  const found = data?.findings.filter(
    ({ severity, about }) => !isReview || severity !== 'note' || MATTERS_AS_NOTE.has(about.kind),
  );
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
            <Finding
              key={`${finding.rule} ${JSON.stringify(finding.about)}`}
              finding={finding}
              nameOf={nameOf}
              zone={goods.shop.zone}
            />
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

interface FindingProps {
  readonly finding: FindingReply;
  /** Name of a rule, by its id. */
  readonly nameOf: (rule: string) => string;
  readonly zone: Zone;
}

function Finding({ finding, nameOf, zone }: FindingProps) {
  const { severity, rule, example, quickFix } = finding;
  const { rulebook, change } = useDraft();
  const mayChange = useMay('draft');
  const [search] = useSearchParams();
  return (
    <li className={styles[severity]}>
      <p>
        <b>{SEVERITIES[severity]}.</b> {findingText(finding, nameOf)}
      </p>
      <p className={styles.example}>
        <Link to={withMoment(`/rules/${encodeURIComponent(rule)}`, search)}>Open the rule</Link>
        {example && (
          <Link to={whyOf(example, zone)}>
            See {example.title}, {example.audience}, {momentWords(Date.parse(example.at), zone)}
          </Link>
        )}
      </p>
      {quickFix && rulebook && mayChange && (
        <div className={styles.acts}>
          <Button
            size="small"
            variant="outlined"
            onClick={() => {
              change({ ...rulebook, rules: withQuickFix(rulebook.rules, rule, quickFix) });
            }}
          >
            {fixLabel(quickFix, finding.about, nameOf)}
          </Button>
        </div>
      )}
    </li>
  );
}

/** Address of a finding's example: its cell, at its moment. */
function whyOf({ product, variant, audience, at, surface }: NonNullable<FindingReply['example']>, zone: Zone): string {
  const place = surface === 'listing' ? 'listing' : 'product';
  const query = new URLSearchParams({
    rows: product,
    surface: place,
    at: fieldTime(Date.parse(at), zone),
    why: `${place === 'listing' ? product : variant}~${audience}`,
  });
  return `/rehearsal?${query.toString()}`;
}
