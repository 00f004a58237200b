import { Zap } from 'lucide-react';
import type { Decision, Visit } from '#core/engine/decision.ts';
import { controlOf, shapeOf, SHOP_LABEL, wordsOf, type DecidedControl } from '#core/controls/controls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { formatPrice } from '#core/texts/prices.ts';
import { inert } from '../shared/inert.ts';
import styles from './proof.module.css';

interface StandInProps {
  readonly decision: Decision;
  readonly shop: ShopFacts;
}

/** A control with all that stands around it, as a shopper would see it. */
export function StandIn({ decision, shop }: StandInProps) {
  const { control, express, notes, style, visibility, afterOrder } = decision;
  const at = (...places: readonly (typeof notes)[number]['place'][]) =>
    notes.filter(({ place }) => places.includes(place)).map((note, index) => <Note key={index} note={note} />);
  if (visibility.state === 'blocked') {
    return (
      <span className={styles.unseen}>
        no page{visibility.redirectTo !== null && `: leads to ${visibility.redirectTo}`}
      </span>
    );
  }
  return (
    <>
      {visibility.state === 'offListings' && <span className={styles.unseen}>off listings</span>}
      {at('badge')}
      <PriceLine decision={decision} shop={shop} />
      {at('belowPrice', 'belowStock', 'inDescription', 'aboveControl')}
      <span className={styles.controls}>
        {control.beside && <span className={`${styles.control} ${styles.solid}`}>{SHOP_LABEL}</span>}
        <Control control={control} />
        {express === 'show' && (
          <span className={styles.express} title="Express pay is shown">
            <Zap size={13} aria-label="express pay" />
          </span>
        )}
      </span>
      <Terms decision={decision} shop={shop} />
      {at('belowControl', 'endOfBuyArea')}
      {afterOrder && (
        <span className={styles.note}>
          after the order: <Text html={afterOrder.html} />
        </span>
      )}
      {style.length > 0 && <code className={styles.terms}>.{style.join(' .')}</code>}
    </>
  );
}

function Control({ control }: { readonly control: DecidedControl }) {
  const { html, look } = control;
  const { isText } = controlOf(control);
  const colours = look && {
    ...(look.fill === null ? {} : { background: look.fill, borderColor: look.fill }),
    ...(look.ink === null ? {} : { color: look.ink }),
  };
  return (
    <span className={`${styles.control} ${styles[shapeOf(control)]}`} style={colours ?? {}}>
      {isText && html !== null ? <Text html={html} /> : wordsOf(control)}
    </span>
  );
}

function PriceLine({ decision: { price, surface }, shop }: StandInProps) {
  if (surface === 'cart') return null;
  return (
    <span className={styles.price}>
      {price.show && price.amount !== null ? (
        <>
          <span>
            {price.from && 'from '}
            {formatPrice(price.amount, shop, null)}
            {price.suffix !== null && ` ${price.suffix}`}
          </span>
          {price.was !== null && <s>{formatPrice(price.was, shop, null)}</s>}
        </>
      ) : price.text === null ? (
        <em>no price</em>
      ) : (
        <Text html={price.text} />
      )}
    </span>
  );
}

/** Terms: units left, ship date, people waiting, minimum price, quantities. */
function Terms({ decision: { control, limits }, shop }: StandInProps) {
  const { min, max, step } = limits;
  const terms = [
    ...(controlOf(control).details?.(control, (minor) => formatPrice(minor, shop, null)) ?? []),
    min > 1 && `min ${min}`,
    max !== null && `max ${max}`,
    step > 1 && `in ${step}s`,
  ].filter((term) => typeof term === 'string');
  return terms.length > 0 && <span className={styles.terms}>{terms.join(' · ')}</span>;
}

function Note({ note: { place, html } }: { readonly note: Decision['notes'][number] }) {
  return (
    <span className={place === 'badge' ? styles.badge : styles.note}>
      <Text html={html} />
    </span>
  );
}

/** Text that the core has made safe. */
function Text({ html }: { readonly html: string }) {
  return <span dangerouslySetInnerHTML={{ __html: inert(html) }} />;
}

/** Visit decision for a cart with one variant. */
export function CartStandIn({ visit: { cart, checkout } }: { readonly visit: Visit }) {
  const { submitOrder, hideMethods } = checkout;
  return (
    <>
      <span className={cart.open ? styles.door : styles.doorShut}>cart {cart.open ? 'open' : 'closed'}</span>
      <span className={checkout.open ? styles.door : styles.doorShut}>
        checkout {checkout.open ? 'open' : 'closed'}
      </span>
      {!submitOrder.show && (
        <span className={styles.note}>
          {submitOrder.text === null ? 'no order button' : <Text html={submitOrder.text} />}
        </span>
      )}
      {hideMethods.length > 0 && <span className={styles.terms}>without {hideMethods.join(', ')}</span>}
    </>
  );
}
