import { ADD_TO_CART, AT_ONCE, CART_NAME, EXPRESS_NAME } from '../words.ts';
import { contains, parentOf } from '../deep.ts';
import { leadsTo, samePath } from './paths.ts';
import type { PageView } from './pageView.ts';
import { ranked, type Scored, type Sign } from './signs.ts';

/** Context in which a control is searched. */
export interface ControlContext {
  /** The element that shows the product's price, if known. */
  readonly price: Element | undefined;
  /** Ids that goods have in the catalog, or say to machines. */
  readonly ids: ReadonlySet<string>;
  /** The product's own id, one of `ids`. */
  readonly product: string | undefined;
  /** Path of the product's own page. */
  readonly path: string | null;
  /** Addresses that lead to the cart. */
  readonly cartPaths: readonly string[];
  /** Names of controls elsewhere on the page. */
  readonly names: ReadonlySet<string>;
}

/** Minimum score of a control. */
const LEAST = 3;

const FIELDS_OF_OTHERS =
  'input[type=email], input[type=search], input[type=password], input[type=tel], input[type=file], textarea, input[name=email], input[name=q]:not([type=number]), input[name=query], input[name=search]';

/** The form that something submits, or is in. */
export const formOf = (element: Element): HTMLFormElement | null =>
  ('form' in element && element.form instanceof HTMLFormElement ? element.form : null) ?? element.closest('form');

export const isSubmit = (element: Element): boolean =>
  formOf(element) !== null &&
  (element.matches('input[type=submit], input[type=image]') ||
    (element.matches('button') && !/^(button|reset)$/.test(element.getAttribute('type') ?? 'submit')));

/** Address to which a form or an acting link sends the choice. */
export function actionOf(element: Element): string {
  const action = isSubmit(element)
    ? (element.getAttribute('formaction') ?? formOf(element)?.getAttribute('action'))
    : null;
  const to = action ?? (element.matches('a') ? element.getAttribute('href') : null);
  if (to === null) return '';
  try {
    return new URL(to, element.baseURI).pathname;
  } catch {
    return '';
  }
}

/** Whether a path is the cart, or something that is done with it. */
const isBelow = (path: string, cart: string) =>
  cart.length > 1 && (samePath(path, cart) || path.startsWith(`${cart.replace(/\/$/, '')}/`));

/** Addresses that remove a line from the cart, or recalculate it. */
export const TAKES_OUT = /remov|delet|updat|take-?out|empty|clear/i;

/** Values in attributes of an element and of fields of its form. */
function valuesOf(element: Element): string[] {
  const form = formOf(element);
  const fields = isSubmit(element) && form ? [...form.querySelectorAll('input, option, select')] : [];
  return [element, ...fields].flatMap(({ attributes }) => [...attributes].map(({ value }) => value));
}

const names = (element: Element) =>
  ['id', 'class', 'name', 'part', 'data-action', 'rel'].map((name) => element.getAttribute(name) ?? '').join(' ');

/** Finds a variant's id in an element: in an attribute, or in an address of this page. */
function sizeOf(element: Element, ids: ReadonlySet<string>): { name: string; value: string } | undefined {
  const found = [...element.attributes].find(({ name, value }) => name !== 'href' && ids.has(value));
  const to = leadsTo(element);
  const isHere = to !== null && samePath(to.pathname, new URL(element.baseURI).pathname);
  const inAddress = isHere ? [...to.searchParams].find(([, value]) => ids.has(value)) : undefined;
  const [name, value] = found ? [found.name, found.value] : (inAddress ?? []);
  return name === undefined || value === undefined ? undefined : { name, value };
}

