import type { Call } from './call.ts';
import { isPermission } from './permissions.ts';
import type { ProblemCode } from './problems.ts';

/** Problems that any call may be answered with. */
const OF_ALL: readonly ProblemCode[] = ['bad-address', 'not-set-up', 'failed', 'busy', 'database-away'];
const OF_BODIES: readonly ProblemCode[] = [
  'broken-json',
  'bad-request',
  'no-body',
  'charset',
  'encoding',
  'too-large',
  'too-costly',
];

/** Every problem that a call may be answered with: its own, and those that follow from its input and access. */
export function problemsOf(call: Call): readonly ProblemCode[] {
  return [
    ...(call.params || call.query || call.body ? (['invalid'] as const) : []),
    ...(call.body ? OF_BODIES : []),
    ...(isPermission(call.auth) ? (['not-signed-in', 'not-allowed', 'csrf'] as const) : []),
    ...(call.auth === 'shop' ? (['not-the-shop'] as const) : []),
    ...(call.auth === 'picker' ? (['picker-over'] as const) : []),
    ...(call.ifMatch === 'required' ? (['if-match-needed'] as const) : []),
    ...(call.ifMatch ? (['draft-changed'] as const) : []),
    ...(call.isLong ? (['given-up'] as const) : []),
    ...(call.problems ?? []),
    ...OF_ALL,
  ];
}
