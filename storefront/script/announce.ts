import type { SharedDecision } from '#core/engine/decision.ts';
import type { Area } from './areas.ts';
import { wordsFor } from './control.ts';
import { build } from './place.ts';

let place: HTMLElement | undefined;

/** Tells those who listen to the page what another control has come to stand where one stood. */
export function announcer(): (area: Area, control: SharedDecision['control']) => void {
  /** Last text announced for each area. */
  const announced = new WeakMap<Element, string>();
  return ({ element, path }, control) => {
    const words = `${path} ${wordsFor(control)}`;
    const before = announced.get(element);
    announced.set(element, words);
    // A page that shows another product says so itself.
    if (before !== words && before?.startsWith(`${path} `)) announce(wordsFor(control));
  };
}

/** Says to those who listen to the page, politely, what has just changed (WAI-ARIA `status`). */
function announce(words: string): void {
  if (!place?.isConnected) {
    place = build({ tag: 'div', attributes: { role: 'status' } }, 'said');
    document.body.append(place);
  }
  place.textContent = words;
}
