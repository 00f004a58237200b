import { build } from './place.ts';

let place: HTMLElement | undefined;

/** Says to those who listen to the page, politely, what has just changed (WAI-ARIA `status`). */
export function announce(words: string): void {
  if (!place?.isConnected) {
    place = build({ tag: 'div', attributes: { role: 'status' } }, 'said');
    document.body.append(place);
  }
  place.textContent = words;
}
