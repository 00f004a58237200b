import type { Invitation, RoleMembership, VisitorFacts } from './subject.ts';

/** What an audience of one customer is looked through with: what they have. */
export interface AudiencePerson {
  readonly id: string;
  readonly roles: readonly RoleMembership[];
  readonly invitations: readonly Invitation[];
}

/** A group of visitors: nobody in particular, or one customer as they are. */
export interface AudienceFacts {
  readonly signedIn: boolean;
  readonly roles: readonly string[];
  /** Whether it is their turn, whatever is looked at. */
  readonly invited?: boolean | undefined;
  readonly person?: AudiencePerson | null | undefined;
}

const INVITED: readonly Invitation[] = [{ to: 'any', id: '', until: null }];

/** Whom an audience stands for. Without a person it has its roles at any moment. */
export const visitorOf = ({ signedIn, roles, invited, person }: AudienceFacts): VisitorFacts => ({
  signedIn,
  roles: person?.roles ?? roles.map((code) => ({ code, from: null, until: null })),
  customerId: person?.id ?? null,
  locale: null,
  invitations: invited ? INVITED : (person?.invitations ?? []),
});
