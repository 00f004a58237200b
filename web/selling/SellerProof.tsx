import { useDeferredValue, useMemo } from 'react';
import { visitorOf } from '#core/model/audience.ts';
import { compile } from '#core/engine/compile.ts';
import type { Decision } from '#core/engine/decision.ts';
import { EMPTY_RULEBOOK, type Rule, type Rulebook } from '#core/rulebook/rulebook.ts';
import { titleIn, type Goods } from '../goods/useGoods.ts';
import { variantLine } from '../proof/ProofRow.tsx';
import { ProofTable } from '../proof/ProofTable.tsx';
import proof from '../proof/proof.module.css';
import { StandIn } from '../proof/StandIn.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { useMoment } from '../shared/useMoment.ts';
import styles from './selling.module.css';
import { useSellerProof } from './useSelling.ts';

interface SellerProofProps {
  readonly rule: Rule;
  readonly rulebook: Rulebook;
  readonly goods: Goods;
}

const MOST = 10;

/** Proof for the seller's products, computed by the server since the shop's rules apply too. */
export function SellerProof({ rule, rulebook, goods }: SellerProofProps) {
  const { shop, audiences, products, total } = goods;
  const { moment, isNow } = useMoment(shop.zone);
  const settled = useDeferredValue(rule);
  const asked = useMemo(() => {
    const [compiled] = compile({ ...EMPTY_RULEBOOK, rules: [settled] }, shop).rules;
    const isAbout = (product: Goods['products'][number]) =>
      product.variants.some((variant) =>
        audiences.some(
          (audience) =>
            compiled?.test({ product, variant, visitor: visitorOf(audience), moment, surface: 'product', page: null })
              .matches,
        ),
      );
    const about = compiled?.missing.length === 0 ? products.filter(isAbout) : [];
    return { about, shown: [...about, ...products.filter((product) => !about.includes(product))].slice(0, MOST) };
  }, [settled, shop, products, audiences, moment]);
  const at = isNow ? undefined : new Date(moment).toISOString();
  const found = useSellerProof(
    asked.shown.map(({ id }) => id),
    at,
    rulebook,
  );
  const goodsOf = new Map(products.map((product) => [product.id, product]));
  return (
    <section className={proof.proof} aria-label="Proof" aria-busy={found.isFetching}>
      <header className={proof.head}>
        <p>
          <b>
            About {asked.about.length} of your {total} products
          </b>
          {asked.shown.length < total && <span className={proof.soft}>{asked.shown.length} are shown</span>}
        </p>
      </header>
      {found.error && <ErrorNote error={found.error} />}
      {products.length === 0 ? (
        <p className={proof.noGoods}>The shop’s catalog names nothing as yours yet.</p>
      ) : (
        <ProofTable surface="product" audiences={audiences}>
          <tbody>
            {(found.data ?? []).map(({ product: id, variant: variantId, cells }) => {
              const product = goodsOf.get(id);
              const variant = product?.variants.find((one) => one.id === variantId);
              if (!product || !variant) return null;
              return (
                <tr key={variantId}>
                  <th scope="row">
                    {titleIn(product.title, shop)}
                    <small>{variantLine({ key: variantId, product, variant })}</small>
                  </th>
                  {cells.map(({ draft, live }, index) => (
                    <td key={audiences[index]?.name}>
                      <div className={`${styles.cell} ${isOther(draft, live) ? styles.changed : ''}`}>
                        <StandIn decision={draft} shop={shop} />
                        <small className={styles.by}>{by(draft, live, rule.id)}</small>
                      </div>
                    </td>
                  ))}
                </tr>
              );
            })}
          </tbody>
        </ProofTable>
      )}
    </section>
  );
}

const shownOf = ({ reasons: _reasons, validUntil: _until, ...shown }: Decision) => JSON.stringify(shown);
const isOther = (draft: Decision, live: Decision) => shownOf(draft) !== shownOf(live);

/** Owner of the rule that decides the button, and whether it is live. */
function by(draft: Decision, live: Decision, rule: string): string {
  const { control } = draft.reasons;
  const who = control.includes(rule)
    ? 'by this rule'
    : control.includes('shop')
      ? 'by the shop’s rules'
      : control.length > 0
        ? 'by another rule of yours'
        : '';
  return [who, isOther(draft, live) && 'not live yet'].filter(Boolean).join(' · ');
}
