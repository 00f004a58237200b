import { ASPECTS } from '#core/engine/aspects.ts';
import type { Outcome } from '#core/rulebook/outcome.ts';
import type { ControlKind } from '#core/controls/controls.ts';
import { ASPECT_NAMES } from './names.ts';
import styles from './proof.module.css';

const WORDS: Record<ControlKind, string> = {
  buy: 'button',
  preorder: 'pre-order',
  waitlist: 'waitlist',
  quote: 'quote',
  enquiry: 'enquiry',
  link: 'link',
  signIn: 'sign in',
  notice: 'text',
  nothing: 'nothing',
  ownPrice: 'own price',
  severalAtOnce: 'several',
};

/** What a rule makes of the button, as a small control. */
export function OutcomeChip({ then }: { readonly then: Outcome }) {
  const kind = then.control?.kind;
  if (kind) return <span className={`${styles.chip} ${styles[kind]}`}>{WORDS[kind]}</span>;
  const aspects = ASPECTS.filter((aspect) => then[aspect] !== undefined).map((aspect) => ASPECT_NAMES[aspect]);
  const words = aspects.length > 2 ? `${aspects.length} things` : aspects.join(' · ').replaceAll('the ', '');
  return <span className={`${styles.chip} ${styles.aspects}`}>{words || 'nothing yet'}</span>;
}
