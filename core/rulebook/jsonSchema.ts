import { z } from 'zod';
import { Rulebook } from './rulebook.ts';

/** JSON Schema (draft 2020-12) of a rulebook, for editors and other programs; some checks are in the Zod schema alone. */
export function rulebookJsonSchema(): Record<string, unknown> {
  return { title: 'Understudy rulebook', ...z.toJSONSchema(Rulebook, { io: 'input', unrepresentable: 'any' }) };
}
