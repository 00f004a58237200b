import { rulesIn } from '#core/rulebook/entries.ts';
import { Autocomplete, Dialog, TextField } from '@mui/material';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { shortSentence } from '#core/rulebook/sentence.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { namesFrom, titleIn, useGoods } from '../goods/useGoods.ts';
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

/** Finds rules, products and screens by name, beginning with the text typed while it was loading. */
export function SeekDialog({ typed, close }: { readonly typed: string; readonly close: () => void }) {
  const { rulebook } = useDraft();
  const goods = useGoods();
  const navigate = useNavigate();
  const [search] = useSearchParams();
  const [words, setWords] = useState(typed);
  const asked = useDeferredValue(words.trim());
  const found = useQuery({
    queryKey: keys.products(`palette=${asked}`),
    queryFn: async () => (await send('GET /api/products', { query: { search: asked, limit: 8 } })).body.products,
    enabled: asked.length > 1,
    placeholderData: keepPreviousData,
  });
  const names = goods.data ? namesFrom(goods.data) : {};
  const rules = (rulebook ? rulesIn(rulebook) : []).map((rule): Found => ({
    label: rule.name ? `${rule.name}: ${shortSentence(rule, names)}` : shortSentence(rule, names),
    group: 'Rules',
    to: `/rules/${encodeURIComponent(rule.id)}`,
  }));
  const products = (found.data ?? []).map(({ id, title }): Found => ({
    label: `${goods.data ? titleIn(title, goods.data.shop) : id} (${id})`,
    group: 'Products',
    to: `/catalog/${encodeURIComponent(id)}`,
  }));
  return (
    <Dialog
      open
      onClose={close}
      fullWidth
      maxWidth="sm"
      aria-label="Go to a rule, a product or a screen"
      slotProps={{ paper: { sx: { overflow: 'visible' } } }}
    >
      <Autocomplete
        // Inside the dialog, which hides everything beside it from screen readers.
        disablePortal
        options={[...rules, ...products, ...SCREENS]}
        inputValue={words}
        onInputChange={(_event, input, reason) => {
          // On mounting, the component resets the text to that of the chosen option: none.
          if (reason !== 'reset') setWords(input);
        }}
        groupBy={({ group }) => group}
        getOptionKey={({ to }) => to}
        openOnFocus
        autoHighlight
        onChange={(_event, chosen) => {
          if (!chosen) return;
          close();
          void navigate(withMoment(chosen.to, search));
        }}
        renderInput={(params) => <TextField {...params} placeholder="Go to a rule, a product or a screen" autoFocus />}
      />
    </Dialog>
  );
}
