import { z } from 'zod';
import type { NameColumn } from '../model/productColumns.ts';
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

/** Values that an operator of a fact takes. */
export type ValueOfLeaf<L extends AnyLeaf, Op extends L['op']> = L extends { op: infer Ops; value: infer Value }
  ? Op extends Ops
    ? Value
    : never
  : never;

/** Makes a predicate from the expected value. */
export type Operator<Value> = (expected: Value, shop: ShopFacts) => TimedPredicate;

/** A fact's value: null when it is missing. */
export type Actual = string | number | boolean | null | readonly string[];

/** Receives a subject's values by column, as predicates name them. Null and undefined are ignored. */
export interface Emit {
  /** Compared exactly. `isCertain` is false if the subject may turn out not to have it. */
  value(column: string, value: string | null | undefined, isCertain?: boolean): void;
  /** Compared as a name: case and spacing do not matter. */
  name(column: string, value: string | null | undefined): void;
  /** Nearly unique, so not worth an index over the whole catalog. */
  id(column: string, value: string): void;
  number(column: string, value: number | null): void;
}

/** Kinds of values; each has an editor (`web/editor/conditions/ValueEditor.tsx`). */
export type ValueKind =
  | 'none'
  | 'path'
  | 'pathPart'
  | 'attribute'
  | 'option'
  | 'price'
  | 'priceRange'
  | `${NameColumn}s`
  | 'variants'
  | 'customers'
  | 'locales'
  | 'surfaces'
  | 'products'
  | 'tags'
  | 'categories'
  | 'statuses'
  | 'quantity'
  | 'range'
  | 'roles'
  | 'between'
  | 'around'
  | 'weekly'
  | 'yearly';

/** A condition that the editor offers: an operator, and the editor of its value. */
export interface FactQuestion<Op extends string = string> {
  readonly label: string;
  readonly op: Op;
  /** Initial value; null if the owner has to choose one first. */
  readonly start: unknown;
  /** Questions with the same kind keep the value when one is changed into the other. */
  readonly value: ValueKind;
  /** Unit of a number, as its field is labelled; units of a product if missing. */
  readonly unit?: string;
}

/**
 * Definition of one fact. Engine, index, analysis, sentence, editor and JSON Schema read it through the registry
 * (`facts.ts`), so an incomplete fact does not compile.
 */
export interface Fact<L extends AnyLeaf> {
  readonly name: L['fact'];
  /** Schema of its leaves in a rulebook. */
  readonly schema: z.ZodType<L>;
  /** Subject of its phrase: products and variants, people, or time and place. */
  readonly about: 'products' | 'people' | 'time';
  /** Position of its phrase in a sentence: products, their variants, time and place, people. */
  readonly rank: 0 | 1 | 2 | 3 | 4;
  /** Inputs of its result: the product and variant, the view, or both. */
  readonly dependsOn: (leaf: L) => 'products' | 'view' | 'both';
  /** Whether it follows stock, reservations or waitlists, which change by themselves. */
  readonly isSupply?: true;
  /** Stock that it reads: the variant's, or the product's in total. */
  readonly stock?: 'variant' | 'product';
  /** Whether it can tell apart two customers who are otherwise alike. */
  readonly distinguishesCustomers?: true;
  /** The value shown when somebody asks why. */
  readonly actual: (subject: Subject, shop: ShopFacts, leaf: L) => Actual;
  /** A test for every operator. */
  readonly operators: { readonly [Op in L['op']]: Operator<ValueOfLeaf<L, Op>> };
  /** The leaf as a formula over indexed columns; `unknown` if it depends on the clock or on something without an index. */
  readonly predicate: (leaf: L, make: PredicateMaker) => BooleanFormula;
  /** Emits the values of its columns. */
  readonly emitProduct?: (product: ProductFacts, emit: Emit) => void;
  readonly emitVariant?: (variant: VariantFacts, product: ProductFacts, emit: Emit) => void;
  readonly emitVisitor?: (visitor: VisitorFacts, emit: Emit) => void;
  /** Phrase that follows "For products …" or stands in a list of conditions. */
  readonly phrase: (leaf: L, names: Names) => string;
  /** Names that its leaves refer to, so that findings can report one that nothing has. */
  readonly vocabulary?: FactVocabulary;
  /** Conditions that the editor offers, and the heading of their group. */
  readonly asked: { readonly group: string; readonly questions: readonly FactQuestion<L['op']>[] };
}

/** A fact's vocabulary: what its names are, and those that a product has; `roles` come from the shop. */
export type FactVocabulary =
  | {
      readonly what: string;
      readonly isLetterByLetter?: true;
      readonly of: 'roles' | ((product: ProductFacts) => Iterable<string | null>);
    }
  | {
      readonly what: string;
      /** Values by the name of their attribute or option. */
      readonly valuesOf: (product: ProductFacts) => Iterable<Readonly<Record<string, string>>>;
    };

/** Defines a fact; the type of its leaves follows from its schema. */
export const defineFact = <const Schema extends z.ZodType<AnyLeaf>>(
  fact: Fact<z.infer<Schema>> & { readonly schema: Schema },
): Fact<z.infer<Schema>> & { readonly schema: Schema } => fact;

/** Schema of a fact's leaves for some of its operators. */
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

export const ofProducts = () => 'products' as const;
export const ofView = () => 'view' as const;
