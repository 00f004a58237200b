import type { VisitorStatus } from '../model/visitorStatus.ts';
import type { ShopFacts } from '../model/subject.ts';
import { wordsIn } from './locale.ts';
import { toHtml } from './markdown.ts';
import { dateWords, fillWords, instantWords } from './messages.ts';

export const CHOOSE_LABEL = { en: 'See sizes and prices', fr: 'Voir les tailles et les prix' } as const;

/** What stands in a pre-order’s place once all of its cap are reserved, until the owner says it otherwise. */
export const CLOSED_TEXT = { en: 'All of these are reserved.', fr: 'Tout est réservé.' } as const;

/** Why the guard refuses a line, in words for the shopper. */
const REFUSALS = {
  unknownVariant: {
    en: 'This item is no longer in the shop. Please take it out of your cart.',
    fr: 'Cet article n’est plus en boutique. Merci de le retirer du panier.',
  },
  badQuantity: {
    en: 'Please choose a whole number of one or more.',
    fr: 'Merci de choisir un nombre entier, un ou plus.',
  },
  notForSale: {
    en: 'This item cannot be bought here at the moment.',
    fr: 'Cet article ne peut pas être acheté ici pour le moment.',
  },
  signInFirst: {
    en: 'Please sign in to buy this item.',
    fr: 'Merci de vous connecter pour acheter cet article.',
  },
  membersOnly: {
    en: 'This item is not for sale to your account yet.',
    fr: 'Cet article n’est pas encore en vente pour votre compte.',
  },
  cartClosed: {
    en: 'The cart is closed at the moment.',
    fr: 'Le panier est fermé pour le moment.',
  },
  belowMinimum: {
    en: 'Please take more of this item: there is a least quantity.',
    fr: 'Merci d’en prendre davantage : une quantité minimale s’applique.',
  },
  aboveMaximum: {
    en: 'Please take fewer of this item: there is a greatest quantity.',
    fr: 'Merci d’en prendre moins : une quantité maximale s’applique.',
  },
  wrongStep: {
    en: 'This item is only sold in certain quantities. Please choose another.',
    fr: 'Cet article n’est vendu que par certaines quantités. Merci d’en choisir une autre.',
  },
  moreThanInvited: {
    en: 'Your turn on the waitlist is for fewer of this item.',
    fr: 'Votre tour sur la liste d’attente porte sur moins d’exemplaires.',
  },
  capReached: {
    en: 'There are not that many left to reserve.',
    fr: 'Il n’en reste pas autant à réserver.',
  },
  termsChanged: {
    en: 'The terms of this item, or the date on which it ships, have changed. Please look at them again before you order.',
    fr: 'Les conditions de cet article, ou sa date d’expédition, ont changé. Merci de les relire avant de commander.',
  },
  priceTooLow: {
    en: 'Please offer at least the minimum price of this item.',
    fr: 'Merci de proposer au moins le prix minimal de cet article.',
  },
  noExpress: {
    en: 'This item cannot be bought with express pay. Please use the cart.',
    fr: 'Cet article ne peut pas être acheté en paiement express. Merci de passer par le panier.',
  },
  checkoutClosed: {
    en: 'No orders are taken at the moment.',
    fr: 'Aucune commande n’est prise pour le moment.',
  },
  orderWithheld: {
    en: 'This order cannot be placed here at the moment.',
    fr: 'Cette commande ne peut pas être passée ici pour le moment.',
  },
  methodWithheld: {
    en: 'This order cannot be paid that way. Please choose another way to pay.',
    fr: 'Cette commande ne peut pas être réglée ainsi. Merci de choisir un autre moyen de paiement.',
  },
  notEnoughStock: {
    en: 'We do not have that many left.',
    fr: 'Il n’en reste pas autant.',
  },
  priceChanged: {
    en: 'The price of this item has changed. Please look at it again before you buy.',
    fr: 'Le prix de cet article a changé. Merci de le vérifier avant d’acheter.',
  },
} as const;

export type RefusalCode = keyof typeof REFUSALS;
export const REFUSAL_CODES = Object.keys(REFUSALS) as [RefusalCode, ...RefusalCode[]];