/** Ranks the elements that could add the product to the cart, the best first. */
export function rankedControls(
  candidates: readonly Element[],
  around: ControlContext,
  view: PageView,
): Scored<Element>[] {
  const { price, ids, path, cartPaths } = around;
  const raised = candidates.filter((element) => view.isRaised(element));
  const largest = Math.max(0, ...raised.map((element) => view.size(element)));
  const nearest = price && Math.min(...candidates.map((element) => view.distance(element, price)));
  const nameOf = (element: Element) => view.name(element);
  const hasId = (element: Element) =>
    valuesOf(element).some((value) => ids.has(value) || [...ids].some((id) => id.length > 3 && value.endsWith(id)));
  // A question about a product, or a comparison, has its number too, and asks for a page.
  const isAbout = (element: Element) =>
    element.matches('a[href]') && hasId(element) && sizeOf(element, ids) === undefined && !isOfVariant(element);
  const isOfVariant = (element: Element) =>
    [...(leadsTo(element)?.searchParams.values() ?? [])].some((value) => ids.has(value) && value !== around.product) ||
    cartPaths.some((cart) => isBelow(actionOf(element), cart));
  const target = (element: Element) => (element.matches('a') ? leadsTo(element) : null);
  const sizes = candidates.flatMap((element) => {
    const size = sizeOf(element, ids);
    return size ? [{ element, ...size }] : [];
  });
  const isSize = (element: Element) => {
    const own = sizes.find((size) => size.element === element);
    const isBeside = (other: Element) =>
      other.parentElement === element.parentElement ||
      (other.className !== '' && other.className === element.className);
    return sizes.some((other) => other.name === own?.name && other.value !== own.value && isBeside(other.element));
  };
  const signs: readonly Sign<Element>[] = [
    { weight: 8, reason: 'it sends the product’s own number', holds: (element) => hasId(element) && !isAbout(element) },
    { weight: 2, holds: isAbout },
    {
      weight: 5,
      reason: 'it sends to the cart',
      holds: (element) => {
        const action = actionOf(element);
        return (
          action !== '' &&
          !TAKES_OUT.test(action) &&
          (cartPaths.some((cart) => isBelow(action, cart) && (isSubmit(element) || !samePath(action, cart))) ||
            (isSubmit(element) && CART_NAME.test(action)))
        );
      },
    },
    {
      weight: 4,
      reason: 'its words say so',
      holds: (element) => ADD_TO_CART.test(nameOf(element)) && nameOf(element).length <= 60,
    },
    {
      weight: 3,
      reason: 'it is called so elsewhere on the page',
      holds: (element) => around.names.has(nameOf(element)),
    },
    { weight: 3, reason: 'it submits a form', holds: (element) => isSubmit(element) && formOf(element) !== null },
    {
      weight: 2,
      reason: 'it is filled with a colour',
      holds: (element) => view.isFilled(element) && !element.matches('[aria-pressed], [role=radio]'),
    },
    {
      weight: 2,
      reason: 'it is drawn as a button',
      holds: (element) => raised.includes(element) && !element.matches('[aria-pressed], [role=radio]'),
    },
    {
      weight: 1,
      reason: 'it is the largest there',
      holds: (element) => raised.includes(element) && view.size(element) >= largest * 0.95,
    },
    {
      weight: 2,
      reason: 'it is the nearest to the price',
      holds: (element) => price !== undefined && view.distance(element, price) <= (nearest ?? 0) * 1.05,
    },
    {
      weight: 1,
      reason: 'it stands with what is chosen',
      holds: (element) => formOf(element)?.querySelector('select, input[type=radio], input[type=number]') != null,
    },
    { weight: 3, reason: 'it says that it acts', holds: (element) => element.matches('a[role=button]') },
    { weight: 1, holds: (element) => /(^|[^a-z])(add|buy|cart|basket|order)([^a-z]|$)/i.test(names(element)) },
    {
      weight: -9,
      holds: (element) =>
        element.closest('nav, [role=navigation], [role=search], [role=tablist]') !== null || isInOther(element, price),
    },
    { weight: -6, holds: (element) => (formOf(element)?.querySelector(FIELDS_OF_OTHERS) ?? null) !== null },
    { weight: -6, holds: (element) => isStep(element, view) },
    {
      weight: -12,
      holds: (element) =>
        element.matches(
          '[aria-pressed], [aria-checked], [aria-expanded], [aria-haspopup], [role=radio], [role=tab], [type=reset]',
        ),
    },
    // One of several with numbers of their own is the choice.
    { weight: -12, holds: isSize },
    // A sign that says nothing of adding: a heart, an arrow, a glass.
    { weight: -5, holds: (element) => /^[^\p{L}\p{N}+🛒🛍]{1,3}$/u.test(view.text(element)) },
    {
      weight: -4,
      holds: (element) =>
        /wish|favou?rit|preferit|compar|share|later|merk|remind|heart|review|question|zoom/i.test(
          `${names(element)} ${nameOf(element)}`,
        ),
    },
    {
      weight: -20,
      holds: (element) => {
        const to = target(element);
        return (
          to !== null &&
          ((path !== null && samePath(to.pathname, path)) || /^(mailto|tel):/.test(to.protocol)) &&
          !hasOwnQuery(to, ids)
        );
      },
    },
    {
      weight: -3,
      holds: (element) => element.matches('a:not([role=button])') && !raised.includes(element) && !hasId(element),
    },
    { weight: -3, holds: (element) => element.matches('a[href^="#"]:not([role=button])') },
    {
      weight: -3,
      holds: (element) => element.closest('header, footer') !== null && element.closest('article, form, main') === null,
    },
    { weight: -2, holds: (element) => nameOf(element).length > 60 },
  ];
  return ranked(candidates, signs).filter(({ score }) => score >= LEAST);
}

