import { sameName } from '../model/names.ts';
import type { Subject } from '../model/subject.ts';
import { defineFact, leafSchema, NamedValues, ofProducts } from './fact.ts';
import { valueIn, valueOfName } from './matching.ts';
import { namedValuesWords } from './wording.ts';

const read = ({ variant }: Subject) => variant?.options ?? {};

/** A named option's value, such as a size, compared as a name. */
export const variantOption = defineFact({
  name: 'variant.option',
  schema: leafSchema('variant.option', ['in', 'notIn'], NamedValues),
  about: 'products',
  rank: 2,
  dependsOn: ofProducts,
  actual: (subject, _shop, { value }) => valueIn(read(subject), value.name),
  operators: { in: valueOfName(read, true), notIn: valueOfName(read, false) },
  predicate: ({ op, value: { name, values } }, make) =>
    make.among('variant', `option ${name}`, values.map(sameName), { holds: op === 'in', isSingle: true }),
  emitVariant: ({ options }, _product, emit) => {
    for (const name of Object.keys(options)) emit.name(`option ${name}`, options[name]);
  },
  phrase: (leaf) => `in variants whose ${namedValuesWords(leaf)}`,
  vocabulary: { what: 'option', valuesOf: ({ variants }) => variants.map(({ options }) => options) },
  asked: {
    group: 'Variants',
    questions: [
      { label: 'variants whose option is', op: 'in', start: null, value: 'option' },
      { label: 'variants whose option is not', op: 'notIn', start: null, value: 'option' },
    ],
  },
});
