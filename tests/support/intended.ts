import type { Rule } from '#core/rulebook/rulebook.ts';

export type When = Rule['when'];

/** Ends of a visit: an order, a list, an enquiry, the shop's sign-in, or nothing to press. */
export type Ending = 'ordered' | 'priced' | 'listed' | 'quoted' | 'asked' | 'signIn' | 'nothing';

const ofProduct = (id: string): When => ({ fact: 'product.id', op: 'in', value: [id] });
export const soldOut: When = { fact: 'stock.status', op: 'in', value: ['outOfStock'] };
const notMembers: When = { fact: 'visitor.roles', op: 'hasNone', value: ['member'] };

/** A rule as one of the intentions makes it, and what a shopper then finds. */
export interface Intended {
  readonly intention: string;
  /** Goods that the sentence still lacks: a question of the first list, the field it opens, and what is picked there. */
  readonly goods?: readonly [question: string | null, field: string, pick: string];
  /** The same, added with "and…" to a rule that names goods already. */
  readonly more?: readonly [question: string, field: string, pick: string];
  readonly sentence: string;
  readonly stored: { readonly when: When; readonly then: Rule['then'] };
  /** On the sample shop: a page, a size to choose there, and what stands in the button's place. */
  readonly shop: {
    readonly path: string;
    readonly size?: string;
    readonly sees: string;
    readonly as: 'button' | 'link' | 'heading' | 'text';
  };
  /** Pages to which a press leads, for guests and members. */
  readonly ends: Ending | { readonly members: Ending; readonly guests: Ending; readonly others: Ending };
}

export const product = (name: string) => ['these products', 'Products', name] as const;