/** In something that opens over the page, which the price is not in. */
function isInOther(element: Element, price: Element | undefined): boolean {
  const dialog = element.closest('[role=dialog]:not([open])');
  return dialog !== null && !(price && contains(dialog, price));
}

const hasOwnQuery = ({ search }: URL, ids: ReadonlySet<string>) =>
  [...new URLSearchParams(search).values()].some((value) => ids.has(value));

/** One that makes a number beside it larger or smaller. */
function isStep(element: Element, view: PageView): boolean {
  if (/[\p{L}]/u.test(view.text(element)) || isSubmit(element)) return false;
  const fields = [...(parentOf(element)?.querySelectorAll('input') ?? [])];
  return fields.some(
    (field) =>
      /^\d*$/.test(field.getAttribute('value') ?? 'x') &&
      !field.matches('[type=hidden], [type=radio], [type=checkbox]'),
  );
}

/**
 * The control among those that could be it, and what does the same at once: what is done now, without a cart, gives way to
 * what stands beside it and is drawn like it.
 */
export function controlAmong(candidates: readonly Scored<Element>[], view: PageView): Scored<Element> | undefined {
  const control = candidates.find(({ candidate }) => !EXPRESS_NAME.test(wordsOf(candidate, view)));
  if (!control || !AT_ONCE.test(view.name(control.candidate))) return control;
  const slower = candidates.find(
    ({ candidate }) =>
      candidate !== control.candidate &&
      isBeside(candidate, control.candidate) &&
      view.isRaised(candidate) &&
      !AT_ONCE.test(view.name(candidate)),
  );
  return slower ?? control;
}

const isBeside = (a: Element, b: Element) =>
  parentOf(a) === parentOf(b) || (formOf(a) !== null && formOf(a) === formOf(b));

const wordsOf = (element: Element, view: PageView) =>
  `${view.name(element).slice(0, 60)} ${names(element)} ${actionOf(element)}`;

/** Express pay, by its name or as an immediate action beside the cart button. */
export function isExpress(element: Element, control: Element, view: PageView): boolean {
  if (element === control || contains(element, control)) return false;
  if (EXPRESS_NAME.test(wordsOf(element, view))) return true;
  return isBeside(element, control) && AT_ONCE.test(view.name(element)) && !AT_ONCE.test(view.name(control));
}
