import { Autocomplete, Button, TextField } from '@mui/material';
import { useState } from 'react';
import type { Leaf } from '#core/facts/facts.ts';
import type { Goods } from '../../goods/useGoods.ts';
import styles from '../fields/fields.module.css';
import { Months } from './Months.tsx';
import { groupOf, QUESTIONS, questionOf, type ConditionKind } from './questions.ts';
import { ValueEditor } from './ValueEditor.tsx';

interface ConditionEditorProps {
  readonly about: ConditionKind;
  /** Null when one is being added. */
  readonly leaf: Leaf | null;
  readonly goods: Goods;
  /** Called with every complete condition. */
  readonly onChange: (leaf: Leaf) => void;
  readonly onRemove?: () => void;
}

/** Edits one condition: its question and value. */
export function ConditionEditor({ about, leaf, goods, onChange, onRemove }: ConditionEditorProps) {
  const questions = QUESTIONS[about];
  // The question itself, not its place: a condition that has just been added may be asked among others.
  const [question, setQuestion] = useState(() => (leaf && questionOf(questions, leaf)) ?? questions[0]);
  const [value, setValue] = useState<unknown>(leaf?.value ?? null);
  if (!question) return null;

  // A question with its initial value is a valid condition, as facts define them.
  const update = ({ fact, op }: typeof question, next: unknown) => {
    if (next !== null) onChange({ fact, op, value: next } as Leaf);
  };
  const ask = (next: typeof question) => {
    const kept =
      next.value === question.value && next.unit === question.unit && next.value !== 'none' ? value : next.start;
    setQuestion(next);
    setValue(kept);
    update(next, kept);
  };
  return (
    <div className={styles.editor}>
      <Autocomplete
        disableClearable
        openOnFocus={false}
        options={[...questions]}
        value={question}
        groupBy={groupOf}
        getOptionLabel={({ label }) => label}
        onChange={(_event, chosen) => {
          ask(chosen);
        }}
        renderInput={(params) => <TextField {...params} label={LABELS[about]} autoFocus={question.value === 'none'} />}
      />
      <ValueEditor
        key={`${question.value} ${question.unit ?? ''}`}
        kind={question.value}
        unit={question.unit}
        value={value}
        goods={goods}
        onChange={(next) => {
          setValue(next);
          update(question, next);
        }}
      />
      {leaf?.fact === 'moment' && leaf.op !== 'around' && <Months leaf={leaf} shop={goods.shop} />}
      <footer>
        {leaf === null && question.value === 'none' && (
          <Button
            variant="contained"
            onClick={() => {
              update(question, question.start);
            }}
          >
            Add
          </Button>
        )}
        {onRemove && (
          <Button color="error" onClick={onRemove}>
            Remove
          </Button>
        )}
      </footer>
    </div>
  );
}

const LABELS: Readonly<Record<ConditionKind, string>> = {
  products: 'Which goods',
  people: 'For whom',
  time: 'When, or where',
  anything: 'Condition',
  catalog: 'Which goods',
};
