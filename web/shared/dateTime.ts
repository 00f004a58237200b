/** Format of a field's value: a date `YYYY-MM-DD`, a moment `YYYY-MM-DDTHH:MM`, a time of day `HH:MM`, a day of every year `MM-DD`. */
export type DateTimeKind = 'date' | 'moment' | 'time' | 'yearDay';

export interface DateTimeFieldProps {
  readonly kind: DateTimeKind;
  readonly label: string;
  /** Value in the format of its kind, in the shop's zone; empty for none. */
  readonly value: string;
  /** Called with the empty text while the input is incomplete. */
  readonly onChange: (value: string) => void;
  /** May it be emptied again by a button? */
  readonly clearable?: boolean;
  readonly error?: boolean;
  readonly helperText?: string | undefined;
  readonly autoFocus?: boolean;
}
