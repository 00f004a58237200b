import { isWithin } from '../model/names.ts';
import { timeless } from '../model/timedResult.ts';
import { defineFact, leafSchema, NameList, ofProducts, type Operator } from './fact.ts';
import { listed } from './wording.ts';

const within =
  (wanted: boolean): Operator<readonly string[]> =>
  (expected) =>
    timeless(
      ({ product }) =>
        (product?.categories ?? []).some((id) => expected.some((ancestor) => isWithin(id, ancestor))) === wanted,
    );

/** A category with all its ancestors. */
function* lineOf(id: string): Generator<string> {
  for (let end = id.length; end > 0; end = id.lastIndexOf('/', end - 1)) yield id.slice(0, end);
}

/** Category ids, with or without descendants. */
export const productCategories = defineFact({
  name: 'product.categories',
  schema: leafSchema('product.categories', ['within', 'notWithin', 'exactly'], NameList),
  about: 'products',
  rank: 1,
  dependsOn: ofProducts,
  actual: ({ product }) => product?.categories ?? [],
  operators: {
    within: within(true),
    notWithin: within(false),
    exactly: (expected) => {
      const set = new Set(expected);
      return timeless(({ product }) => (product?.categories ?? []).some((id) => set.has(id)));
    },
  },
  predicate: ({ op, value }, make) =>
    op === 'exactly'
      ? make.among('product', 'category', value)
      : make.among('product', 'within', value, { holds: op === 'within' }),
  emitProduct: ({ categories }, emit) => {
    for (const category of categories) {
      emit.value('category', category);
      for (const id of lineOf(category)) emit.value('within', id);
    }
  },
  phrase: ({ op, value }, { category }) => {
    const which = listed(value, 'or', category);
    if (op === 'exactly') return `directly in ${which}`;
    return `${op === 'within' ? 'in' : 'not in'} ${which} and all below`;
  },
  vocabulary: {
    what: 'category',
    isLetterByLetter: true,
    of: ({ categories }) => categories.flatMap((category) => [...lineOf(category)]),
  },
  asked: {
    group: 'Categories',
    questions: [
      { label: 'in a category and all below', op: 'within', start: null, value: 'categories' },
      { label: 'not in a category or below', op: 'notWithin', start: null, value: 'categories' },
      { label: 'directly in a category', op: 'exactly', start: null, value: 'categories' },
    ],
  },
});
