import { Button } from '@mui/material';
import type { GridRowSelectionModel } from '@mui/x-data-grid';
import { useMemo, useState } from 'react';
import type { GoodsFilter } from '#core/contract/findCalls.ts';
import type { GoodsChoice } from '#core/contract/ownFactsCalls.ts';
import type { Goods } from '../goods/useGoods.ts';
import { useDraft } from '../draft/useDraft.ts';
import { useMay } from '../session/useMay.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { Toast } from '../shared/Toast.tsx';
import { saveAs } from '../shared/save.ts';
import styles from './bulk.module.css';
import { FactsDialog } from './FactsDialog.tsx';
import { RuleDialog } from './RuleDialog.tsx';
import { fileOf, MOST_BY_ID } from './useFactChanges.ts';

export const NONE_CHOSEN: GridRowSelectionModel = { type: 'include', ids: new Set() };

interface SelectionBarProps {
  readonly chosen: GridRowSelectionModel;
  readonly choose: (chosen: GridRowSelectionModel) => void;
  readonly filter: GoodsFilter;
  /** Number of matches. */
  readonly total: number;
  readonly goods: Goods;
}

const products = (count: number) => `${count.toLocaleString('en-GB')} product${count === 1 ? '' : 's'}`;

/** Number of selected products, with the actions for all of them. */
export function SelectionBar({ chosen, choose, filter, total, goods }: SelectionBarProps) {
  const mayChange = useMay('catalog');
  const mayDraft = useMay('draft');
  const [open, setOpen] = useState<'facts' | 'rules' | null>(null);
  const [saving, setSaving] = useState(false);
  const [error, setError] = useState<Error | null>(null);
  const [done, setDone] = useState<string | null>(null);
  const { undo } = useDraft();
  const named = useMemo(() => [...chosen.ids].map(String), [chosen]);
  const isAll = chosen.type === 'exclude';
  const count = isAll ? total - named.length : named.length;
  const told = (
    <Toast
      words={done}
      undo={undo ?? undefined}
      done={() => {
        setDone(null);
      }}
    />
  );
  if (count === 0) return told;
  const meant: GoodsChoice = isAll ? { filter, except: named } : { ids: named };
  const close = (begun: boolean) => {
    setOpen(null);
    if (begun) choose(NONE_CHOSEN);
  };
  const dialog = { chosen: meant, counted: products(count), goods };
  return (
    <div className={styles.bar} role="region" aria-label="What is chosen">
      <b>{products(count)} chosen</b>
      {!isAll && count < total && (
        <button
          type="button"
          className={styles.all}
          onClick={() => {
            choose({ type: 'exclude', ids: new Set() });
          }}
        >
          Choose all {total.toLocaleString('en-GB')} that are found
        </button>
      )}
      <span className={styles.acts}>
        {mayChange && (
          <Button
            onClick={() => {
              setOpen('facts');
            }}
          >
            Tags, dates, attributes…
          </Button>
        )}
        {mayDraft && (
          <Button
            onClick={() => {
              setOpen('rules');
            }}
          >
            Rules…
          </Button>
        )}
        <Button
          loading={saving}
          onClick={() => {
            setSaving(true);
            setError(null);
            fileOf(meant)
              .then(
                (file) => {
                  saveAs('products.csv', 'text/csv', file);
                },
                (problem: unknown) => {
                  setError(problem as Error);
                },
              )
              .finally(() => {
                setSaving(false);
              });
          }}
        >
          Export CSV
        </Button>
        <Button
          onClick={() => {
            choose(NONE_CHOSEN);
          }}
        >
          Clear
        </Button>
      </span>
      {error && <ErrorNote error={error} />}
      {told}
      {open === 'facts' && <FactsDialog {...dialog} onClose={close} />}
      {open === 'rules' && (
        <RuleDialog
          {...dialog}
          onClose={(words) => {
            setDone(words);
            close(words !== null);
          }}
          ids={!isAll && named.length <= MOST_BY_ID ? named : null}
        />
      )}
    </div>
  );
}
