import { useState } from 'react';
import { Autocomplete, TextField, ToggleButton, ToggleButtonGroup } from '@mui/material';
import { STOCK_STATUS_NAMES } from '#core/facts/stockStatus.ts';
import { SURFACE_NAMES } from '#core/facts/surface.ts';
import type { ValueProps } from '../fields/valueProps.ts';
import { NamesField } from './NamesField.tsx';
import { PriceField, PriceRangeFields, RangeFields, WholeNumber } from '../fields/NumberFields.tsx';
import type { ValueKind } from '#core/facts/fact.ts';
import { AroundFields, BetweenFields, WeeklyFields, YearlyFields } from './TimeFields.tsx';

interface ValueEditorProps extends ValueProps {
  readonly kind: ValueKind;
  /** Unit of numbers, as their fields are labelled. */
  readonly unit?: string | undefined;
}

/** The fields for one kind of value. */
export function ValueEditor({ kind, unit = 'Units', ...props }: ValueEditorProps) {
  switch (kind) {
    case 'none':
      return null;
    case 'between':
      return <BetweenFields {...props} />;
    case 'around':
      return <AroundFields {...props} />;
    case 'weekly':
      return <WeeklyFields {...props} />;
    case 'yearly':
      return <YearlyFields {...props} />;
    case 'statuses':
      return <ChoiceField label="Stock" words={STOCK_STATUS_NAMES} {...props} />;
    case 'surfaces':
      return <ChoiceField label="Where" words={SURFACE_NAMES} {...props} />;
    case 'path':
      return <PathField allowed={WHOLE_PATH} hint="A path that begins with /, without ? or #" {...props} />;
    case 'pathPart':
      return <PathField allowed={/./} hint="Part of a path" {...props} />;
    case 'attribute':
      return <NamedValuesFields label="Attribute" known={props.goods.vocabulary.attributes} {...props} />;
    case 'option':
      return <NamedValuesFields label="Option" known={props.goods.vocabulary.options} {...props} />;
    case 'price':
      return <PriceField label="Price" {...props} />;
    case 'priceRange':
      return <PriceRangeFields {...props} />;
    case 'quantity':
      return <WholeNumber label={unit} value={props.value} onChange={props.onChange} />;
    case 'range':
      return <RangeFields unit={unit} {...props} />;
    default:
      return <NamesField kind={kind} {...props} />;
  }
}

interface ChoiceFieldProps extends ValueProps {
  readonly label: string;
  readonly words: Readonly<Record<string, string>>;
}

/** Some of a few. */
function ChoiceField({ label, words, value, onChange }: ChoiceFieldProps) {
  return (
    <ToggleButtonGroup
      orientation="vertical"
      value={value}
      aria-label={label}
      onChange={(_event, next: string[]) => {
        if (next.length > 0) onChange(next);
      }}
    >
      {Object.entries(words).map(([choice, name]) => (
        <ToggleButton key={choice} value={choice}>
          {name}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}

const WHOLE_PATH = /^\/[^?#]*$/;

interface PathFieldProps extends ValueProps {
  readonly allowed: RegExp;
  readonly hint: string;
}

function PathField({ allowed, hint, value, onChange }: PathFieldProps) {
  const [text, setText] = useState(typeof value === 'string' ? value : '');
  const isPath = allowed.test(text);
  return (
    <TextField
      label="Path"
      value={text}
      placeholder="/plants/"
      error={text !== '' && !isPath}
      helperText={isPath ? undefined : hint}
      onChange={({ target }) => {
        const next = target.value.trim();
        setText(next);
        onChange(allowed.test(next) ? next : null);
      }}
      autoFocus
    />
  );
}

interface NamedValues {
  readonly name: string;
  readonly values: readonly string[];
}

interface NamedValuesProps extends ValueProps {
  readonly label: string;
  readonly known: readonly NamedValues[];
}

/** An attribute or an option, and the values of it that are meant. */
function NamedValuesFields({ label, known, value, onChange }: NamedValuesProps) {
  const [named, setNamed] = useState<NamedValues>((value ?? { name: '', values: [] }) as NamedValues);
  const set = (next: NamedValues) => {
    setNamed(next);
    onChange(
      next.name.trim() !== '' && next.values.length > 0 ? { name: next.name.trim(), values: next.values } : null,
    );
  };
  return (
    <>
      <Autocomplete
        freeSolo
        openOnFocus
        options={known.map(({ name }) => name)}
        inputValue={named.name}
        onInputChange={(_event, name, reason) => {
          if (reason === 'reset' && name === '') return;
          set({ ...named, name });
        }}
        renderInput={(params) => <TextField {...params} label={label} autoFocus />}
      />
      <Autocomplete
        multiple
        freeSolo
        openOnFocus
        disableCloseOnSelect
        options={known.find(({ name }) => name === named.name)?.values ?? []}
        value={named.values as string[]}
        onChange={(_event, values) => {
          set({ ...named, values: values.map((one) => one.trim()).filter(Boolean) });
        }}
        renderInput={(params) => <TextField {...params} label="Values" />}
      />
    </>
  );
}
