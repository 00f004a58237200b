import { isSellers } from '#core/rulebook/entries.ts';
import { Button, Skeleton } from '@mui/material';
import { useState } from 'react';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { withMoment } from '../shared/useMoment.ts';
import { useGoods } from '../goods/useGoods.ts';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { RuleSheet } from './RuleSheet.tsx';
import { SellersSheet } from './SellersSheet.tsx';
import styles from './rules.module.css';
import { RunningOrder } from './RunningOrder.tsx';
import { SavingNote } from '../draft/SavingNote.tsx';
import { useDraft } from '../draft/useDraft.ts';

/** The running order, and beside it the chosen rule with its proof. */
export function RulesPage() {
  const draft = useDraft();
  const goods = useGoods();
  const { ruleId } = useParams();
  const [search] = useSearchParams();
  const navigate = useNavigate();
  // While a rule is dragged, the proof shows the order that it would make.
  const [dragged, setDragged] = useState<Rulebook | null>(null);
  const rules = draft.rulebook?.rules;
  // Without a choice, or if the chosen rule is gone: the rule that was first, even if it moves.
  const [firstId, setFirstId] = useState(rules?.[0]?.id);
  if (firstId === undefined && rules?.[0]) setFirstId(rules[0].id);
  const named = (name: string | undefined) => rules?.find(({ id }) => id === name);
  const rule = named(ruleId) ?? named(firstId) ?? rules?.[0];
  const choose = (id: string) => void navigate(withMoment(`/rules/${encodeURIComponent(id)}`, search));

  const error = draft.error ?? goods.error;
  if (error)
    return (
      <LoadFailed
        error={error}
        retry={() => {
          draft.reload();
          void goods.refetch();
        }}
      />
    );
  if (!draft.rulebook || !goods.data) return <Loading />;
  return (
    <main className={styles.page}>
      <RunningOrder
        rulebook={draft.rulebook}
        goods={goods.data}
        chosenId={rule?.id}
        onChoose={choose}
        onDrag={setDragged}
      />
      <div className={styles.sheet}>
        <SavingNote />
        {rule && isSellers(rule) ? (
          <SellersSheet key={rule.id} entry={rule} rulebook={dragged ?? draft.rulebook} goods={goods.data} />
        ) : rule ? (
          <RuleSheet key={rule.id} rule={rule} rulebook={dragged ?? draft.rulebook} goods={goods.data} />
        ) : (
          <div className={styles.empty}>
            <h1>No rules yet</h1>
            <p>
              Every product keeps the shop’s own button. Create a rule with <b>New rule</b>, beside the running order.
            </p>
            {draft.undo && (
              <Button variant="outlined" onClick={draft.undo}>
                Undo
              </Button>
            )}
          </div>
        )}
      </div>
    </main>
  );
}

function Loading() {
  return (
    <main className={styles.page} aria-busy="true" aria-label="Loading the rules">
      <div className={styles.order}>
        {[1, 2, 3, 4, 5].map((row) => (
          <Skeleton key={row} variant="rounded" height={58} sx={{ m: 1.5 }} />
        ))}
      </div>
      <div className={styles.sheet}>
        <Skeleton variant="text" width="50%" height={40} />
        <Skeleton variant="rounded" height={110} sx={{ my: 2 }} />
        <Skeleton variant="rounded" height={320} />
      </div>
    </main>
  );
}
