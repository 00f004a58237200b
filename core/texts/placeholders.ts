import { IntlMessageFormat } from 'intl-messageformat';
import { parseLocal } from '../model/calendar.ts';
import type { ShopFacts, Subject } from '../model/subject.ts';
import { dateName } from './dateName.ts';
import { dateFormat, LONG_DATE } from './formats.ts';
import { conventionsOf, wordsIn } from './locale.ts';
import { formatPrice } from './prices.ts';

/** Value of a placeholder: a text, or a number for plurals. */
type Value = string | number;

interface Place {
  readonly subject: Subject;
  readonly left: number | null;
  readonly shop: ShopFacts;
  /** The locale that the text is in. */
  readonly locale: string;
}

/** The closed list of placeholders. */
const PLACEHOLDERS: Readonly<Record<string, (place: Place) => Value>> = {
  'product.id': ({ subject: { product } }) => product?.id ?? '',
  'product.title': ({ subject: { product }, shop, locale }) =>
    product ? wordsIn(product.title, locale, shop.locales) : '',
  'product.path': ({ subject: { product } }) => product?.path ?? '',
  'variant.id': ({ subject: { variant } }) => variant?.id ?? '',
  'variant.title': ({ subject: { variant } }) => variant?.title ?? '',
  'variant.price': ({ subject: { variant }, shop, locale }) =>
    variant ? formatPrice(variant.price, shop, locale) : '',
  'stock.quantity': ({ subject: { variant } }) => (variant?.stock.tracked ? variant.stock.quantity : ''),
  'preorder.left': ({ left }) => left ?? '',
  'waitlist.length': ({ subject: { product, variant } }) => (product?.waiting ?? 0) + (variant?.waiting ?? 0),
  'shop.name': ({ shop }) => shop.name,
};

/** Readable names of placeholders that differ from their own. */
const PLACEHOLDER_NAMES: ReadonlyMap<string, string> = new Map([
  ['product.title', 'product'],
  ['product.path', 'product page'],
  ['variant.title', 'variant'],
  ['variant.price', 'price'],
  ['stock.quantity', 'units in stock'],
  ['preorder.left', 'units left'],
  ['waitlist.length', 'people waiting'],
  ['shop.name', 'shop'],
]);

/** Readable name of a placeholder, such as "ship date". */
export function placeholderName(placeholder: string): string {
  const [, of, name = ''] = NAMED.exec(placeholder) ?? [];
  if (of === 'date') return dateName(name);
  return of === 'attribute' ? name : (PLACEHOLDER_NAMES.get(placeholder) ?? placeholder.replaceAll('.', ' '));
}

/** Placeholders of a named date or attribute of the product. */
const NAMED = /^product\.(date|attribute)\.([\p{L}\p{N}_-]+)$/u;

/** ICU allows no dots or hyphens in names, so they are replaced while parsing by characters that nobody types. */
const toIcu = (name: string) => name.replaceAll('.', '\uE000').replaceAll('-', '\uE001');
const fromIcu = (text: string) => text.replaceAll('\uE000', '.').replaceAll('\uE001', '-');
const DOTTED = /(?<=\{\s*)[\p{L}\p{N}_-]+(?:\.[\p{L}\p{N}_-]+)+(?=\s*[,}])/gu;

type Node = ReturnType<IntlMessageFormat['getAst']>[number];

/** The placeholder that a node asks for; null where it is words or the number of a plural. */
export const placeholderIn = (node: Node): string | null =>
  'value' in node && !isWords(node) ? fromIcu(node.value) : null;

/** The names that a text asks for, plurals and choices looked into. */
function namesIn(nodes: readonly Node[]): string[] {
  return nodes.flatMap((node) => {
    const names = placeholderIn(node) ?? [];
    const inner = 'options' in node ? Object.values(node.options).flatMap((option) => namesIn(option.value)) : [];
    return [names, inner].flat();
  });
}

/** Nodes of type 0 are words as written; all others ask for a name. */
function isWords(node: Node): boolean {
  const type: number = node.type;
  return type === 0;
}

/** Finds a problem with a text's placeholders or plurals; null if there is none. */
export function textFault(text: string): string | null {
  try {
    const unknown = namesIn(toMessage(text, 'en').getAst()).find((name) => !isKnown(name));
    if (unknown === undefined) return null;
    return `only these placeholders: ${Object.keys(PLACEHOLDERS).join(', ')}, product.date.NAME, product.attribute.NAME (not ${unknown})`;
  } catch {
    return 'placeholders and plurals as in ICU MessageFormat, such as {product.title}';
  }
}

const isKnown = (name: string) => Object.hasOwn(PLACEHOLDERS, name) || NAMED.test(name);

/** A text made ready to fill: `escape` is applied to every word that comes from outside the text. */
export type Filled = (subject: Subject, left: number | null, escape: (words: string) => string) => string;

/** Prepares a text in one locale. Texts without placeholders cost nothing to fill. */
export function fillable(text: string, locale: string, shop: ShopFacts): Filled {
  if (!/[{}']/.test(text)) return () => text;
  const message = toMessage(text, locale);
  const names = [...new Set(namesIn(message.getAst()))];
  return (subject, left, escape) => {
    const place = { subject, left, shop, locale };
    const values = names.map((name) => {
      const value = valueOf(name, place);
      return [toIcu(name), typeof value === 'string' ? escape(value) : value] as const;
    });
    return fromIcu(String(message.format(Object.fromEntries(values))));
  };
}

/** A text as an ICU message. @throws {SyntaxError} where it is none */
export function toMessage(text: string, locale: string): IntlMessageFormat {
  const message = text.replace(DOTTED, toIcu);
  return new IntlMessageFormat(message, conventionsOf(locale), undefined, { ignoreTag: true });
}

function valueOf(name: string, place: Place): Value {
  const [, of, named] = NAMED.exec(name) ?? [];
  const { product } = place.subject;
  if (of === 'date' && named !== undefined) return formatDate(product?.dates[named], place.locale);
  if (named !== undefined) return product?.attributes[named] ?? '';
  return PLACEHOLDERS[name]?.(place) ?? '';
}

function formatDate(written: string | undefined, locale: string): string {
  const local = written === undefined ? null : parseLocal(written);
  if (local === null) return '';
  return dateFormat(conventionsOf(locale), LONG_DATE).format(local);
}
