import type { VisitorFacts } from './subject.ts';

/** Whom an audience stands for: nobody in particular, who has its roles at any moment. */
export const visitorOf = ({
  signedIn,
  roles,
}: {
  readonly signedIn: boolean;
  readonly roles: readonly string[];
}): VisitorFacts => ({
  signedIn,
  roles: roles.map((code) => ({ code, from: null, until: null })),
  customerId: null,
  locale: null,
  invitations: [],
});
