import { hasAmount, withoutAmounts } from '#core/texts/amounts.ts';
import { MARK, write } from './marks.ts';

/** Texts that amounts were taken from, as they were and as they are. */
const changed = new WeakMap<Text, { readonly was: string; readonly now: string }>();

/** Shows an element without the amounts of money in its texts, or as it was. */
export function hideAmounts(element: Element, isHidden: boolean): void {
  const texts = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
  for (let text = texts.nextNode() as Text | null; text; text = texts.nextNode() as Text | null) {
    const before = changed.get(text);
    if (isHidden && hasAmount(text.data)) {
      const was = text.data;
      text.data = withoutAmounts(was);
      changed.set(text, { was, now: text.data });
    } else if (!isHidden && before) {
      changed.delete(text);
      // The shop's own script may have rewritten it.
      if (text.data === before.now) text.data = before.was;
    }
  }
  write(element, MARK, 'shown');
}
