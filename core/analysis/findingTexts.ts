import type { Surface } from '../model/subject.ts';
import type { FindingKind } from './finding.ts';

const PLACE_WORDS: Readonly<Record<Surface, string>> = {
  product: 'the product’s page',
  listing: 'listings',
  quickView: 'quick views',
  cart: 'the cart',
  checkout: 'the checkout',
};

/** What is seen in goods, of a rule as it is called and goods as they are counted. */
export const FINDING_TEXTS: Partial<Record<FindingKind, (rule: string, goods: string, surface: Surface) => string>> = {
  untrackedStock: (rule, goods) =>
    `${rule} checks the stock of ${goods} whose stock is not tracked, so it never applies to them.`,
  priceShownElsewhere: (rule, goods, surface) =>
    `${rule} hides the price of ${goods} on ${PLACE_WORDS[surface]}, and it is shown in another place.`,
  guardLetsThrough: (rule, goods, surface) =>
    `${rule} removes the button of ${goods} on ${PLACE_WORDS[surface]} only, so they can still be bought.`,
  guardRefuses: (rule, goods, surface) =>
    `${rule} withholds ${goods} everywhere but on ${PLACE_WORDS[surface]}, where the button leads to a refusal.`,
  hiddenPriceSold: (rule, goods) => `${rule} hides the price of ${goods}, which can still be bought.`,
  waitlistInStock: (rule, goods) => `${rule} keeps a waitlist for ${goods} in stock. That may be intended.`,
  preorderWithoutDate: (rule, goods) => `${rule} takes pre-orders of ${goods} without saying when it ships.`,
};
