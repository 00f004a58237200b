import { z } from 'zod';
import { defineControl, kind, shared } from './control.ts';
import { verb } from './telling.ts';

/** No control at all. */
export const nothing = defineControl({
  kind: 'nothing',
  schema: z.strictObject(kind('nothing')),
  decided: z.strictObject({ ...kind('nothing'), ...shared }),
  resolve:
    (_control, { parts }) =>
    (subject) => ({ kind: 'nothing' as const, ...parts(subject) }),
  name: 'nothing',
  shortName: 'nothing',
  shape: 'hatched',
  defaultLabel: null,
  sells: false,
  refusal: 'notForSale',
  availability: 'OutOfStock',
  isClosure: true,
  listingOrder: 7,
  verb: verb('remove the button'),
  labelled: null,
  offered: {
    label: 'Nothing',
    means: 'The button is removed.',
    first: { kind: 'nothing' },
    parts: [],
  },
});
