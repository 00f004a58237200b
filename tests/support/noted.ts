import type { Rule } from '#core/rulebook/rulebook.ts';

/** A rule for one product. */
export const forProduct = (id: string, then: Rule['then']): Rule => ({
  id,
  on: true,
  when: { fact: 'product.id', op: 'in', value: [id] },
  then,
});

/** Every place that a note may have. */
export const NOTES = [
  'aboveControl',
  'belowControl',
  'belowPrice',
  'belowStock',
  'inDescription',
  'endOfBuyArea',
  'badge',
] as const;

/** A pre-order with a note in each of them. */
export const NOTED = forProduct('last-bus', {
  control: { kind: 'preorder', label: 'Order ahead' },
  notes: NOTES.map((place) => ({ place, text: `A note that is ${place}, and long enough to move what is below it` })),
});
