import { Zap } from 'lucide-react';
import type { Decision } from '#core/contract/decision.ts';
import { formatPrice } from '#core/texts/placeholders.ts';
import type { ShopFacts } from '#core/decide/subject.ts';
import styles from './proof.module.css';

/** The shop's own words, where a rule leaves them. */
const OWN_WORDS = 'Add to cart';

/** A control with its price and express pay, as a shopper would see them. */
export function StandIn({ decision, shop }: { readonly decision: Decision; readonly shop: ShopFacts }) {
  const { control, price, express } = decision;
  return (
    <>
      <span className={styles.price}>
        {price.show && price.amount !== null ? (
          <>
            {price.from && 'from '}
            {formatPrice(price.amount, shop, null)}
            {price.was !== null && <s>{formatPrice(price.was, shop, null)}</s>}
          </>
        ) : (
          <Said html={price.text} otherwise="no price" />
        )}
      </span>
      <span className={styles.controls}>
        <span className={`${styles.control} ${styles[control.kind]}`}>
          {control.kind === 'notice' ? (
            <Said html={control.html} otherwise="" />
          ) : (
            (control.label ?? (control.kind === 'nothing' ? 'nothing' : OWN_WORDS))
          )}
        </span>
        {express === 'show' && (
          <span className={styles.express} title="Express pay is shown">
            <Zap size={13} aria-label="express pay" />
          </span>
        )}
      </span>
    </>
  );
}

/** Text that the core has made safe. */
function Said({ html, otherwise }: { readonly html: string | null; readonly otherwise: string }) {
  if (html === null) return <em>{otherwise}</em>;
  return <span dangerouslySetInnerHTML={{ __html: html.replace(/<(\/?)a\b[^>]*>/g, '<$1u>') }} />;
}
