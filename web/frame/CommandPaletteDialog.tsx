import { Autocomplete, Dialog, TextField } from '@mui/material';
import { useNavigate, useSearchParams } from 'react-router';
import { shortSentence } from '#core/rulebook/sentence.ts';
import { namesFrom, useGoods } from '../goods/useGoods.ts';
import { useDraft } from '../draft/useDraft.ts';
import { FURTHER, GROUPS } from './screens.ts';
import { withMoment } from '../shared/useMoment.ts';

interface Found {
  readonly label: string;
  readonly group: string;
  readonly to: string;
}

const SCREENS = [...GROUPS.flatMap(({ screens }) => [...screens]), ...FURTHER].map((screen): Found => ({
  ...screen,
  group: 'Screens',
}));

/** The rules and the screens, to be found by what they are called. */
export function SeekDialog({ close }: { readonly close: () => void }) {
  const { rulebook } = useDraft();
  const goods = useGoods();
  const navigate = useNavigate();
  const [search] = useSearchParams();
  const names = goods.data ? namesFrom(goods.data) : {};
  const rules = (rulebook?.rules ?? []).map((rule): Found => ({
    label: rule.name ? `${rule.name}: ${shortSentence(rule, names)}` : shortSentence(rule, names),
    group: 'Rules',
    to: `/rules/${encodeURIComponent(rule.id)}`,
  }));
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm" aria-label="Go to a rule or a screen">
      <Autocomplete
        options={[...rules, ...SCREENS]}
        groupBy={({ group }) => group}
        getOptionKey={({ to }) => to}
        openOnFocus
        autoHighlight
        onChange={(_event, chosen) => {
          if (!chosen) return;
          close();
          void navigate(withMoment(chosen.to, search));
        }}
        renderInput={(params) => <TextField {...params} placeholder="Go to a rule or a screen" autoFocus />}
      />
    </Dialog>
  );
}