/** The guard's refusal in the visitor's language. */
export function refusalText(code: RefusalCode, locale: string | null, locales: readonly string[]): string {
  return wordsIn(REFUSALS[code], locale, locales);
}

/** What a visitor already did, in Markdown. */
const STANDINGS = {
  waiting: {
    en: 'You are number {position} on the waitlist. [Leave the list]({leave})',
    fr: 'Vous êtes au rang {position} sur la liste d’attente. [La quitter]({leave})',
  },
  invited: {
    en: 'It is your turn: it is kept for you until {until}.',
    fr: 'C’est votre tour : il vous est réservé jusqu’au {until}.',
  },
  invitedForGood: { en: 'It is your turn: it is kept for you.', fr: 'C’est votre tour : il vous est réservé.' },
  reserved: { en: 'You have reserved {units}.', fr: 'Vous en avez réservé {units}.' },
  asked: { en: 'You have asked. We will answer you.', fr: 'Vous avez demandé. Nous vous répondrons.' },
} as const;

/** What a visitor already did, as safe HTML in their language. */
export function visitorStatusText(status: VisitorStatus, shop: ShopFacts, locale: string | null): string {
  const isForGood = status.state === 'invited' && status.until === null;
  const text = wordsIn(STANDINGS[isForGood ? 'invitedForGood' : status.state], locale, shop.locales);
  const until = status.state === 'invited' && status.until ? Date.parse(status.until) : null;
  const values = { ...status, until: until === null ? '' : instantWords(until, shop, locale) };
  return toHtml(fillWords(text, values, locale ?? shop.locales[0] ?? 'en'));
}

/** What is said to those who join a list, ask or confirm. */
const WAITLIST_WORDS = {
  confirm: {
    en: 'We have sent you a link. Follow it, and you are on the list.',
    fr: 'Nous vous avons envoyé un lien. Suivez-le, et vous serez sur la liste.',
  },
} as const;

/** Safe HTML in the visitor's language. */
export const waitlistText = (what: keyof typeof WAITLIST_WORDS, locale: string | null, locales: readonly string[]) =>
  wordsIn(WAITLIST_WORDS[what], locale, locales);

const UNTIL_GONE = {
  en: 'you buy it, or leave the list',
  fr: 'jour où vous l’achetez, ou quittez la liste',
} as const;

/** Until when a turn without an end is kept, as it stands after “until” (“jusqu’au”). */
export const untilGoneWords = (locale: string | null, locales: readonly string[]): string =>
  wordsIn(UNTIL_GONE, locale, locales);

const SHIPS = {
  from: { en: 'It ships from {from}.', fr: 'Expédition à partir du {from}.' },
  until: { en: 'It ships by {until}.', fr: 'Expédition au plus tard le {until}.' },
  between: { en: 'It ships between {from} and {until}.', fr: 'Expédition entre le {from} et le {until}.' },
} as const;

/** When something ships, in a locale; empty where that is not known. Dates are ISO 8601. */
export function shipsText(
  { from, until }: { readonly from: string | null; readonly until: string | null },
  locale: string | null,
  { locales }: Pick<ShopFacts, 'locales'>,
): string {
  if (from === null && until === null) return '';
  const words = wordsIn(SHIPS[from === null ? 'until' : until === null ? 'from' : 'between'], locale, locales);
  const day = (date: string | null) => (date === null ? '' : dateWords(date, locale, locales));
  return fillWords(words, { from: day(from), until: day(until) }, 'en');
}

const ASKING = {
  asked: {
    en: 'Thank you. We have your question and will answer by e-mail.',
    fr: 'Merci. Nous avons votre question et vous répondrons par e-mail.',
  },
  quoted: {
    en: 'Thank you. We have your request and will send you a price.',
    fr: 'Merci. Nous avons votre demande et vous enverrons un prix.',
  },
} as const;

/** What is said to those who asked, safe HTML in their language. */
export const askingText = (what: keyof typeof ASKING, locale: string | null, locales: readonly string[]): string =>
  wordsIn(ASKING[what], locale, locales);
