import { shapeOf, type PlainControl } from '#core/controls/controls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { wordsIn } from '#core/texts/locale.ts';
import proof from '../../proof/proof.module.css';
import styles from '../fields/fields.module.css';

/** CSS pixels: a card in two columns, and the buying area, on a telephone 390 wide. */
const WIDTHS = [
  { place: 'on a card', width: 150 },
  { place: 'on its page', width: 310 },
];

/** A label at the widths of a small screen, where words that are too long wrap. */
export function SmallScreen({ control, shop }: { readonly control: PlainControl; readonly shop: ShopFacts }) {
  if (!('label' in control) || control.label === undefined) return null;
  const { label } = control;
  const longest = shop.locales
    .map((locale) => wordsIn(label, locale, shop.locales))
    .reduce((a, b) => (b.length > a.length ? b : a));
  return (
    <div className={styles.smallScreen}>
      {WIDTHS.map(({ place, width }) => (
        <figure key={place}>
          <span className={`${proof.control} ${proof[shapeOf(control)]}`} style={{ width }}>
            {longest}
          </span>
          <figcaption>{place}, small screen</figcaption>
        </figure>
      ))}
    </div>
  );
}
