import { frame } from './frames.ts';
import { blink } from './lights.ts';
import { make } from './make.ts';
import { foundOn, type Part } from './parts.ts';
import type { Draft } from './propose.ts';

/** Makes what was chosen blink, here and on every other page of the map, shown beside each other. */
export function proofStrip(part: Part, map: Draft, side: 'left' | 'right', close: () => void): HTMLElement {
  const here = foundOn(document, location.pathname, map, part);
  blink(here);
  const paths = (map.pages ?? []).filter((path) => path !== location.pathname);
  const windows = paths.map((path) => {
    const says = make('span', {}, `${path}: loading …`);
    const shown = frame(path, () => {
      const page = shown.page();
      if (!page) {
        says.textContent = `${path}: this shop lets no page be framed`;
        return;
      }
      const found = foundOn(page, path, map, part);
      says.textContent = `${path}: ${found.length}`;
      if (!seen.has(found[0])) blink(found);
      seen.add(found[0]);
    });
    const seen = new Set<Element | undefined>();
    return make('li', {}, says, make('div', { class: 'window' }, shown.element));
  });
  return make(
    'section',
    { class: `strip ${side}`, 'aria-label': 'Prove it' },
    make(
      'header',
      {},
      make(
        'span',
        {},
        `${part.name}: ${here.length} on this page, blinking${windows.length > 0 ? ', and on the other pages:' : '. No other pages are kept to look at.'}`,
      ),
      make('button', { type: 'button', id: 'close-strip', click: close }, 'Close'),
    ),
    make('ol', {}, ...windows),
  );
}
