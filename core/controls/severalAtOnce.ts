import { z } from 'zod';
import { beside, defineControl, kind, labelled, shared } from './control.ts';
import { verb } from './telling.ts';

/** Several variants go into the cart in one step. */
export const severalAtOnce = defineControl({
  kind: 'severalAtOnce',
  schema: z.strictObject({ ...kind('severalAtOnce'), ...labelled, ...beside }),
  decided: z.strictObject({ ...kind('severalAtOnce'), ...shared }),
  resolve:
    (_control, { parts }) =>
    (subject) => ({ kind: 'severalAtOnce' as const, ...parts(subject) }),
  name: 'several at once',
  shortName: 'several',
  defaultLabel: 'label.severalAtOnce',
  sells: true,
  refusal: 'notForSale',
  verb: verb('let several variants be added at once'),
  labelled: ', labelled ',
});
