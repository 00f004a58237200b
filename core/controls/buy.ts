import { z } from 'zod';
import { defineControl, kind, labelled, shared } from './control.ts';
import { verb } from './telling.ts';

/** The shop's own button, perhaps with another label. */
export const buy = defineControl({
  kind: 'buy',
  schema: z.strictObject({ ...kind('buy'), ...labelled }),
  decided: z.strictObject({ ...kind('buy'), ...shared }),
  resolve:
    (_control, { parts }) =>
    (subject) => ({ kind: 'buy' as const, ...parts(subject) }),
  name: 'the shop’s own button',
  shortName: 'button',
  shape: 'solid',
  defaultLabel: null,
  sells: true,
  isShopButton: true,
  relabelsShopButton: true,
  refusal: 'notForSale',
  verb: verb('keep the button'),
  labelled: ', labelled ',
  offered: {
    label: 'The button',
    means: 'The shop’s own button stays, with another label if you like.',
    first: { kind: 'buy' },
    parts: ['label', 'look'],
  },
});
