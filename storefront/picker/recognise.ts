import type { PickerStart } from '#core/contract/pageMapCalls.ts';
import { contains, parentOf, wordsOf } from './deep.ts';
import { ADD_TO_CART, CART_NAME, EXPRESS_NAME, MONEY } from './words.ts';

/** What the picker knows of the shop's goods. */
export type Known = Pick<PickerStart, 'products' | 'exponent'>;

const PRESSABLE = 'button, input[type=submit], input[type=button], input[type=image], a, [role=button]';

export const isUnseen = (element: Element) =>
  element.closest('head, script, style, noscript, template') !== null ||
  element.hasAttribute('data-understudy-stand-in');

const formActionOf = (element: Element) =>
  element.getAttribute('formaction') ?? element.closest('form')?.getAttribute('action') ?? '';

const namesOf = (element: Element) =>
  ['id', 'class', 'name', 'href', 'part', 'data-action', 'aria-label', 'value', 'itemprop', 'rel']
    .map((name) => element.getAttribute(name) ?? '')
    .join(' ');

/** A button that puts something into the cart: by its words, its names, or where its form goes. */
export function isControl(element: Element): boolean {
  if (!element.matches(PRESSABLE) || isExpress(element)) return false;
  const words = wordsOf(element);
  if (words.length > 60) return false;
  const isSubmit =
    (element.matches('button') && !/^(button|reset)$/.test(element.getAttribute('type') ?? 'submit')) ||
    element.matches('input[type=submit], input[type=image]');
  if (
    isSubmit &&
    CART_NAME.test(formActionOf(element)) &&
    !/remove|delete|update|take-out|empty/i.test(formActionOf(element) + namesOf(element))
  )
    return true;
  // A link puts something in only when it goes to the cart or elsewhere, or looks like a button.
  if (element.matches('a:not([role=button])')) {
    const href = element.getAttribute('href') ?? '';
    const isMeant =
      CART_NAME.test(href) || /^https?:/.test(href) || /\b(buy|cart|add|btn|button|cta)/i.test(namesOf(element));
    return isMeant && ADD_TO_CART.test(words);
  }
  return ADD_TO_CART.test(words) || (/add[-_ ]?to[-_ ]?(cart|basket|bag)/i.test(namesOf(element)) && words !== '');
}

export const isExpress = (element: Element) =>
  element.matches(PRESSABLE) &&
  EXPRESS_NAME.test(`${namesOf(element)} ${wordsOf(element).slice(0, 60)} ${formActionOf(element)}`);

export const isQuantity = (element: Element) =>
  element.matches('input[type=number], input[inputmode=numeric], select, input[type=text]') &&
  /qty|quantit|menge|anzahl|cantidad|quantidade|antal|aantal|amount|units|ilosc/i.test(
    namesOf(element) + (element.closest('label')?.textContent ?? ''),
  );

export const isStock = (element: Element) =>
  element.children.length === 0 &&
  (/stock|availab|verf(ü|u)gbar|dispon|lager|voorraad|skladem/i.test(namesOf(element)) ||
    /^\W*(\d+\s+)?(in stock|out of stock|en stock|auf lager|épuisé|esaurito|agotado)\b/i.test(wordsOf(element)));

export const isDescription = (element: Element) =>
  element.matches(
    '[itemprop=description], [class*=descr], [id*=descr], [class*=details], [part*=details], [data-details]',
  );

/** Something by which a variant is chosen: the field whose value goes along with the control. */
export function isSwitcher(element: Element, control: Element): boolean {
  if (!element.matches('select, input[type=radio], input[type=hidden]') || isQuantity(element)) return false;
  const names = `${element.getAttribute('name') ?? ''} ${element.id} ${element.className}`;
  const labelledAs =
    /varia|sku|option|size|pack|artic|artik|item|product|prod|c[oó]d|^id\b|taille|gr(ö|o)(ß|ss)e|format|pot/i.test(
      names,
    );
  const form = control.closest('form');
  const isInForm = form?.contains(element) ?? false;
  return (
    labelledAs && !/csrf|token|return|redirect|_method/i.test(names) && (isInForm || element.localName === 'select')
  );
}

/** The price of an area: the innermost text of money nearest its control, the shop's own amount first. */
export function priceIn(
  area: Element,
  areas: readonly Element[],
  elements: readonly Element[],
  pathname: string,
  { products, exponent }: Known,
): Element[] {
  const inner = areas.filter((other) => other !== area && contains(area, other));
  const within = elements.filter(
    (element) => contains(area, element) && element !== area && !inner.some((other) => contains(other, element)),
  );
  const money = within.filter(
    (element) =>
      !element.matches('option, del, s, strike, script, button, a, label, input') &&
      !element.closest(
        'del, s, strike, [class*=was], [class*=old], [class*=before], [class*=shipping], [class*=delivery]',
      ) &&
      MONEY.test(wordsOf(element)) &&
      wordsOf(element).length <= 40,
  );
  // The outermost that says little else, so that its "from" goes along.
  const bare = money.filter((element) => {
    const rest = wordsOf(element).replace(MONEY, '').trim();
    return rest.length <= 6 && !/\d/.test(rest);
  });
  const whole = bare
    .filter((element) => {
      const around = parentOf(element);
      return !around || !bare.includes(around);
    })
    .map(bestNamed);
  const prices = products.find(({ path }) => path === pathname)?.prices ?? [];
  const amounts = new Set(prices.map((price) => (price / 10 ** exponent).toFixed(exponent).replace(/\D/g, '')));
  const ranked = [
    ...whole.filter((element) => element.matches('[itemprop=price], [class*=price], [part*=price], [data-price]')),
    ...whole.filter((element) => amounts.has(wordsOf(element).replace(/\D/g, ''))),
    ...whole,
  ];
  return ranked.slice(0, 1);
}

/** What has no name of its own gives way to the one thing in it that says the same. */
function bestNamed(element: Element): Element {
  const [only] = element.children;
  const isNamed = ['id', 'class', 'part', 'itemprop'].some((name) => element.hasAttribute(name));
  const isSame = only && element.children.length === 1 && wordsOf(only) === wordsOf(element);
  return isNamed || !isSame ? element : bestNamed(only);
}
