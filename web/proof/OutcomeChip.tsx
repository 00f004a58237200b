import type { Outcome } from '#core/rulebook/outcome.ts';
import styles from './proof.module.css';

const WORDS = { buy: 'button', link: 'link', signIn: 'sign in', notice: 'text', nothing: 'nothing' } as const;

/** What a rule makes of the button, as a small control. */
export function OutcomeChip({ then }: { readonly then: Outcome }) {
  const kind = then.control?.kind;
  if (kind) return <span className={`${styles.chip} ${styles[kind]}`}>{WORDS[kind]}</span>;
  const aspects = [then.price && 'price', then.express && 'express'].filter(Boolean);
  return <span className={`${styles.chip} ${styles.aspects}`}>{aspects.join(' · ') || 'nothing yet'}</span>;
}
