import type { Segment } from '../facts/segment.ts';
import type { Names } from '../facts/wording.ts';
import { afterOrder } from './afterOrder.ts';
import { cart } from './cart.ts';
import { checkout } from './checkout.ts';
import { control } from './control.ts';
import { express } from './express.ts';
import { limits } from './limits.ts';
import { notes } from './notes.ts';
import { price } from './price.ts';
import { style } from './style.ts';
import { visibility } from './visibility.ts';

/** Aspects of a decision about products, in the order in which they are shown; each has a file of its name. */
export const OF_PRODUCT = { control, express, price, notes, limits, visibility, afterOrder, style } as const;
/** Aspects of the visit as a whole. */
export const OF_VISIT = { cart, checkout } as const;
/** All aspects that a rule can decide. */
export const DEFINED = { ...OF_PRODUCT, ...OF_VISIT } as const;

export type ProductAspect = keyof typeof OF_PRODUCT;
export type VisitAspect = keyof typeof OF_VISIT;
export type Aspect = keyof typeof DEFINED;
/** The prepared form of an aspect's outcome. */
export type Prepared<A extends Aspect> = ReturnType<(typeof DEFINED)[A]['prepare']>;
/** Aspects gathered from all counting rules, rather than decided by the first. */
export type Gathered = { [A in Aspect]: (typeof DEFINED)[A]['gathers'] extends true ? A : never }[Aspect];

export const PRODUCT_ASPECTS = Object.keys(OF_PRODUCT) as readonly ProductAspect[];
export const VISIT_ASPECTS = Object.keys(OF_VISIT) as readonly VisitAspect[];
export const ASPECTS: readonly Aspect[] = [...PRODUCT_ASPECTS, ...VISIT_ASPECTS];

// Keyed by the aspect, which TypeScript cannot follow through an index.
interface Definition {
  readonly gathers: boolean;
  readonly comesWithControl?: true;
  readonly mayHangOnPage?: true;
  readonly follows?: 'control' | 'unitsLeft';
  readonly name: string;
  readonly shortName: string;
  readonly prepare: (value: never, shop: never) => unknown;
  readonly phrases: (value: never, names: Names) => Segment[];
}
const BY_NAME: Readonly<Record<Aspect, Definition>> = DEFINED;

/** Returns the definition of an aspect. */
export const aspectOf = (aspect: Aspect): Definition => BY_NAME[aspect];

export const isGathered = (aspect: Aspect): aspect is Gathered => BY_NAME[aspect].gathers;
export const GATHERED = ASPECTS.filter(isGathered);

/** Several aspects as the bits of a number. */
export type AspectSet = number;
export const bitOf = (aspect: Aspect): AspectSet => 1 << ASPECTS.indexOf(aspect);
export const setOf = (aspects: readonly Aspect[]): AspectSet => aspects.reduce((set, aspect) => set | bitOf(aspect), 0);
