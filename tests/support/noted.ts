import { NOTE_PLACES } from '#core/model/notePlaces.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';

/** A rule for one product. */
export const forProduct = (id: string, then: Rule['then']): Rule => ({
  id,
  on: true,
  when: { fact: 'product.id', op: 'in', value: [id] },
  then,
});

/** A pre-order with a note in each of them. */
export const NOTED = forProduct('last-bus', {
  control: { kind: 'preorder', label: 'Order ahead' },
  notes: NOTE_PLACES.map((place) => ({
    place,
    text: `A note that is ${place}, and long enough to move what is below it`,
  })),
});
