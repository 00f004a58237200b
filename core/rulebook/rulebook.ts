import { z } from 'zod';
import { aspectOf, GATHERED, type Aspect } from '../aspects/aspects.ts';
import { Outcome } from '../aspects/outcome.ts';
import { isRule, isSellers, SELLERS_PREFIX } from './entries.ts';
import { leavesOf } from './condition.ts';
import { Condition, MAX_DEPTH, MAX_LEAVES, measure } from './condition.ts';

export const Rule = z
  .strictObject({
    id: z.string().min(1).max(100),
    name: z.string().max(200).optional(),
    on: z.boolean(),
    when: Condition,
    then: Outcome,
    stopHere: z.boolean().optional(),
    gather: z.boolean().optional(),
  })
  .superRefine(({ when, then, gather }, context) => {
    const { depth, leaves } = measure(when);
    const fault = (path: string[], message: string) => {
      context.addIssue({ code: 'custom', path, message });
    };
    if (depth > MAX_DEPTH) fault(['when'], `groups at most ${MAX_DEPTH} deep (these are ${depth})`);
    if (leaves > MAX_LEAVES) fault(['when'], `at most ${MAX_LEAVES} conditions (these are ${leaves})`);
    if (gather !== undefined && GATHERED.every((aspect) => then[aspect] === undefined)) {
      fault(['gather'], 'only beside notes or style');
    }
    if (leavesOf(when).some(({ fact }) => fact === 'page.path')) {
      const beyond = (Object.keys(then) as Aspect[]).filter((aspect) => !aspectOf(aspect).mayHangOnPage);
      for (const aspect of beyond) {
        fault(['then', aspect], 'only visibility, notes and style, as what may be bought cannot hang on an address');
      }
    }
  })
  .meta({ id: 'Rule' });

/** Place of the sellers' rules in the running order, each for that seller's own products (docs/rulebook.md, “Which rule wins”, 7). */
export const SellersEntry = z
  .strictObject({ id: z.string().min(1).max(100), sellers: z.literal(true), on: z.boolean() })
  .meta({ id: 'SellersEntry' });
export type SellersEntry = z.infer<typeof SellersEntry>;

/** Entry of the running order. The last schema reports the problems if neither fits. */
export const Entry = z.union([SellersEntry, Rule]);
export type Entry = z.infer<typeof Entry>;

const MAX_RULES = 2000;
const MAX_RULEBOOK_LEAVES = 20_000;

/** The one document the whole product turns on: rules in their running order. */
export const Rulebook = z
  .strictObject({
    format: z.literal('understudy-rulebook'),
    version: z.literal(1),
    rules: z.array(Entry).max(MAX_RULES),
  })
  .superRefine(({ rules }, context) => {
    const seen = new Set<string>();
    rules.forEach(({ id }, index) => {
      if (seen.has(id)) {
        context.addIssue({ code: 'custom', path: ['rules', index, 'id'], message: 'an id that no other rule has' });
      }
      seen.add(id);
      if (id.startsWith(SELLERS_PREFIX))
        context.addIssue({
          code: 'custom',
          path: ['rules', index, 'id'],
          message: `an id that does not begin with "${SELLERS_PREFIX}", as those of sellers' rules do`,
        });
    });
    const entries = rules.flatMap((entry, index) => (isSellers(entry) ? [index] : []));
    for (const index of entries.slice(1))
      context.addIssue({ code: 'custom', path: ['rules', index, 'sellers'], message: 'at most once in a rulebook' });
    const leaves = rules.filter(isRule).reduce((sum, { when }) => sum + measure(when).leaves, 0);
    if (leaves > MAX_RULEBOOK_LEAVES) {
      const message = `at most ${MAX_RULEBOOK_LEAVES} conditions in all rules (these are ${leaves})`;
      context.addIssue({ code: 'custom', path: ['rules'], message });
    }
  })
  .meta({ id: 'Rulebook' });

export type Rule = z.infer<typeof Rule>;
export type Rulebook = z.infer<typeof Rulebook>;

export const EMPTY_RULEBOOK: Rulebook = { format: 'understudy-rulebook', version: 1, rules: [] };
