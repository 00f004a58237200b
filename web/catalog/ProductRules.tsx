import { Link, useSearchParams } from 'react-router';
import type { Product } from '#core/contract/shopCalls.ts';
import { aspectOf, type Aspect } from '#core/aspects/aspects.ts';
import { rulesAbout } from '#core/engine/compile.ts';
import { decidingRules } from '#core/engine/decide.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { ruleNames } from '#core/rulebook/sentence.ts';
import { namesFrom, type Goods } from '../goods/useGoods.ts';
import { rowsOf, subjectOf, type Proof } from '../proof/proofRows.ts';
import { withMoment } from '../shared/useMoment.ts';
import styles from './product.module.css';

interface ProductRulesProps {
  readonly product: Product;
  readonly proof: Proof;
  readonly rulebook: Rulebook;
  readonly goods: Goods;
}

/** The rules that decide something of a product for anybody now, from the top. */
export function ProductRules({ product, proof, rulebook, goods }: ProductRulesProps) {
  const [search] = useSearchParams();
  const nameOf = ruleNames(rulebook.rules, namesFrom(goods), goods.sellers);
  const reaching = rulesAbout(proof.draft, product)
    .map(({ rule: { id } }) => ({
      id,
      place: rulebook.rules.findIndex((entry) => entry.id === id) + 1,
      aspects: aspectsDecided(product, proof).get(id),
    }))
    .filter(({ aspects }) => aspects !== undefined);
  return (
    <section aria-labelledby="rules-heading">
      <h2 id="rules-heading">Rules that apply</h2>
      {reaching.length === 0 && (
        <p className={styles.quiet}>No rule decides anything of it now: the shop’s own control.</p>
      )}
      <ul className={styles.links}>
        {reaching.map(({ id, place, aspects }) => (
          <li key={id}>
            {place === 0 ? (
              <Link to={withMoment('/sellers', search)}>{nameOf(id)}</Link>
            ) : (
              <Link to={withMoment(`/rules/${encodeURIComponent(id)}`, search)}>
                {place}. {nameOf(id)}
              </Link>
            )}
            <small>{[...(aspects ?? [])].map((aspect) => aspectOf(aspect).name).join(', ')}</small>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Aspects that each rule decides for a product, for any audience and surface. */
function aspectsDecided(product: Product, proof: Proof): ReadonlyMap<string, ReadonlySet<Aspect>> {
  const found = new Map<string, Set<Aspect>>();
  for (const row of rowsOf([product], 'product'))
    for (const audience of proof.audiences)
      for (const surface of ['product', 'listing'] as const) {
        const reasons = decidingRules(proof.draft, subjectOf(row, audience, { ...proof, surface }));
        for (const [aspect, ids] of Object.entries(reasons))
          for (const id of ids) found.set(id, (found.get(id) ?? new Set()).add(aspect as Aspect));
      }
  return found;
}
