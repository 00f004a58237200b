import { contains } from '../deep.ts';
import { formOf } from './controls.ts';
import type { PageView } from './pageView.ts';
import { ranked, type Sign } from './signs.ts';

/** Context in which fields are searched: an area, and its control. */
export interface FieldContext {
  readonly area: Element;
  readonly control: Element;
  readonly ids: ReadonlySet<string>;
}

const labelOf = (element: Element): string => {
  const label = 'labels' in element ? [...((element.labels as NodeListOf<HTMLLabelElement> | null) ?? [])] : [];
  return [
    ...label.map(({ textContent }) => textContent),
    element.closest('label')?.textContent ?? '',
    element.getAttribute('aria-label') ?? '',
  ].join(' ');
};
const namesOf = (element: Element) =>
  `${element.getAttribute('name') ?? ''} ${element.id} ${element.getAttribute('class') ?? ''}`;
const COUNTS = /qty|quant|menge|anzahl|cantidad|antal|aantal|amount|units|ilos|numero|count|how many/i;
/** Whether a menu goes from one number to the next. */
export const countsUp = (element: Element) => {
  const values = [...element.querySelectorAll('option')].map((option) =>
    Number(option.getAttribute('value') ?? option.textContent),
  );
  return (
    values.length > 1 && values.every((value, index) => Number.isInteger(value) && value === (values[0] ?? 0) + index)
  );
};

/** Whether something to make it less and something to make it more stand right beside it. */
const hasSteps = (element: Element) =>
  [element.previousElementSibling, element.nextElementSibling].every((beside) =>
    /^[−–\-+]$/.test(beside?.textContent.trim() ?? ''),
  );

/** The box or menu of how many. */
export function quantityIn({ area, control, ids }: FieldContext, view: PageView): Element | undefined {
  const fields = view.elements.filter(
    (element) =>
      contains(area, element) &&
      element.matches('select, input:not([type]), input[type=number], input[type=text], input[type=tel]'),
  );
  const form = formOf(control);
  const signs: readonly Sign<Element>[] = [
    {
      weight: 3,
      reason: 'it takes a number',
      holds: (element) => element.matches('[type=number], [inputmode=numeric], [inputmode=decimal]'),
    },
    { weight: 3, reason: 'it counts up', holds: countsUp },
    {
      weight: 3,
      reason: 'it starts at one',
      holds: (element) => element.matches('input') && /^1$/.test(element.getAttribute('value') ?? ''),
    },
    { weight: 2, reason: 'it is named so', holds: (element) => COUNTS.test(`${namesOf(element)} ${labelOf(element)}`) },
    { weight: 2, reason: 'it stands with the control', holds: (element) => form !== null && formOf(element) === form },
    { weight: 2, reason: 'steps stand beside it', holds: hasSteps },
    {
      weight: -9,
      holds: (element) =>
        [...element.querySelectorAll('option')].some((option) => ids.has(option.getAttribute('value') ?? '')),
    },
    { weight: -6, holds: (element) => element.matches('[name=q]:not([type=number]), [type=email]') },
  ];
  return ranked(fields, signs).find(({ score }) => score >= 4)?.candidate;
}

const NEVER = /csrf|token|return|redirect|_method|utf8|plan|frequency|selling/i;

/** Buttons or links of which one is pressed, how that one is marked, and where its variant id is. */
export interface Pressed {
  readonly elements: readonly Element[];
  /** Part of the selector that marks it as pressed. */
  readonly state: string;
  readonly attribute: string;
}

/** Attributes that the storefront script observes. */
const STATES = ['aria-checked', 'aria-pressed'];

/** Elements with variant ids in an attribute, one of which is marked by a state or a class. */
export function pressedVariants({ area, ids }: FieldContext, view: PageView): Pressed | undefined {
  const attributeOf = (element: Element) =>
    [...element.attributes].find(({ name, value }) => name !== 'id' && name !== 'href' && ids.has(value))?.name;
  const candidates = view.elements.filter(
    (element) =>
      contains(area, element) && !element.matches('input, select, option, form') && attributeOf(element) !== undefined,
  );
  for (const candidate of candidates) {
    const attribute = attributeOf(candidate) ?? '';
    const elements = candidates.filter(
      (element) => element.localName === candidate.localName && ids.has(element.getAttribute(attribute) ?? ''),
    );
    if (new Set(elements.map((element) => element.getAttribute(attribute))).size < 2) continue;
    const state = stateOf(elements);
    if (state !== undefined) return { elements, state, attribute };
  }
  return undefined;
}

