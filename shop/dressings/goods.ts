import type { Product, Variant } from '../catalog.ts';
import type { Surface } from '../../client/understudy.ts';
import type { Language } from '../visits.ts';
import { money, translate } from '../words.ts';
import type { View } from './dressing.ts';

/** A product as a page shows it, in words. */
export interface Shown {
  readonly path: string;
  readonly title: string;
  readonly picture: string;
  readonly seller: string;
  /** The lowest price that is shown, with "from" where there are several; empty where none is. */
  readonly price: string;
  /** Address of another shop that sells it. */
  readonly soldAt: string | null;
  readonly variants: readonly {
    id: string;
    title: string;
    /** Empty where it is hidden. */
    price: string;
    /** The same with a point, for machines. */
    amount: string;
    stock: string;
    inStock: boolean;
  }[];
  readonly words: Readonly<Record<'add' | 'pay' | 'size' | 'quantity' | 'look' | 'close' | 'details', string>>;
}

export function shownOf(product: Product, surface: Surface, { language, isPriceHidden }: View): Shown {
  const isHidden = ({ id }: Variant) => isPriceHidden(surface, id);
  const prices = product.variants.filter((variant) => !isHidden(variant)).map(({ price }) => price);
  const lowest = Math.min(...prices);
  const from = prices.some((price) => price !== lowest) ? `${translate(language, 'from')} ` : '';
  return {
    path: product.path,
    title: product.title,
    picture: product.picture,
    seller: product.seller,
    price: prices.length === 0 ? '' : from + money(lowest, language),
    soldAt: product.soldAt,
    variants: product.variants.map((variant) => ({
      id: variant.id,
      title: variant.title,
      price: isHidden(variant) ? '' : money(variant.price, language),
      amount: isHidden(variant) ? '' : (variant.price / 100).toFixed(2),
      stock: stockNote(variant, language),
      inStock: variant.stock !== 0,
    })),
    words: {
      add: translate(language, product.soldAt === null ? 'putInBasket' : 'atTheBindery'),
      pay: translate(language, 'swiftPay'),
      size: translate(language, 'size'),
      quantity: translate(language, 'quantity'),
      look: translate(language, 'quickLook'),
      close: translate(language, 'close'),
      details: translate(language, 'grownHere'),
    },
  };
}

function stockNote({ stock }: Variant, language: Language): string {
  if (stock === null) return translate(language, 'madeUp');
  return stock > 0 ? `${stock} ${translate(language, 'inStock')}` : translate(language, 'noneLeft');
}
