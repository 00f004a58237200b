import { z } from 'zod';
import { outcome } from '../controls/telling.ts';
import { joined, quoted } from '../facts/wording.ts';
import { commonTo, defineGatheredAspect, unionOf } from './aspect.ts';

const ClassName = z
  .string()
  .max(100)
  .regex(/^-?[_a-zA-Z][\w-]*$/, 'a CSS class name');

/** CSS classes that the shop's page is given. */
export const style = defineGatheredAspect({
  schema: z.array(ClassName).min(1).max(20),
  decided: z.array(z.string()),
  mayHangOnPage: true,
  prepare: (value) => value,
  resolve: unionOf,
  join: commonTo,
  name: 'style',
  shortName: 'style',
  phrases: (value) => [
    outcome(`add the CSS class${value.length > 1 ? 'es' : ''} ${joined(value.map(quoted), 'and')}`, '/then/style'),
  ],
});
