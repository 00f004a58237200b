/** What each theme's own author would say, to compare a proposed map with. `control` and `price` are all there are. */
export interface Answer {
  readonly control: string;
  readonly price: string;
  /** Must hold the control and the price of the page's own product, and no card. */
  readonly cards: string;
  readonly variant: string | null;
  /** Hosts of shadow roots, in which the others lie. */
  readonly cart: string;
}

export const ANSWERS: Readonly<Record<string, Answer>> = {
  '01-tables': {
    control: 'input[name=add]',
    price: '.prc',
    cards: '.also',
    variant: 'select[name=item]',
    cart: '[href="/basket"]',
  },
  '02-blocks-german': {
    control: '.buybox__submit, .teaser__buy',
    price: '.price__current',
    cards: '.teaser',
    variant: '.swatch__input',
    cart: '.header__cart',
  },
  '03-utilities': {
    control: '[data-qa=add-to-bag]',
    price: '[data-qa=amount]',
    cards: '.group',
    variant: null,
    cart: '[href="/bag"]',
  },
  '04-modules-french': {
    control: 'form button',
    price: '[data-price]',
    cards: '[data-card]',
    variant: 'select',
    cart: '[href="/panier"]',
  },
  '05-microdata-italian': {
    control: '#add-button',
    price: '#price, .cost',
    cards: '#related li',
    variant: '#formato',
    cart: '#cart-link',
  },
  '06-semantic-swedish': {
    control: 'form button',
    price: 'data',
    cards: 'aside article',
    variant: 'select',
    cart: '[href="/varukorg"]',
  },
  '07-elements-spanish': {
    control: '[part=add]',
    price: '[part=price]',
    cards: 'product-tile',
    variant: 'select',
    cart: '[part=cart]',
  },
  '08-links-portuguese': { control: '.comprar', price: '.valor', cards: '.item', variant: null, cart: '.sacola' },
  '09-icons': {
    control: '.pdp-add, .tile-add',
    price: '.pdp-price, .tile-price',
    cards: '.tile',
    variant: '[type=radio]',
    cart: '[href="/basket"]',
  },
  '10-japanese': {
    control: '.btnCart input',
    price: '.itemPrice',
    cards: '.recommend li',
    variant: 'select',
    cart: '[href="/cart"]',
  },
  '11-arabic': {
    control: '.goods-add',
    price: '.goods-cost',
    cards: '.more-one',
    variant: '[name=sku]',
    cart: '.mini-cart',
  },
  '12-sticky-bar': { control: '.cta', price: 'ins', cards: '.rec', variant: 'select', cart: '.to-cart' },
};
