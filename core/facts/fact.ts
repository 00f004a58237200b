import { z } from 'zod';
import type { TimedPredicate } from '../model/timedResult.ts';
import type { ProductFacts, ShopFacts, Subject, VariantFacts, VisitorFacts } from '../model/subject.ts';
import type { BooleanFormula, PredicateMaker } from './predicates.ts';
import type { Names } from './wording.ts';

/** A condition on one fact: the fact, an operator, and the value that is expected. */
export interface AnyLeaf {
  readonly fact: string;
  readonly op: string;
  readonly value: unknown;
}

/** The values that an operator of a fact's leaves takes. */
export type ValueOfLeaf<L extends AnyLeaf, Op extends L['op']> = L extends { op: infer Ops; value: infer Value }
  ? Op extends Ops
    ? Value
    : never
  : never;

/** Makes a predicate for a value that is expected. */
export type Operator<Value> = (expected: Value, shop: ShopFacts) => TimedPredicate;

/** A fact's value: null when it is missing. */
export type Actual = string | number | boolean | null | readonly string[];

/** Hears the values that a subject has, by the column that predicates name. Null and undefined are no value. */
export interface Emit {
  /** Compared letter by letter. `isCertain` is false where the subject may yet not have it. */
  value(column: string, value: string | null | undefined, isCertain?: boolean): void;
  /** Compared as people tell names apart. */
  name(column: string, value: string | null | undefined): void;
  /** One that hardly another subject has: not worth an index of a whole catalog. */
  id(column: string, value: string): void;
  number(column: string, value: number | null): void;
}

/**
 * All that is to be known of one fact. The registry (`facts.ts`) lists them; engine, index, analysis, sentence, editor
 * and JSON Schema go through it, so that a fact that lacks something does not compile.
 */
export interface Fact<L extends AnyLeaf> {
  readonly name: L['fact'];
  /** Schema of its leaves in a rulebook. */
  readonly schema: z.ZodType<L>;
  /** Topic of its phrase: products and variants, people, or time and place. */
  readonly about: 'goods' | 'people' | 'time';
  /** Position of its phrase in a sentence: products, their variants, time and place, people. */
  readonly rank: 0 | 1 | 2 | 3 | 4;
  /** Dependencies of its result: the product and variant, the view, or both. */
  readonly dependsOn: (leaf: L) => 'goods' | 'view' | 'both';
  /** Whether it follows what is in stock, reserved or waited for, which changes by itself. */
  readonly isSupply?: true;
  /** Whether it looks at the stock of the variant, or of all of its product's. */
  readonly stock?: 'variant' | 'product';
  /** Whether it tells a visitor from all others, be they alike in all else. */
  readonly distinguishesCustomers?: true;
  /** The value, for people who ask why. */
  readonly actual: (subject: Subject, shop: ShopFacts, leaf: L) => Actual;
  /** One for every operator. */
  readonly operators: { readonly [Op in L['op']]: Operator<ValueOfLeaf<L, Op>> };
  /** The leaf over indexed columns; `unknown` where the clock or what has no index decides. */
  readonly predicate: (leaf: L, make: PredicateMaker) => BooleanFormula;
  /** The values of its columns. */
  readonly emitProduct?: (product: ProductFacts, emit: Emit) => void;
  readonly emitVariant?: (variant: VariantFacts, product: ProductFacts, emit: Emit) => void;
  readonly emitVisitor?: (visitor: VisitorFacts, emit: Emit) => void;
  /** In words, to stand after "For products …" or in a list of conditions. */
  readonly phrase: (leaf: L, names: Names) => string;
  /** The names that its leaves ask for, so that one that nothing has is found. */
  readonly vocabulary?: FactVocabulary;
}

/** A fact's vocabulary: its description, and its values for a product; `roles` come from the shop. */
export type FactVocabulary =
  | {
      readonly kind: 'names';
      readonly what: string;
      readonly isLetterByLetter?: true;
      readonly of: 'roles' | ((product: ProductFacts) => Iterable<string | null>);
    }
  | {
      readonly kind: 'namedValues';
      readonly what: string;
      readonly of: (product: ProductFacts) => Iterable<Readonly<Record<string, string>>>;
    };

/** Defines a fact, its leaves' type taken from its schema. */
export const defineFact = <const Schema extends z.ZodType<AnyLeaf>>(
  fact: Fact<z.infer<Schema>> & { readonly schema: Schema },
): Fact<z.infer<Schema>> & { readonly schema: Schema } => fact;

/** The schema of a fact's leaves with some of its operators. */
export const leafSchema = <
  const Name extends string,
  const Ops extends readonly [string, ...string[]],
  Value extends z.ZodType,
>(
  fact: Name,
  ops: Ops,
  value: Value,
) => z.strictObject({ fact: z.literal(fact), op: z.enum(ops), value });

export const Name = z.string().max(200).regex(/\S/, 'a name');
export const NameList = z.array(Name).min(1).max(1000);
export const NamedValues = z.strictObject({ name: Name, values: NameList });
export const listOf = <T extends readonly [string, ...string[]]>(names: T) => z.array(z.enum(names)).min(1);

export const ofGoods = () => 'goods' as const;
export const ofView = () => 'view' as const;
