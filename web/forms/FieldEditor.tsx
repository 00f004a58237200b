import { Button, Checkbox, FormControlLabel, MenuItem, TextField } from '@mui/material';
import { FIELD_KINDS, type FormField } from '#core/contract/askingCalls.ts';
import { FIELDS } from '#core/contract/formFields.ts';
import { LocalisedFields } from '../shared/LocalisedFields.tsx';
import styles from './forms.module.css';

export const KIND_NAMES: Readonly<Record<FormField['kind'], string>> = {
  text: 'a line of text',
  longText: 'a longer text',
  number: 'a number',
  choice: 'a choice',
  date: 'a date',
};

interface Props {
  readonly field: FormField;
  readonly position: number;
  readonly count: number;
  readonly locales: readonly string[];
  readonly change: (field: FormField) => void;
  readonly moveTo: (position: number) => void;
  readonly remove: () => void;
}

/** One thing that a form asks for, with its place among the others (Alt+↑ and Alt+↓ move it). */
export function FieldEditor({ field, position, count, locales, change, moveTo, remove }: Props) {
  const { kind, label, required, choices } = field;
  const name = typeof label === 'string' ? label : (Object.values(label)[0] ?? field.name);
  const move = (by: number) => {
    const to = position + by;
    if (to >= 0 && to < count) moveTo(to);
  };
  return (
    <fieldset
      className={styles.field}
      onKeyDown={(event) => {
        if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
        event.preventDefault();
        move(event.key === 'ArrowUp' ? -1 : 1);
      }}
    >
      <legend>
        {position + 1}. {name}
      </legend>
      <div className={styles.words}>
        <LocalisedFields
          label="Label"
          text={label}
          locales={locales}
          onChange={(words) => {
            if (words !== undefined) change({ ...field, label: words });
          }}
        />
      </div>
      <div className={styles.line}>
        <TextField
          select
          label="Type"
          value={kind}
          sx={{ maxWidth: 190 }}
          onChange={({ target }) => {
            const chosen = FIELD_KINDS.find((known) => known === target.value) ?? 'text';
            const { choices: _choices, ...rest } = field;
            change({
              ...rest,
              kind: chosen,
              ...(FIELDS[chosen].element === 'select' ? { choices: choices ?? ['Yes', 'No'] } : {}),
            });
          }}
        >
          {FIELD_KINDS.map((one) => (
            <MenuItem key={one} value={one}>
              {KIND_NAMES[one]}
            </MenuItem>
          ))}
        </TextField>
        <FormControlLabel
          label="Required"
          control={
            <Checkbox
              size="small"
              checked={required}
              onChange={({ target }) => {
                change({ ...field, required: target.checked });
              }}
            />
          }
        />
        <div className={styles.moves}>
          <Button
            aria-label={`Move “${name}” up`}
            disabled={position === 0}
            onClick={() => {
              move(-1);
            }}
          >
            ↑
          </Button>
          <Button
            aria-label={`Move “${name}” down`}
            disabled={position === count - 1}
            onClick={() => {
              move(1);
            }}
          >
            ↓
          </Button>
          <Button aria-label={`Remove “${name}”`} onClick={remove}>
            Remove
          </Button>
        </div>
      </div>
      {FIELDS[kind].element === 'select' && (
        <TextField
          label="Choices, one per line"
          multiline
          minRows={2}
          defaultValue={(choices ?? []).join('\n')}
          onChange={({ target }) => {
            const written = target.value.split('\n').flatMap((line) => line.trim() || []);
            if (written.length > 0) change({ ...field, choices: written });
          }}
        />
      )}
    </fieldset>
  );
}
