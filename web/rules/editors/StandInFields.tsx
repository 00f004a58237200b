import { Checkbox, FormControlLabel, TextField } from '@mui/material';
import { useState } from 'react';
import type { ListingControl } from '#core/rulebook/outcome.ts';
import styles from './editors.module.css';
import { Kinds } from './Kinds.tsx';
import { LocalisedFields } from './LocalisedFields.tsx';
import { hrefFault, KINDS, toControl, writingOf, type Writing } from './standIns.ts';

interface StandInFieldsProps {
  readonly control: ListingControl | undefined;
  readonly locales: readonly string[];
  /** The part that was pressed in the sentence. */
  readonly focus?: 'label' | 'text' | 'href' | undefined;
  /** Told of every stand-in that is complete. */
  readonly onChange: (control: ListingControl) => void;
}

/** What stands in the button's place: its kind, its words, where it leads. */
export function StandInFields({ control, locales, focus, onChange }: StandInFieldsProps) {
  const [writing, setWriting] = useState(() => writingOf(control));
  const set = (part: Partial<Writing>) => {
    const next = { ...writing, ...part };
    setWriting(next);
    const complete = toControl(next);
    if (complete) onChange(complete);
  };
  const { kind, label, text, href, newTab } = writing;
  const leads = kind === 'link' || kind === 'signIn';
  return (
    <>
      <Kinds
        label="In the button’s place"
        kinds={KINDS}
        chosen={kind}
        onChoose={(next) => {
          set({ kind: next });
        }}
        autoFocus={focus === undefined}
      />
      {(kind === 'buy' || leads) && (
        <LocalisedFields
          key="label"
          label={kind === 'buy' ? 'Other words on it' : 'Words on it'}
          text={label}
          locales={locales}
          autoFocus={focus === 'label'}
          onChange={(next) => {
            set({ label: next });
          }}
        />
      )}
      {leads && (
        <TextField
          label="Leads to"
          value={href}
          placeholder={kind === 'link' ? '/contact?about={product.id}' : '/sign-in'}
          autoFocus={focus === 'href'}
          error={href !== '' && hrefFault(kind, href) !== null}
          helperText={hrefFault(kind, href) ?? undefined}
          onChange={({ target }) => {
            set({ href: target.value.trim() });
          }}
        />
      )}
      {kind === 'link' && (
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={newTab}
              onChange={({ target }) => {
                set({ newTab: target.checked });
              }}
            />
          }
          label="In a new tab"
        />
      )}
      {kind === 'notice' && (
        <LocalisedFields
          key="text"
          label="What it says"
          text={text}
          locales={locales}
          multiline
          autoFocus={focus === 'text'}
          onChange={(next) => {
            set({ text: next });
          }}
        />
      )}
      {kind === 'nothing' && <p className={styles.hint}>The button is gone, and nothing stands in its place.</p>}
    </>
  );
}
