import { Autocomplete, Dialog, TextField } from '@mui/material';
import { useEffect, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { shortSentence } from '#core/rulebook/sentence.ts';
import { namesFrom, useGoods } from '../goods/useGoods.ts';
import { useDraft } from '../rules/useDraft.ts';
import styles from './Frame.module.css';
import { withMoment } from './useMoment.ts';

interface Found {
  readonly label: string;
  readonly group: string;
  readonly to: string;
}

/** Goes anywhere by name: Ctrl K. */
export function Seek() {
  const [open, setOpen] = useState(false);
  const { rulebook } = useDraft();
  const goods = useGoods();
  const navigate = useNavigate();
  const [search] = useSearchParams();
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
        event.preventDefault();
        setOpen(true);
      }
    };
    addEventListener('keydown', onKey);
    return () => {
      removeEventListener('keydown', onKey);
    };
  }, []);

  const names = goods.data ? namesFrom(goods.data) : {};
  const found: Found[] = [
    ...(rulebook?.rules ?? []).map((rule) => ({
      label: rule.name ? `${rule.name}: ${shortSentence(rule, names)}` : shortSentence(rule, names),
      group: 'Rules',
      to: `/rules/${encodeURIComponent(rule.id)}`,
    })),
    { label: 'Today', group: 'Screens', to: '/today' },
    { label: 'Rules', group: 'Screens', to: '/rules' },
    { label: 'Rehearsal', group: 'Screens', to: '/rehearsal' },
    { label: 'Calendar', group: 'Screens', to: '/calendar' },
    { label: 'Review and publish', group: 'Screens', to: '/review' },
    { label: 'Editions', group: 'Screens', to: '/editions' },
    { label: 'The rulebook as text', group: 'Screens', to: '/text' },
    { label: 'Catalog', group: 'Screens', to: '/catalog' },
    { label: 'People', group: 'Screens', to: '/people' },
    { label: 'Connection', group: 'Screens', to: '/connection' },
  ];
  return (
    <>
      <button
        type="button"
        className={styles.key}
        aria-label="Go to a rule or a screen (Ctrl K)"
        onClick={() => {
          setOpen(true);
        }}
      >
        Ctrl K
      </button>
      <Dialog
        open={open}
        onClose={() => {
          setOpen(false);
        }}
        fullWidth
        maxWidth="sm"
        aria-label="Go to a rule or a screen"
      >
        <Autocomplete
          options={found}
          groupBy={({ group }) => group}
          getOptionKey={({ to }) => to}
          openOnFocus
          autoHighlight
          onChange={(_event, chosen) => {
            if (!chosen) return;
            setOpen(false);
            void navigate(withMoment(chosen.to, search));
          }}
          renderInput={(params) => <TextField {...params} placeholder="Go to a rule or a screen" autoFocus />}
        />
      </Dialog>
    </>
  );
}
