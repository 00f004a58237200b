import { Autocomplete, TextField } from '@mui/material';
import { useState } from 'react';
import type { Outcome } from '#core/aspects/outcome.ts';
import type { NotePlace } from '#core/model/notePlaces.ts';
import { NOTE_PLACE_NAMES } from '#core/model/notePlaces.ts';
import { given, NONE, type AspectProps } from './aspect.ts';
import { Choose } from '../../shared/Choose.tsx';
import styles from '../fields/fields.module.css';
import { HrefField } from './HrefField.tsx';
import { Kinds } from '../fields/Kinds.tsx';
import { LocalisedFields } from '../../shared/LocalisedFields.tsx';
import { WholeNumber } from '../fields/NumberFields.tsx';

export function ExpressFields({ value, onChange }: AspectProps<'show' | 'hide'>) {
  return (
    <>
      <Kinds
        label="Express pay"
        kinds={[
          { value: 'hide', label: 'Hidden' },
          { value: 'show', label: 'Shown' },
        ]}
        chosen={value}
        autoFocus
        onChoose={onChange}
      />
      <p className={styles.hint}>
        Unless a rule says otherwise, it is there only where the button is a plain purchase.
      </p>
    </>
  );
}

export type Note = NonNullable<Outcome['notes']>[number];

/** A note: its place and its text, as shoppers will read it. */
export function NoteFields({ value, goods, onChange }: AspectProps<Note>) {
  const [note, setNote] = useState<Partial<Note> & { place: NotePlace }>(value ?? { place: 'belowControl' });
  const set = (next: typeof note) => {
    setNote(next);
    const { place, text } = next;
    if (text !== undefined) onChange({ place, text });
  };
  return (
    <>
      <Choose
        label="It stands"
        words={NOTE_PLACE_NAMES}
        value={note.place}
        onChange={(place) => {
          set({ ...note, place });
        }}
      />
      <LocalisedFields
        label="Text"
        text={note.text}
        locales={goods.shop.locales}
        multiline
        autoFocus
        preview
        onChange={(text) => {
          if (text !== undefined) set({ ...note, text });
        }}
      />
      <p className={styles.hint}>
        **bold**, *italics*, [a link](/terms), and {'{product.date.ships}'} or {'{product.title}'}.
      </p>
    </>
  );
}

export type Limits = NonNullable<Outcome['limits']>;

export function LimitsFields({ value, onChange }: AspectProps<Limits>) {
  const [limits, setLimits] = useState<{ [K in keyof Limits]: number | null | undefined }>(value ?? {});
  const { min, max } = limits;
  const isInverted = typeof min === 'number' && typeof max === 'number' && min > max;
  const set = (next: typeof limits) => {
    setLimits(next);
    const limits = given(next) as Limits;
    if ((limits.min ?? 1) <= (limits.max ?? Infinity)) onChange(Object.keys(limits).length > 0 ? limits : undefined);
  };
  return (
    <>
      <div className={styles.three}>
        {(['min', 'max', 'step'] as const).map((name, index) => (
          <WholeNumber
            key={name}
            label={{ min: 'At least', max: 'At most', step: 'In steps of' }[name]}
            value={limits[name]}
            min={1}
            autoFocus={index === 0}
            onChange={(count) => {
              set({ ...limits, [name]: count });
            }}
          />
        ))}
      </div>
      <p className={styles.hint} role={isInverted ? 'alert' : undefined}>
        {isInverted ? 'The minimum is more than the maximum.' : 'How many of a variant one order may contain.'}
      </p>
    </>
  );
}

export type Visibility = NonNullable<Outcome['visibility']>;

const STATES: Record<Visibility['state'], string> = {
  shown: 'is shown everywhere',
  offListings: 'stays off listings',
  blocked: 'has no page: it leads elsewhere',
};

export function VisibilityFields({ value, goods, onChange }: AspectProps<Visibility>) {
  const visibility = value ?? { state: 'shown' as const };
  return (
    <>
      <Choose
        label="The product"
        words={STATES}
        value={visibility.state}
        onChange={(state) => {
          onChange(state === 'blocked' ? { ...visibility, state } : { state });
        }}
      />
      {visibility.state === 'blocked' && (
        <HrefField
          href={visibility.redirectTo}
          may="page"
          goods={goods}
          onChange={(redirectTo) => {
            onChange(given({ ...visibility, redirectTo }));
          }}
        />
      )}
    </>
  );
}

export type AfterOrder = NonNullable<Outcome['afterOrder']>;

export function AfterOrderFields({ value, goods, onChange }: AspectProps<AfterOrder>) {
  return (
    <LocalisedFields
      label="After the order, show"
      text={value?.text}
      locales={goods.shop.locales}
      multiline
      autoFocus
      preview
      onChange={(text) => {
        if (text !== undefined) onChange({ text });
      }}
    />
  );
}

const CLASS_NAME = /^-?[_a-zA-Z][\w-]*$/;

export function StyleFields({ value, onChange }: AspectProps<string[]>) {
  const [refused, setRefused] = useState<string>();
  return (
    <Autocomplete
      multiple
      freeSolo
      options={[]}
      value={value ?? NONE}
      onChange={(_event, names) => {
        const wrong = names.find((name) => !CLASS_NAME.test(name.trim()));
        setRefused(wrong);
        const trimmed = [...new Set(names.map((name) => name.trim()))];
        if (wrong === undefined) onChange(trimmed.length > 0 ? trimmed : undefined);
      }}
      renderInput={(params) => (
        <TextField
          {...params}
          label="Class names"
          autoFocus
          error={refused !== undefined}
          helperText={
            refused === undefined
              ? 'The shop’s own style sheet says what they look like'
              : `“${refused}” is not a class name: letters, digits, - and _ only`
          }
        />
      )}
    />
  );
}
