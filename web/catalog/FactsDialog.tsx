import { Autocomplete, Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from '@mui/material';
import { useMemo, useState } from 'react';
import type { GoodsChoice, OwnChanges } from '#core/contract/ownFactsCalls.ts';
import { sameName } from '#core/model/names.ts';
import type { Goods } from '../goods/useGoods.ts';
import { Choose } from '../shared/Choose.tsx';
import { DateTimeField } from '../shared/DateTimeField.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from './bulk.module.css';
import { IntendedImpact } from './IntendedImpact.tsx';
import { useFactActs } from './useFactChanges.ts';

/** Facts that can be changed for many products at once. */
const WAYS = {
  addTags: 'Add tags',
  removeTags: 'Take tags away',
  setDate: 'Set a date',
  noDate: 'Take a date away',
  setAttribute: 'Set an attribute',
  noAttribute: 'Take an attribute away',
} as const;
type Way = keyof typeof WAYS;

interface FactsDialogProps {
  readonly chosen: GoodsChoice;
  /** In words, as "12 products". */
  readonly counted: string;
  readonly goods: Goods;
  readonly onClose: (begun: boolean) => void;
}

/** Edits tags, dates and attributes of many products, beside the file's values. */
export function FactsDialog({ chosen, counted, goods, onClose }: FactsDialogProps) {
  const { vocabulary, audiences } = goods;
  const [way, setWay] = useState<Way>('addTags');
  const [tags, setTags] = useState<readonly string[]>([]);
  const [name, setName] = useState('');
  const [value, setValue] = useState('');
  const { change } = useFactActs();
  const changes = useMemo(() => changesOf(way, tags, name.trim(), value.trim()), [way, tags, name, value]);
  const isOfTags = way === 'addTags' || way === 'removeTags';
  const names = way.endsWith('Date')
    ? vocabulary.dates.map((date) => date.name)
    : vocabulary.attributes.map((one) => one.name);
  const values = vocabulary.attributes.find((one) => one.name === name)?.values ?? [];
  return (
    <Dialog
      open
      maxWidth="sm"
      fullWidth
      aria-labelledby="facts-title"
      onClose={() => {
        onClose(false);
      }}
    >
      <DialogTitle id="facts-title">Change {counted}</DialogTitle>
      <DialogContent className={styles.fields}>
        <p className={styles.hint}>
          What you say here stays apart from your shop’s file: the next import does not overwrite it.
        </p>
        <Choose
          label="What"
          words={WAYS}
          value={way}
          onChange={(next) => {
            setWay(next);
            setName('');
            setValue('');
          }}
        />
        {isOfTags ? (
          <Autocomplete
            multiple
            freeSolo={way === 'addTags'}
            autoHighlight
            options={vocabulary.tags.map((tag) => tag.name)}
            value={[...tags]}
            isOptionEqualToValue={(one, other) => sameName(one) === sameName(other)}
            onChange={(_event, next) => {
              setTags(next.map((tag) => tag.trim()).filter((tag) => tag !== '' && !tag.includes('|')));
            }}
            renderInput={(input) => (
              <TextField
                {...input}
                label="Tags"
                helperText={way === 'addTags' ? 'Choose, or type a new one and press Enter' : undefined}
              />
            )}
          />
        ) : (
          <Autocomplete
            freeSolo
            options={names}
            inputValue={name}
            onInputChange={(_event, next) => {
              setName(next);
            }}
            renderInput={(input) => (
              <TextField {...input} label={way.endsWith('Date') ? 'Which date' : 'Which attribute'} />
            )}
          />
        )}
        {way === 'setDate' && <DateTimeField kind="date" label="Date" value={value} onChange={setValue} clearable />}
        {way === 'setAttribute' && (
          <Autocomplete
            freeSolo
            options={values}
            inputValue={value}
            onInputChange={(_event, next) => {
              setValue(next);
            }}
            renderInput={(input) => <TextField {...input} label="Value" />}
          />
        )}
        <IntendedImpact goods={chosen} intended={changes && { changes }} audiences={audiences.length} />
        {change.error && <ErrorNote error={change.error} />}
      </DialogContent>
      <DialogActions>
        <Button
          onClick={() => {
            onClose(false);
          }}
        >
          Cancel
        </Button>
        <Button
          variant="contained"
          disabled={!changes}
          loading={change.isPending}
          onClick={() => {
            if (changes)
              change.mutate(
                { goods: chosen, changes },
                {
                  onSuccess: () => {
                    onClose(true);
                  },
                },
              );
          }}
        >
          Change {counted}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** Changes chosen; null while incomplete. */
function changesOf(way: Way, tags: readonly string[], name: string, value: string): OwnChanges | null {
  switch (way) {
    case 'addTags':
    case 'removeTags':
      return tags.length === 0 ? null : { [way]: [...tags] };
    case 'setDate':
      return name === '' || value === '' ? null : { dates: { [name]: value } };
    case 'noDate':
      return name === '' ? null : { dates: { [name]: null } };
    case 'setAttribute':
      return name === '' || value === '' ? null : { attributes: { [name]: value } };
    case 'noAttribute':
      return name === '' ? null : { attributes: { [name]: null } };
  }
}

/** A change in words, as "tagged spring sale; ship date 2027-03-01". */
export function changeWords({ addTags, removeTags, dates, attributes, asFile }: OwnChanges): string {
  const said = (pairs: Readonly<Record<string, string | null>> = {}) =>
    Object.entries(pairs).map(([name, value]) => (value === null ? `without ${name}` : `${name} ${value}`));
  const names = Object.values(asFile ?? {}).flat();
  return [
    ...(addTags?.length ? [`tagged ${addTags.join(', ')}`] : []),
    ...(removeTags?.length ? [`without the tag${removeTags.length === 1 ? '' : 's'} ${removeTags.join(', ')}`] : []),
    ...said(dates),
    ...said(attributes),
    ...(names.length > 0 ? [`${names.join(', ')} as in the file`] : []),
  ].join('; ');
}
