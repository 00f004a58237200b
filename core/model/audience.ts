import type { Invitation, RoleMembership, VisitorFacts } from './subject.ts';

/** Facts of the customer in an audience of one. */
export interface AudiencePerson {
  readonly id: string;
  readonly roles: readonly RoleMembership[];
  readonly invitations: readonly Invitation[];
}

/** A group of visitors, or one customer. */
export interface AudienceFacts {
  readonly signedIn: boolean;
  readonly roles: readonly string[];
  /** Whether they are invited to any product. */
  readonly invited?: boolean | undefined;
  readonly person?: AudiencePerson | null | undefined;
}

const INVITED: readonly Invitation[] = [{ to: 'any', id: '', until: null }];

/** Returns a visitor who represents an audience. Without a person, its roles never expire. */
export const visitorOf = ({ signedIn, roles, invited, person }: AudienceFacts): VisitorFacts => ({
  signedIn,
  roles: person?.roles ?? roles.map((code) => ({ code, from: null, until: null })),
  customerId: person?.id ?? null,
  locale: null,
  invitations: invited ? INVITED : (person?.invitations ?? []),
});

/**
 * Names the audience of a visitor at a moment (epoch ms) for counting: of those that fit, the most specific; a plain name
 * if none does. Audiences of one customer or of invited visitors are not counted.
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
