import type { ProductFacts, Subject, VariantFacts, VisitorFacts } from '../model/subject.ts';
import type { Bits } from './bits.ts';
import { isDated, type CandidateIndex, type Reading } from './candidateIndex.ts';

/** A list of rules, as far as it matters here. */
interface Indexed {
  readonly candidates: CandidateIndex;
}

/** Readings of a subject for the owner's rules, and for its seller's if any may match the product. */
export interface Readings<List extends Indexed> {
  readonly owner: Reading;
  readonly isDated: boolean;
  readonly seller: { readonly list: List; readonly reading: Reading } | null;
}

/** Rules of the owner and of the seller that remain possible for a product or variant. */
interface Left {
  readonly owner: Bits;
  readonly seller: Bits;
}
interface KnownProduct<List extends Indexed> extends Left {
  /** Null where none of its rules can be about the product. */
  readonly list: List | null;
  /** Readings made so far, by variant. */
  readonly variants: Map<VariantFacts, Left>;
}

interface KnownVisitor<List extends Indexed> {
  readonly owner: Bits;
  readonly isDated: boolean;
  /** Rules that remain possible, by seller. */
  readonly sellers: Map<List, Bits>;
}

const NONE: Bits = new Uint32Array(0);

/** Keeps what the rules of a rulebook make of facts, for as long as the facts are there. The facts given are never changed, as their types say. */
export class KnownFacts<List extends Indexed> {
  private readonly products = new WeakMap<ProductFacts, KnownProduct<List>>();
  private readonly visitors = new WeakMap<VisitorFacts, KnownVisitor<List>>();

  constructor(
    private readonly index: CandidateIndex,
    private readonly sellerOf: (product: ProductFacts) => List | null,
  ) {}

  /** Reads the rules that remain possible for a subject. */
  of({ product, variant, visitor, surface }: Subject): Readings<List> {
    const { index } = this;
    const who = this.visitors.get(visitor) ?? this.meet(visitor);
    const goods = product && (this.products.get(product) ?? this.look(product));
    const one = goods && variant ? (goods.variants.get(variant) ?? this.lookAtVariant(goods, product, variant)) : null;
    const owner = {
      product: goods ? goods.owner : index.ofProduct(null),
      variant: one ? one.owner : index.ofVariant(null, null),
      visitor: who.owner,
      surface: index.ofSurface(surface),
    };
    if (!goods?.list || !one) return { isDated: who.isDated, owner, seller: null };
    const { list } = goods;
    const reading = {
      product: goods.seller,
      variant: one.seller,
      visitor: who.sellers.get(list) ?? this.meetSeller(list, who, visitor),
      surface: list.candidates.ofSurface(surface),
    };
    return { isDated: who.isDated, owner, seller: { list, reading } };
  }

  private look(product: ProductFacts): KnownProduct<List> {
    const list = this.sellerOf(product);
    const seller = list?.candidates.ofProduct(product) ?? NONE;
    const isReached = seller.some((word) => word !== 0);
    const known = {
      owner: this.index.ofProduct(product),
      seller,
      list: isReached ? list : null,
      variants: new Map<VariantFacts, Left>(),
    };
    this.products.set(product, known);
    return known;
  }

  private lookAtVariant({ list, variants }: KnownProduct<List>, product: ProductFacts, variant: VariantFacts): Left {
    const known = {
      owner: this.index.ofVariant(product, variant),
      seller: list?.candidates.ofVariant(product, variant) ?? NONE,
    };
    variants.set(variant, known);
    return known;
  }

  private meet(visitor: VisitorFacts): KnownVisitor<List> {
    const known = {
      owner: this.index.ofVisitor(visitor),
      isDated: isDated(visitor),
      sellers: new Map<List, Bits>(),
    };
    this.visitors.set(visitor, known);
    return known;
  }

  private meetSeller(list: List, { sellers }: KnownVisitor<List>, visitor: VisitorFacts): Bits {
    const bits = list.candidates.ofVisitor(visitor);
    sellers.set(list, bits);
    return bits;
  }
}
