import { write } from '../script/marks.ts';
import { alike, shapeOf } from './alike.ts';
import { readableInk } from './contrast.ts';
import { adoptLooks, WORDS } from './looks.ts';

/** Attributes that name a button for screen readers. */
const NAMES = ['aria-label', 'title', 'alt'];

interface Before {
  readonly names: readonly (readonly [string, string])[];
  readonly colour: string;
  readonly isGrown: boolean;
  readonly marked: readonly Element[];
  readonly isImage: boolean;
  readonly isOff: boolean;
}

const before = new WeakMap<Element, Before>();

/** Whether a button shows no words: an icon, a picture, words for those who listen alone. */
export function isWordless(element: Element): boolean {
  const known = before.get(element);
  if (known) return known.isGrown;
  if (element instanceof HTMLInputElement) return element.type === 'image';
  return holdersOf(element).every(isUnseen);
}

/** Finds the elements that hold a button's text. */
function holdersOf(element: Element): readonly Element[] {
  const holders = new Set<Element>();
  const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
  while (walker.nextNode()) {
    const { nodeValue, parentElement } = walker.currentNode;
    if (nodeValue?.trim() && parentElement) holders.add(parentElement);
  }
  return [...holders];
}

const isUnseen = (holder: Element): boolean =>
  alike(`unseen ${shapeOf(holder)}${shapeOf(holder.parentElement)}`, () => {
    const style = getComputedStyle(holder);
    const { clipPath, textIndent, fontSize } = style;
    const isClipped = style.getPropertyValue('clip') !== 'auto' || /inset\((50|100)%/.test(clipPath);
    return isClipped || Math.abs(parseFloat(textIndent)) > 99 || parseFloat(fontSize) < 2;
  });

/**
 * Makes a button's new text visible and its accessible name; a button that was only a picture grows for it.
 * @param hadWords whether the button had text before, visible or not
 * @param isOn whether it can be pressed now, although the shop has it off
 */
export function showWords(element: Element, words: string, hadWords: boolean, isOn: boolean): void {
  hideWords(element);
  const isInput = element instanceof HTMLInputElement;
  const isImage = isInput && element.type === 'image';
  const holders = holdersOf(element).filter(isUnseen);
  const isGrown = isInput ? isImage : !hadWords || holders.length === holdersOf(element).length;
  const isOff = isOn && (element as HTMLButtonElement).disabled;
  const { style } = element as HTMLElement;
  before.set(element, {
    names: NAMES.flatMap((name) => {
      const value = element.getAttribute(name);
      return value === null ? [] : [[name, value] as const];
    }),
    colour: style.color,
    isGrown,
    marked: [element, ...(isGrown ? holders : [])],
    isImage,
    isOff,
  });
  for (const name of NAMES) if (element.hasAttribute(name)) write(element, name, words);
  if (isOff) (element as HTMLButtonElement).disabled = false;
  if (!isGrown && !isOn) return;
  adoptLooks(element);
  write(element, WORDS, isOn ? 'on' : '');
  if (!isGrown) return;
  const { color, borderRadius, fontSize, backgroundImage } = getComputedStyle(element);
  const how = [
    parseFloat(fontSize) < 9 && 'small',
    borderRadius.includes('50%') && 'round',
    backgroundImage.includes('url(') && 'picture',
  ];
  write(element, WORDS, [isOn && 'on', 'grown', ...how].filter(Boolean).join(' '));
  if (isImage) {
    element.type = 'submit';
    element.value = words;
  }
  for (const holder of holders) if (holder !== element) write(holder, WORDS, 'inner');
  const ink = readableInk(element, color);
  if (ink !== null) style.color = ink;
}

/** The button as the shop made it. */
export function hideWords(element: Element): void {
  const known = before.get(element);
  if (!known) return;
  before.delete(element);
  for (const [name, value] of known.names) write(element, name, value);
  for (const marked of known.marked) write(marked, WORDS, null);
  (element as HTMLElement).style.color = known.colour;
  if (known.isOff) (element as HTMLButtonElement).disabled = true;
  if (known.isImage && element instanceof HTMLInputElement) {
    element.type = 'image';
    element.removeAttribute('value');
  }
}
