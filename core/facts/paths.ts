import { z } from 'zod';
import type { Subject } from '../model/subject.ts';
import { leafSchema } from './fact.ts';
import { paths } from './matching.ts';

const Path = z
  .string()
  .max(2000)
  .regex(/^\/[^?#]*$/, 'a path that begins with /, without query or fragment');
const PathPart = z.string().min(1).max(2000);

/** Leaves that compare a path. */
export const pathSchema = <const Name extends string>(fact: Name) =>
  z.discriminatedUnion('op', [
    leafSchema(fact, ['equals', 'startsWith'], Path),
    leafSchema(fact, ['contains'], PathPart),
  ]);

/** Common definition of paths. They have no index, since an address can be anything. */
export const asPath = (read: (subject: Subject) => string | null) => ({
  actual: read,
  operators: paths(read),
  predicate: () => 'unknown' as const,
});
