import { MARK, write } from '../script/marks.ts';
import { alike, shapeOf } from './alike.ts';
import { readableInk } from './contrast.ts';
import { adoptLooks, LOOK_NUMBER, lookOf } from './looks.ts';
import { isWordless } from './shownWords.ts';
import { fitInEveryTheme } from './themes.ts';

/** Style properties that are copied. Sizes keep their written values, such as percentages, while the element is hidden. */
const LOOK = [
  'fontFamily',
  'fontSize',
  'fontStyle',
  'fontWeight',
  'lineHeight',
  'letterSpacing',
  'textTransform',
  'textDecoration',
  'color',
  'borderWidth',
  'borderStyle',
  'borderColor',
  'borderRadius',
  'boxShadow',
  'boxSizing',
  'padding',
  'margin',
  'flex',
  'order',
  'gridArea',
  'alignSelf',
  'justifySelf',
  'float',
  'width',
] as const;

const AROUND = ['paddingTop', 'paddingBottom', 'borderTopWidth', 'borderBottomWidth'] as const;

/** Minimum size of a touch target (WCAG 2.2, 2.5.5). */
const TARGET_PX = 44;

/** Gives a stand-in the look that the shop's own part has when computed, where its classes alone do not. */
export function fit(element: HTMLElement, original: Element): void {
  adoptLooks(element);
  fitInEveryTheme(element, () => {
    fitNow(element, original);
  });
}

function fitNow(element: HTMLElement, original: Element): void {
  element.removeAttribute(LOOK_NUMBER);
  const words = isWordless(original) ? 'wordless' : '';
  const shape = [element, original, original.parentElement].map(shapeOf).join() + words;
  const look = alike(shape, () => {
    measure(element, original);
    const { cssText } = element.style;
    element.removeAttribute('style');
    return lookOf(cssText);
  });
  write(element, LOOK_NUMBER, look);
}

function measure(element: HTMLElement, original: Element): void {
  const own = getComputedStyle(original);
  const marked = original.getAttribute(MARK);
  const { disabled } = original as HTMLButtonElement;
  write(original, MARK, 'shown');
  const { display } = own;
  // Hides it without transitions, so that its enabled look can be measured.
  write(original, MARK, 'away');
  if (disabled) (original as HTMLButtonElement).disabled = false;
  take(element, own);
  element.style.display = display;
  // The words may be written the other way than the page; they stay on the side of the shop's own.
  if (own.textAlign === 'start') element.style.textAlign = own.direction === 'rtl' ? 'right' : 'left';
  if (element.matches('a')) asButton(element, original, own);
  if (disabled) (original as HTMLButtonElement).disabled = true;
  write(original, MARK, marked);
}

function take(element: HTMLElement, own: CSSStyleDeclaration): void {
  const { style } = element;
  style.transition = 'none';
  const now = getComputedStyle(element);
  const different = LOOK.filter((name) => now[name] !== own[name]).map((name) => [name, own[name]] as const);
  for (const [name, value] of different) style[name] = value;
  if (now.background !== own.background) style.background = own.background;
}

function asButton(element: HTMLElement, original: Element, own: CSSStyleDeclaration): void {
  const { style } = element;
  const { display } = style;
  style.display = display.startsWith('inline') ? 'inline-flex' : 'flex';
  const isRow = original.parentElement !== null && /flex|grid/.test(getComputedStyle(original.parentElement).display);
  // A button is as wide as its words, a link that is no part of a row as wide as there is room.
  if (own.width === 'auto' && display === 'block' && !isRow && original.matches('button, input'))
    style.width = 'fit-content';
  const outside =
    own.boxSizing === 'border-box' ? 0 : AROUND.reduce((sum, name) => sum + (parseFloat(own[name]) || 0), 0);
  const least = Math.max(0, TARGET_PX - outside);
  style.minHeight = own.height.endsWith('px') ? `max(${least}px, ${own.height})` : `${least}px`;
  if (isWordless(original)) {
    if (own.backgroundImage.includes('url(')) style.background = own.backgroundColor;
    style.width = 'auto';
    style.paddingInline = '1em';
    style.borderRadius = own.borderRadius.replace('50%', '4em');
    if (parseFloat(own.fontSize) < 9) style.fontSize = '1rem';
    // Of a picture that was all there was to see, words would be left that look like any others.
    if (original.matches('input')) style.border = '1px solid';
  }
  const ink = readableInk(element, getComputedStyle(element).color);
  if (ink !== null) style.color = ink;
}
