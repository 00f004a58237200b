import { z } from 'zod';
import type { DecidedControl } from '../controls/controls.ts';
import type { Segment } from '../facts/segment.ts';
import type { Names } from '../facts/wording.ts';
import type { ProductFacts, ProductSubject, ShopFacts, Subject } from '../model/subject.ts';

/** Inputs for resolving an aspect of a product, besides the winning rules. */
export interface Resolving {
  readonly subject: ProductSubject;
  readonly shop: ShopFacts;
  /** The decided control there. */
  readonly control: DecidedControl;
  /** Units left of a pre-order's cap; null without one. */
  readonly left: number | null;
}

/** Inputs for joining the decisions of a product's variants on a listing. */
export interface Listing {
  /** Its variants are those whose values are joined, in the same order. */
  readonly product: ProductFacts;
  readonly locale: string | null;
  readonly shop: ShopFacts;
  /** The joined control of the listing. */
  readonly control: DecidedControl;
}

interface Definition<Value, Decided, Prepared, Joining> {
  /** Schema of its value in a rule. */
  readonly schema: z.ZodType<Value>;
  /** Schema of the decided control. */
  readonly decided: z.ZodType<Decided>;
  /** Prepares a rule's value once, for all subjects. */
  readonly prepare: (value: Value, shop: ShopFacts) => Prepared;
  /** Joins several decisions into one: a product's variants on a listing, or the lines of a cart. */
  readonly join: (all: readonly [Decided, ...Decided[]], joining: Joining) => Decided;
  /** Whether it is dropped if its own rule names a control that did not win. */
  readonly comesWithControl?: true;
  /** Whether rules about the page's address may decide it; what may be bought cannot depend on an address. */
  readonly mayHangOnPage?: true;
  /** Whether it depends on the control, or only on the units left of its cap. */
  readonly follows?: 'control' | 'unitsLeft';
  /** Its name in a sentence, and in a word. */
  readonly name: string;
  readonly shortName: string;
  /** Phrases for its value in the rule's sentence. */
  readonly phrases: (value: Value, names: Names) => Segment[];
}

/**
 * Definition of one aspect: a part of a decision that rules decide independently, by the first matching rule that names
 * it. The schemas of rules and decisions, engine, listings, analysis and sentence read it through the registry
 * (`aspects.ts`), so an incomplete aspect does not compile.
 */
interface SingleAspect<Value, Decided, Prepared, Where, Joining> extends Definition<Value, Decided, Prepared, Joining> {
  /** Resolves the winning rule's value, or the default if no rule won. */
  readonly resolve: (winner: Prepared | undefined, where: Where) => Decided;
}

/** An aspect gathered from all counting rules, from the top. */
interface GatheredAspect<Value, Decided, Prepared, Where, Joining> extends Definition<
  Value,
  Decided,
  Prepared,
  Joining
> {
  readonly resolve: (winners: readonly Prepared[], where: Where) => Decided;
}

/** Types of an aspect, from its schemas. */
type Given<Aspect, Schema, Decided> = Omit<Aspect, 'schema' | 'decided'> & {
  readonly schema: Schema;
  readonly decided: Decided;
};

/** Defines an aspect of a product. */
export const defineAspect = <const Schema extends z.ZodType, const Decided extends z.ZodType, Prepared>(
  aspect: Given<SingleAspect<z.infer<Schema>, z.infer<Decided>, Prepared, Resolving, Listing>, Schema, Decided>,
) => ({ ...aspect, gathers: false as const });

/** Defines an aspect of a product that gathers. */
export const defineGatheredAspect = <const Schema extends z.ZodType, const Decided extends z.ZodType, Prepared>(
  aspect: Given<GatheredAspect<z.infer<Schema>, z.infer<Decided>, Prepared, Resolving, Listing>, Schema, Decided>,
) => ({ ...aspect, gathers: true as const });

interface VisitAspect<Value, Decided, Prepared> extends SingleAspect<Value, Decided, Prepared, Subject, null> {
  /** Lists its changes in plain words: "the order button is hidden". */
  readonly changes: (before: Decided, after: Decided, nameOfMethod: (code: string) => string) => string[];
}

/** Defines an aspect of a visit. */
export const defineVisitAspect = <const Schema extends z.ZodType, const Decided extends z.ZodType, Prepared>(
  aspect: Given<VisitAspect<z.infer<Schema>, z.infer<Decided>, Prepared>, Schema, Decided>,
) => ({ ...aspect, gathers: false as const });

export const Html = z.string().describe('Safe HTML: Markdown rendered with raw HTML escaped');

export const optional = <T, R>(value: T | undefined, make: (value: T) => R): R | null =>
  value === undefined ? null : make(value);

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** Items common to all lists. */
export const commonTo = <T>([first = [], ...others]: readonly (readonly T[])[]): T[] =>
  first.filter((item) => others.every((list) => list.some((other) => same(other, item))));

/** The common value if all are equal, else `otherwise`. */
export const alikeOr = <T>(values: readonly [T, ...T[]], otherwise: T): T =>
  values.every((value) => same(value, values[0])) ? values[0] : otherwise;

/** Items of all lists, without duplicates. */
export const unionOf = <T>(lists: readonly (readonly T[])[]): T[] =>
  lists.length === 0 ? [] : [...new Set(lists.flat())];