function stateOf(elements: readonly Element[]): string | undefined {
  const named = STATES.find((name) => elements.every((element) => element.hasAttribute(name)));
  if (named !== undefined) return `[${named}="true"]`;
  const classes = elements.flatMap((element) => [...element.classList]);
  const own = [...new Set(classes)].filter((name) => classes.filter((other) => other === name).length === 1);
  return own.length === 1 ? `.${CSS.escape(own[0] ?? '')}` : undefined;
}

/** The fields of which one has the chosen variant's id as its value. */
export function variantFields(
  { area, control, ids }: FieldContext,
  quantity: Element | undefined,
  view: PageView,
): Element[] {
  const form = formOf(control);
  const fields = view.elements.filter(
    (element) =>
      element !== quantity &&
      (contains(area, element) || (form !== null && formOf(element) === form)) &&
      element.matches('select, input[type=radio], input[type=hidden]'),
  );
  const values = (element: Element) =>
    [element, ...element.querySelectorAll('option')].map((one) => one.getAttribute('value') ?? '');
  const isVisible = (element: Element) => !element.matches('[type=hidden]');
  const signs: readonly Sign<Element>[] = [
    {
      weight: 7,
      reason: 'it has the numbers of variants',
      holds: (element) => values(element).some((value) => ids.has(value)),
    },
    { weight: 3, reason: 'it is chosen from', holds: isVisible },
    {
      weight: 2,
      reason: 'it is sent with the control',
      holds: (element) => form !== null && formOf(element) === form && isVisible(element),
    },
    {
      weight: 2,
      reason: 'it is named so',
      holds: (element) =>
        /varia|sku|option|size|pack|artic|artik|item|product|prod|c[oó]d|^id\b|taille|gr(ö|o)(ß|ss)e|format|pot/i.test(
          namesOf(element),
        ),
    },
    { weight: -9, holds: (element) => NEVER.test(namesOf(element)) },
    { weight: -9, holds: countsUp },
    {
      weight: -3,
      holds: (element) =>
        ids.size > 0 && element.matches('[type=radio], select') && !values(element).some((value) => ids.has(value)),
    },
  ];
  const [first] = ranked(fields, signs).filter(({ score }) => score >= 4);
  if (!first) return [];
  const { candidate } = first;
  const isSame = (element: Element) =>
    element === candidate ||
    (candidate.matches('[type=radio]') && element.getAttribute('name') === candidate.getAttribute('name'));
  return fields.filter(isSame);
}

export const isStock = (element: Element, view: PageView) =>
  element.children.length === 0 &&
  (/stock|availab|verf(ü|u)gbar|dispon|lager|voorraad|skladem|saldo/i.test(namesOf(element)) ||
    /^\W*(\d+\s+)?(only \d+|in stock|out of stock|en stock|auf lager|épuisé|esaurito|agotado)\b/i.test(
      view.text(element),
    ));

/** The longest text of an area that is not the rest of it. */
export function descriptionIn(area: Element, view: PageView): Element | undefined {
  const named = view.elements.find(
    (element) =>
      contains(area, element) &&
      element !== area &&
      element.matches(
        '[itemprop=description], [class*=descr], [id*=descr], [class*=details], [part*=details], [data-details]',
      ),
  );
  if (named) return named;
  const texts = view.elements.filter(
    (element) =>
      contains(area, element) &&
      element.matches('p, div') &&
      element.querySelector('button, input, h1, h2, a') === null,
  );
  const length = (element: Element) => view.text(element).length;
  const [longest] = texts.toSorted((a, b) => length(b) - length(a));
  return longest && length(longest) >= 60 ? longest : undefined;
}
