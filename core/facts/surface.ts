import { SURFACES, type Surface } from '../model/subject.ts';
import { timeless } from '../model/timedResult.ts';
import { defineFact, leafSchema, listOf, ofView } from './fact.ts';
import { joined } from './wording.ts';

export const SURFACE_NAMES: Readonly<Record<Surface, string>> = {
  listing: 'listings',
  product: 'product pages',
  quickView: 'quick views',
  cart: 'the cart',
  checkout: 'the checkout',
};

/** Surface of the shop's pages. */
export const surface = defineFact({
  name: 'surface',
  schema: leafSchema('surface', ['in'], listOf(SURFACES)),
  about: 'time',
  rank: 3,
  dependsOn: ofView,
  actual: ({ surface }) => surface,
  operators: {
    in: (expected) => {
      const set = new Set<string>(expected);
      return timeless(({ surface }) => set.has(surface));
    },
  },
  predicate: ({ value }, make) => make.among('surface', 'surface', value, { isSingle: true }),
  phrase: ({ value }) =>
    `on ${joined(
      value.map((one) => SURFACE_NAMES[one]),
      'or',
    )}`,
  asked: {
    group: 'Place',
    questions: [{ label: 'only where it is shown', op: 'in', start: ['product'], value: 'surfaces' }],
  },
});
