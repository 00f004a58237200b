import { STAND_IN } from './marks.ts';

let place: HTMLElement | undefined;

/** Says to those who listen to the page, politely, what has just changed (WAI-ARIA `status`). */
export function sayQuietly(words: string): void {
  if (!place?.isConnected) {
    place = document.createElement('div');
    place.setAttribute(STAND_IN, 'said');
    place.role = 'status';
    place.dir = 'auto';
    document.body.append(place);
  }
  place.textContent = words;
}
