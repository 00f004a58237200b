import { sameName } from '../model/names.ts';
import type { ProductFacts } from '../model/subject.ts';
import { timeless } from '../model/timedResult.ts';
import { defineFact, leafSchema, NameList, ofProducts, type Operator } from './fact.ts';
import { listed } from './wording.ts';

const NO_TAGS: ReadonlySet<string> = new Set();
const TAGS = new WeakMap<ProductFacts, ReadonlySet<string>>();

function tagsOf(product: ProductFacts): ReadonlySet<string> {
  const known = TAGS.get(product) ?? new Set(product.tags.map(sameName));
  TAGS.set(product, known);
  return known;
}

const tags =
  (matches: (expected: readonly string[], has: ReadonlySet<string>) => boolean): Operator<readonly string[]> =>
  (expected) => {
    const names = expected.map(sameName);
    return timeless(({ product }) => matches(names, product ? tagsOf(product) : NO_TAGS));
  };

/** Tags, compared as names. */
export const productTags = defineFact({
  name: 'product.tags',
  schema: leafSchema('product.tags', ['hasAny', 'hasAll', 'hasNone'], NameList),
  about: 'products',
  rank: 1,
  dependsOn: ofProducts,
  actual: ({ product }) => product?.tags ?? [],
  operators: {
    hasAny: tags((expected, has) => expected.some((name) => has.has(name))),
    hasAll: tags((expected, has) => expected.every((name) => has.has(name))),
    hasNone: tags((expected, has) => !expected.some((name) => has.has(name))),
  },
  predicate: ({ op, value }, make) => {
    const names = value.map(sameName);
    if (op === 'hasAll') return make.each(names.map((name) => make.among('product', 'tag', [name])));
    return make.among('product', 'tag', names, { holds: op === 'hasAny' });
  },
  emitProduct: (product, emit) => {
    for (const tag of product.tags) emit.name('tag', tag);
  },
  phrase: ({ op, value }) =>
    `${op === 'hasNone' ? 'not tagged' : 'tagged'} ${listed(value, op === 'hasAll' ? 'and' : 'or')}`,
  vocabulary: { what: 'tag', of: (product) => product.tags },
  asked: {
    group: 'Tags',
    questions: [
      { label: 'tagged with any of', op: 'hasAny', start: null, value: 'tags' },
      { label: 'tagged with all of', op: 'hasAll', start: null, value: 'tags' },
      { label: 'not tagged with', op: 'hasNone', start: null, value: 'tags' },
    ],
  },
});
