import { ASPECTS } from '#core/aspects/aspects.ts';
import type { Outcome } from '#core/aspects/outcome.ts';
import { controlOf, shapeOf, type DecidedControl, type PlainControl } from '#core/controls/controls.ts';
import { aspectOf } from '#core/aspects/aspects.ts';
import styles from './proof.module.css';

/** A rule's control as a small chip. */
export function OutcomeChip({ then }: { readonly then: Outcome }) {
  const { control } = then;
  if (control) return <ControlChip control={control} />;
  const aspects = ASPECTS.filter((aspect) => then[aspect] !== undefined).map((aspect) => aspectOf(aspect).name);
  const words = aspects.length > 2 ? `${aspects.length} things` : aspects.join(' · ').replaceAll('the ', '');
  return <span className={`${styles.chip} ${styles.aspects}`}>{words || 'nothing yet'}</span>;
}

/** A control as small as it can be told apart. */
export function ControlChip({ control }: { readonly control: PlainControl | DecidedControl }) {
  return <span className={`${styles.chip} ${styles[shapeOf(control)]}`}>{controlOf(control).shortName}</span>;
}
