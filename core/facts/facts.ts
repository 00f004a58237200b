import { z } from 'zod';
import type { ProductFacts, ShopFacts, Subject, VariantFacts, VisitorFacts } from '../model/subject.ts';
import type { TimedPredicate } from '../model/timedResult.ts';
import type { Actual, AnyLeaf, Emit, Fact, Operator, ValueOfLeaf } from './fact.ts';
import { moment } from './moment.ts';
import { pagePath } from './pagePath.ts';
import { PredicateTable, type BooleanFormula } from './predicates.ts';
import { preorderReserved } from './preorderReserved.ts';
import { product } from './product.ts';
import { productAttribute } from './productAttribute.ts';
import { productBrand } from './productBrand.ts';
import { productCategories } from './productCategories.ts';
import { productId } from './productId.ts';
import { productKind } from './productKind.ts';
import { productPath } from './productPath.ts';
import { productSeller } from './productSeller.ts';
import { productTags } from './productTags.ts';
import { productWeight } from './productWeight.ts';
import { stockProductTotal } from './stockProductTotal.ts';
import { stockQuantity } from './stockQuantity.ts';
import { stockStatus } from './stockStatus.ts';
import { surface } from './surface.ts';
import { variantId } from './variantId.ts';
import { variantOption } from './variantOption.ts';
import { variantPrice } from './variantPrice.ts';
import { visitorCustomer } from './visitorCustomer.ts';
import { visitorInvited } from './visitorInvited.ts';
import { visitorLocale } from './visitorLocale.ts';
import { visitorRoles } from './visitorRoles.ts';
import { visitorSignedIn } from './visitorSignedIn.ts';
import { waitlistLength } from './waitlistLength.ts';
import type { Names } from './wording.ts';

/** All facts; each has a file of its name. */
const DEFINED = [
  productTags,
  productCategories,
  product,
  productId,
  productBrand,
  productKind,
  productSeller,
  productWeight,
  productAttribute,
  productPath,
  variantId,
  variantOption,
  variantPrice,
  stockStatus,
  stockQuantity,
  stockProductTotal,
  preorderReserved,
  waitlistLength,
  visitorSignedIn,
  visitorRoles,
  visitorCustomer,
  visitorInvited,
  visitorLocale,
  moment,
  surface,
  pagePath,
] as const;

type SchemasOf<Defined extends readonly { readonly schema: unknown }[]> = {
  -readonly [I in keyof Defined]: Defined[I]['schema'];
};

/** One condition: a fact, an operator, and the value that is expected. */
export const Leaf = z
  .discriminatedUnion('fact', DEFINED.map(({ schema }) => schema) as unknown as SchemasOf<typeof DEFINED>)
  .meta({ id: 'Leaf' });
export type Leaf = z.infer<(typeof DEFINED)[number]['schema']>;
export type FactName = Leaf['fact'];
type LeafOf<F extends FactName> = Extract<Leaf, { fact: F }>;
export type ValueOf<F extends FactName, Op extends string> =
  LeafOf<F> extends infer L ? (L extends AnyLeaf ? ValueOfLeaf<L, Extract<Op, L['op']>> : never) : never;

// Keyed by the leaf's own fact, which TypeScript cannot follow through an index.
export const FACTS = DEFINED as readonly unknown[] as readonly Fact<Leaf>[];
const BY_NAME = new Map(FACTS.map((fact) => [fact.name, fact]));

/** @throws {TypeError} when there is no such fact */
export function factNamed(name: FactName): Fact<Leaf> {
  const fact = BY_NAME.get(name);
  if (!fact) throw new TypeError(`no fact ${name}`);
  return fact;
}

export const factOf = (leaf: Leaf): Fact<Leaf> => factNamed(leaf.fact);

/** Reads the fact of a leaf for a subject. */
export const actualOf = (leaf: Leaf, subject: Subject, shop: ShopFacts): Actual =>
  factOf(leaf).actual(subject, shop, leaf);

/** Whether a leaf matches, and until when. @throws {TypeError} when its fact has no such operator */
export function testOf(leaf: Leaf, shop: ShopFacts): TimedPredicate {
  const operators = factOf(leaf).operators as Readonly<Record<string, Operator<unknown>>>;
  const operator = operators[leaf.op];
  if (!operator) throw new TypeError(`no operator ${leaf.op} for ${leaf.fact}`);
  return operator(leaf.value, shop);
}

/** Formula over indexed columns for a leaf or its negation. */
export const formulaOf = (leaf: Leaf, wanted: boolean, predicates = new PredicateTable()): BooleanFormula =>
  factOf(leaf).predicate(leaf, predicates.maker(wanted));

/** Phrase of a condition, which follows "For products …" or stands in a list of conditions. */
export const phraseOf = (leaf: Leaf, names: Names): string => factOf(leaf).phrase(leaf, names);

/** Emits the values of a product's columns. */
export function emitProductFacts(product: ProductFacts, emit: Emit): void {
  for (const { emitProduct } of OF_PRODUCT) emitProduct?.(product, emit);
}
const OF_PRODUCT = FACTS.filter(({ emitProduct }) => emitProduct);

/** Emits the values of a variant's columns. */
export function emitVariantFacts(variant: VariantFacts, product: ProductFacts, emit: Emit): void {
  for (const { emitVariant } of OF_VARIANT) emitVariant?.(variant, product, emit);
}
const OF_VARIANT = FACTS.filter(({ emitVariant }) => emitVariant);

/** Emits the values of a visitor's columns. */
export function emitVisitorFacts(visitor: VisitorFacts, emit: Emit): void {
  for (const { emitVisitor } of OF_VISITOR) emitVisitor?.(visitor, emit);
}
const OF_VISITOR = FACTS.filter(({ emitVisitor }) => emitVisitor);
