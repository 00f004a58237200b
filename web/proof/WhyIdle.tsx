import { useMemo } from 'react';
import { unfinished } from '#core/rulebook/unfinished.ts';
import type { Rule, Rulebook } from '#core/rulebook/rulebook.ts';
import { ruleNames, segmentsOf } from '#core/rulebook/sentence.ts';
import { namesFrom, type Goods } from '../goods/useGoods.ts';
import styles from './proof.module.css';
import { idleOf, type Proof, type Row } from './proofRows.ts';

interface Props {
  readonly rule: Rule;
  readonly rulebook: Rulebook;
  readonly rows: readonly Row[];
  readonly proof: Proof;
  readonly goods: Goods;
}

/** Says of a rule that decides nothing which of its conditions fails, or who decides instead. */
export function WhyIdle({ rule, rulebook, rows, proof, goods }: Props) {
  const {
    neverMatched: neverHeld,
    counts,
    beatenBy,
  } = useMemo(() => idleOf(rows, rule.id, proof), [rows, rule.id, proof]);
  const names = namesFrom(goods);
  const nameOf = ruleNames(rulebook.rules, names, goods.sellers);
  const phrases = segmentsOf(rule, names).flatMap((segment) =>
    'about' in segment && neverHeld.includes(segment.pointer) ? segment.text : [],
  );
  const list = new Intl.ListFormat('en');
  const others = beatenBy.map((id) => `“${nameOf(id)}”`);
  const why = !rule.on
    ? 'The rule is off.'
    : unfinished(rule).length > 0
      ? 'The rule is unfinished, so it does not apply yet.'
      : phrases.length > 0
        ? `None of them matches ${phrases.length === 1 ? 'this' : 'these'}: ${phrases.join('; ')}.`
        : counts > 0
          ? `It applies to ${counts}, where ${others.length > 0 ? `${list.format(others)} above it ${others.length === 1 ? 'decides' : 'decide'}` : 'it changes nothing'}.`
          : 'Each of its conditions matches some of them, but never all at once.';
  return <p className={styles.soft}>{why}</p>;
}
