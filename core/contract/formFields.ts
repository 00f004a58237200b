import type { FormField } from './askingCalls.ts';

interface FieldKind {
  /** HTML element in which it is entered. */
  readonly element: 'input' | 'textarea' | 'select';
  /** Type of an input element. */
  readonly type?: 'text' | 'number' | 'date';
  /** Describes the allowed answers if the given one is wrong; null if it is right. */
  readonly fault: (answer: string, field: Pick<FormField, 'choices'>) => string | null;
}

const anything = () => null;

/** Kinds of fields in the owner's forms: how they are entered, and which answers they accept. */
export const FIELDS: Readonly<Record<FormField['kind'], FieldKind>> = {
  text: { element: 'input', type: 'text', fault: anything },
  longText: { element: 'textarea', fault: anything },
  number: {
    element: 'input',
    type: 'number',
    fault: (answer) => (Number.isFinite(Number(answer)) ? null : 'a number'),
  },
  choice: {
    element: 'select',
    fault: (answer, { choices = [] }) => (choices.includes(answer) ? null : `one of ${choices.join(', ')}`),
  },
  date: {
    element: 'input',
    type: 'date',
    fault: (answer) => (/^\d{4}-\d{2}-\d{2}$/.test(answer) ? null : 'a date, YYYY-MM-DD'),
  },
};
