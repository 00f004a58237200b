import { STAND_IN } from './marks.ts';

/**
 * Keeps presses on stand-ins from scripts of the page: those that wait for the shop's own button, by a class that a
 * stand-in has too, would put the product into the cart. What a stand-in does itself, and its address, stay.
 * @param heard called with every press, including those kept from the page
 */
export function keepPresses(heard: (press: Event) => void): void {
  addEventListener(
    'click',
    (event) => {
      heard(event);
      // The innermost, also in shadow roots; a press of the page's own making may be on none.
      const target = event.composedPath()[0] as Partial<Element>;
      const standIn = target.closest?.<HTMLElement>(`a[${STAND_IN}]`);
      if (!standIn) return;
      event.stopImmediatePropagation();
      standIn.onclick?.(event);
    },
    true,
  );
}
