import { z } from 'zod';
import { timeless } from '../model/timedResult.ts';
import { defineFact, leafSchema, ofView } from './fact.ts';

export const visitorSignedIn = defineFact({
  name: 'visitor.signedIn',
  schema: leafSchema('visitor.signedIn', ['is'], z.boolean()),
  about: 'people',
  rank: 4,
  dependsOn: ofView,
  actual: ({ visitor }) => visitor.signedIn,
  operators: { is: (expected) => timeless(({ visitor }) => visitor.signedIn === expected) },
  predicate: ({ value }, make) => make.among('visitor', 'signedIn', [String(value)], { isSingle: true }),
  emitVisitor: ({ signedIn }, emit) => {
    emit.value('signedIn', String(signedIn));
  },
  phrase: ({ value }) => (value ? 'for signed-in customers' : 'for guests'),
  asked: {
    group: 'Visitors',
    questions: [
      { label: 'guests', op: 'is', start: false, value: 'none' },
      { label: 'signed-in customers', op: 'is', start: true, value: 'none' },
    ],
  },
});
