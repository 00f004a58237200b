import { z } from 'zod';
import { isTurnFor } from '../model/subject.ts';
import { noneOf, type TimedPredicate } from '../model/timedResult.ts';
import { defineFact, leafSchema } from './fact.ts';
import { inWindows } from './windows.ts';

/** Whether the visitor has a turn to buy the variant, by its own waitlist or its product's, and until when. */
const isInvited: TimedPredicate = ({ visitor, product, variant, moment }) => {
  const open = visitor.invitations.filter((invitation) => isTurnFor(invitation, { product, variant }));
  return inWindows(
    open.map(({ until }) => ({ from: -Infinity, until: until ?? Infinity })),
    moment,
  );
};

export const visitorInvited = defineFact({
  name: 'visitor.invited',
  schema: leafSchema('visitor.invited', ['is'], z.boolean()),
  about: 'people',
  rank: 4,
  dependsOn: () => 'both',
  actual: (subject) => isInvited(subject).matches,
  operators: { is: (expected) => (expected ? isInvited : noneOf([isInvited])) },
  predicate: () => 'unknown',
  phrase: ({ value }) =>
    value ? 'for people invited from its waitlist' : 'for everyone not invited from its waitlist',
  asked: {
    group: 'Waitlists',
    questions: [
      { label: 'people invited from its waitlist', op: 'is', start: true, value: 'none' },
      { label: 'everyone not invited from it', op: 'is', start: false, value: 'none' },
    ],
  },
});
