import type { PageMap } from '#core/contract/shopCalls.ts';

/** Says of an element of the page what we made of it: `shown` as it is, or `away`. */
export const MARK = 'data-understudy';
/** Marks what we put into the page. */
export const STAND_IN = 'data-understudy-stand-in';

/**
 * Keeps controls, prices and express buttons out of sight, in their space, until it is known what stands there. A sheet
 * that is adopted, not written into the page: a strict content security policy allows it.
 */
export function hold({ productPage, card, control, express, price }: PageMap): { release: () => void } {
  const parts = [control, express, price].filter((selector) => selector !== undefined).join(', ');
  const sheet = new CSSStyleSheet();
  const areas = `:is(${productPage.area}, ${card.area})`;
  sheet.insertRule(`[${MARK}='away'] { display: none !important; }`);
  const held = sheet.insertRule(
    `${areas} :is(${parts}):not([${MARK}], [${STAND_IN}]) { visibility: hidden !important; }`,
    1,
  );
  document.adoptedStyleSheets = [...document.adoptedStyleSheets, sheet];
  let holding = true;
  return {
    release() {
      if (holding) sheet.deleteRule(held);
      holding = false;
    },
  };
}
