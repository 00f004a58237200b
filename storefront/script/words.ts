import { fitting } from './fitting.ts';

const written = new WeakMap<Node, string>();

/** Whether a text is still ours. */
export const isWritten = (node: Node) => written.has(node) && written.get(node) === node.nodeValue;

/** Original text of changed elements, and our own. */
const changed = new WeakMap<Element, { original: string[]; ours: string }>();

/**
 * Changes a button's words, keeping its other content, and remembers its own.
 * @param isOn whether the button is to be on, although the shop has it off
 */
export function setWords(element: Element, words: string, isOn: boolean): void {
  const before = changed.get(element);
  const current = wordsOf(element);
  if (before?.ours === words && current.length === 1 && current[0] === words) return;
  // Other text was written by the page since.
  const original = before && current.length === 1 && current[0] === before.ours ? before.original : current;
  changed.set(element, { original, ours: words });
  write(element, [words]);
  fitting?.showWords(element, words, original.length > 0, isOn);
}

/** Gives a button its own words back. */
export function restoreWords(element: Element): void {
  const before = changed.get(element);
  if (!before) return;
  changed.delete(element);
  fitting?.hideWords(element);
  const current = wordsOf(element);
  if (current.length === 1 && current[0] === before.ours) write(element, before.original);
}

const isLabelledByValue = (element: Element): element is HTMLInputElement =>
  element instanceof HTMLInputElement && /^(submit|button|reset)$/.test(element.type);

function wordsOf(element: Element): string[] {
  if (isLabelledByValue(element)) return [element.value];
  return textsIn(element)
    .map(({ data }) => data)
    .filter((data) => data.trim() !== '');
}

/** Writes into the texts that are there, so that icons and markup stay. */
function write(element: Element, words: readonly string[]): void {
  if (isLabelledByValue(element)) {
    element.value = words[0] ?? '';
    return;
  }
  const texts = textsIn(element);
  if (texts.length === 0) element.append(words.join(' '));
  let next = 0;
  for (const text of texts) {
    if (text.data.trim() === '' && next >= words.length) continue;
    const wanted = words[next] ?? '';
    next += 1;
    if (text.data === wanted) continue;
    text.data = wanted;
    written.set(text, wanted);
  }
}

function textsIn(element: Element): Text[] {
  const texts: Text[] = [];
  const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
  while (walker.nextNode()) texts.push(walker.currentNode as Text);
  return texts;
}
