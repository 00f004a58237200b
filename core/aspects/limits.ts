import { z } from 'zod';
import { outcome } from '../controls/telling.ts';
import { joined } from '../facts/wording.ts';
import { MOST_UNITS } from '../model/units.ts';
import { alikeOr, defineAspect } from './aspect.ts';

const Count = z.int().min(1).max(MOST_UNITS);
const Limits = z
  .strictObject({ min: Count.optional(), max: Count.optional(), step: Count.optional() })
  .refine((limits) => Object.values(limits).some((value) => value !== undefined), 'at least one of min, max and step')
  .refine(({ min = 1, max = Infinity }) => min <= max, 'min no greater than max');
export type Limits = z.infer<typeof Limits>;

/** Minimum, maximum and step of the quantity. */
export const limits = defineAspect({
  schema: Limits,
  decided: z.strictObject({ min: z.int(), max: z.int().nullable(), step: z.int() }),
  prepare: ({ min, max, step }) => ({ min: min ?? 1, max: max ?? null, step: step ?? 1 }),
  resolve: (winner) => winner ?? ANY,
  join: (all) => alikeOr(all, ANY),
  name: 'quantities',
  shortName: 'quantities',
  phrases: ({ min, max, step }) => {
    const ends = [min !== undefined && `at least ${min}`, max !== undefined && `at most ${max}`].filter(
      (end) => end !== false,
    );
    const steps = step === undefined ? [] : [`in steps of ${step}`];
    const words = [...(ends.length > 0 ? [`${joined(ends, 'and')} at a time`] : []), ...steps];
    return [outcome(`sell ${words.join(', ')}`, '/then/limits')];
  },
});

const ANY = { min: 1, max: null, step: 1 } as const;
