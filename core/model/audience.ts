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

/**
 * What the audience is called that a visitor belongs to at a moment (epoch ms): of those that fit, the one that asks for
 * most; a plain name where none does. One customer, and whoever is invited, are no audience that is counted by.
 */
export function audienceNamed(
  audiences: readonly (AudienceFacts & { readonly name: string; readonly customer?: string | null })[],
  { signedIn, roles }: Pick<VisitorFacts, 'signedIn' | 'roles'>,
  moment: number,
): string {
  const held = new Set(
    roles.flatMap(({ code, from, until }) =>
      (from === null || from <= moment) && (until === null || moment < until) ? code : [],
    ),
  );
  const [first] = audiences
    .filter(
      (audience) =>
        audience.signedIn === signedIn &&
        !audience.invited &&
        (audience.customer ?? null) === null &&
        audience.roles.every((role) => held.has(role)),
    )
    .sort((a, b) => b.roles.length - a.roles.length);
  return first?.name ?? (signedIn ? 'Signed in' : 'Guest');
}
