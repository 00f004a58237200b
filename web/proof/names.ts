import type { DecidedControl } from '#core/contract/decision.ts';
import type { Aspect } from '#core/decide/aspects.ts';

/** How a sentence calls what a rule can speak to. */
export const ASPECT_NAMES: Record<Aspect, string> = {
  control: 'the button',
  express: 'express pay',
  price: 'the price',
  notes: 'notes',
  limits: 'quantities',
  visibility: 'visibility',
  afterOrder: 'the text after the order',
  style: 'style',
  cart: 'the cart',
  checkout: 'the checkout',
};

/** How a sentence calls what stands in the button's place. */
export const KIND_NAMES: Record<DecidedControl['kind'], string> = {
  buy: 'the button',
  choose: 'a way to choose',
  preorder: 'a pre-order',
  waitlist: 'a waitlist',
  quote: 'a price on request',
  enquiry: 'an enquiry',
  link: 'a link',
  signIn: 'a sign-in prompt',
  notice: 'a line of text',
  nothing: 'nothing',
  ownPrice: 'a price of their own',
  severalAtOnce: 'several at once',
};