/** Each new rule goes above those made before: a closure on top, all else below the closures. */
export const INTENDED: readonly Intended[] = [
  {
    intention: 'Keep a waitlist for sold-out products',
    sentence: 'For products, for everyone not invited from its waitlist, where any of these is true',
    stored: {
      when: {
        all: [
          { any: [soldOut, { fact: 'waitlist.length', op: 'gt', value: 0 }] },
          { fact: 'visitor.invited', op: 'is', value: false },
        ],
      },
      then: { control: { kind: 'waitlist', per: 'variant' } },
    },
    shop: { path: '/plants/blue-ledger', size: '9 cm pot', sees: 'Join the waitlist', as: 'link' },
    ends: 'listed',
  },
  {
    intention: 'Take pre-orders when a variant runs out',
    sentence:
      'For products in variants that are on backorder: take pre-orders, labelled “Pre-order”, shipping within 21 days.',
    stored: {
      when: { all: [{ fact: 'stock.status', op: 'in', value: ['backorder'] }] },
      then: { control: { kind: 'preorder', label: { en: 'Pre-order' }, ships: { within: 'P21D' } } },
    },
    shop: { path: '/plants/big-umbrella', size: '2 litre pot', sees: 'Pre-order', as: 'button' },
    ends: 'ordered',
  },
  {
    intention: 'Take pre-orders by tag',
    goods: [null, 'Tags', 'scented'],
    sentence:
      'For products tagged scented, until its ship date: take pre-orders, labelled “Pre-order”; below the control, say “Ships from ship date.”.',
    stored: {
      when: {
        all: [
          { fact: 'moment', op: 'around', value: { date: 'ships', until: 'P0D' } },
          { fact: 'product.tags', op: 'hasAny', value: ['scented'] },
        ],
      },
      then: {
        control: { kind: 'preorder', label: { en: 'Pre-order' } },
        notes: [{ place: 'belowControl', text: { en: 'Ships from **{product.date.ships}**.' } }],
      },
    },
    shop: { path: '/plants/small-hours', sees: 'Pre-order', as: 'button' },
    ends: 'ordered',
  },
  {
    intention: 'Show without selling',
    goods: product('Astrantia'),
    sentence:
      'For products that are Astrantia ‘Pin Cushion’: show “Not sold here” instead of the button; hide the price.',
    stored: {
      when: { all: [ofProduct('pin-cushion')] },
      then: { control: { kind: 'notice', text: { en: 'Not sold here' } }, price: { show: false } },
    },
    shop: { path: '/plants/pin-cushion', sees: 'Not sold here', as: 'text' },
    ends: 'nothing',
  },
  {
    intention: 'Sell to members only',
    goods: product('Aster'),
    sentence:
      'For products that are Aster ‘Last Bus’, for everyone without the role member: ask to sign in, labelled “Sign in to buy”, leading to “/sign-in”.',
    stored: {
      when: { all: [notMembers, ofProduct('last-bus')] },
      then: { control: { kind: 'signIn', href: '/sign-in', label: { en: 'Sign in to buy' } } },
    },
    shop: { path: '/plants/last-bus', sees: 'Sign in to buy', as: 'link' },
    ends: { guests: 'signIn', others: 'signIn', members: 'ordered' },
  },
  {
    intention: 'Sell to members first',
    goods: product('Ink and Milk'),
    sentence:
      'For products that are Tulip ‘Ink and Milk’, until 7 days after its release date, for everyone without the role member: ask to sign in, labelled “Members buy first”, leading to “/sign-in”.',
    stored: {
      when: {
        all: [
          notMembers,
          { fact: 'moment', op: 'around', value: { date: 'releases', until: 'P7D' } },
          ofProduct('ink-and-milk'),
        ],
      },
      then: { control: { kind: 'signIn', href: '/sign-in', label: { en: 'Members buy first' } } },
    },
    shop: { path: '/plants/ink-and-milk', sees: 'Members buy first', as: 'link' },
    ends: { guests: 'signIn', others: 'signIn', members: 'ordered' },
  },
  {
    intention: 'Ask for a price',
    goods: product('Soft shield'),
    sentence:
      'For products that are Soft shield fern: take requests for a price, labelled en “Ask for a price” (fr “Demander un prix”); show “Price on request” instead of the price.',
    stored: {
      when: { all: [ofProduct('soft-shield')] },
      then: { control: { kind: 'quote' }, price: { show: false, text: { en: 'Price on request' } } },
    },
    shop: { path: '/plants/soft-shield', sees: 'Ask for a price', as: 'link' },
    ends: 'quoted',
  },
  {
    intention: 'A contact form when sold out',
    more: product('Salvia'),
    sentence:
      'For products that are Salvia ‘Evening Class’, in variants that are out of stock: take enquiries, labelled en “Ask about this” (fr “Poser une question”), with the form contact on the page.',
    stored: {
      when: { all: [soldOut, ofProduct('evening-class')] },
      then: { control: { kind: 'enquiry', form: 'contact', open: 'inline' } },
    },
    shop: { path: '/plants/evening-class', size: '2 litre pot', sees: 'Ask about this', as: 'heading' },
    ends: 'asked',
  },
  {
    intention: 'Let buyers pay what they like',
    goods: product('Hart’s tongue'),
    sentence:
      'For products that are Hart’s tongue fern: let the buyer name the price, labelled en “Add at my price” (fr “Ajouter à mon prix”), at least €5.00.',
    stored: { when: { all: [ofProduct('harts-tongue')] }, then: { control: { kind: 'ownPrice', min: 500 } } },
    shop: { path: '/plants/harts-tongue', sees: 'Add at my price', as: 'link' },
    ends: 'priced',
  },
  {
    intention: 'Ask guests to sign in',
    goods: product('Dibber'),
    sentence:
      'For products that are Dibber, ash, for guests: ask to sign in, labelled en “Sign in to buy” (fr “Se connecter pour acheter”), leading to “/sign-in”.',
    stored: {
      when: { all: [{ fact: 'visitor.signedIn', op: 'is', value: false }, ofProduct('ash-dibber')] },
      then: { control: { kind: 'signIn', href: '/sign-in' } },
    },
    shop: { path: '/tools/ash-dibber', sees: 'Sign in to buy', as: 'link' },
    ends: { guests: 'signIn', others: 'ordered', members: 'ordered' },
  },
  {
    intention: 'Another label on the button',
    goods: product('Runner bean'),
    sentence: 'For products that are Runner bean ‘Scarlet Post’: keep the button, labelled “Order for collection”.',
    stored: {
      when: { all: [ofProduct('scarlet-post')] },
      then: { control: { kind: 'buy', label: { en: 'Order for collection' } } },
    },
    shop: { path: '/plants/scarlet-post', sees: 'Order for collection', as: 'button' },
    ends: 'ordered',
  },
];
