import { rulesIn } from '#core/rulebook/entries.ts';
import type { Audience } from '#core/contract/audienceCalls.ts';
import type { Vocabulary } from '#core/contract/shopCalls.ts';
import { leavesOf } from '#core/rulebook/condition.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { roleTitle } from '../goods/useGoods.ts';
import { capital } from '../shared/wording.ts';

interface AudienceKind {
  readonly label: string;
  readonly isGuest?: true;
  readonly isInvited?: true;
  readonly isCustomer?: true;
  /** Label of its roles, if it has any. */
  readonly roles?: string;
  readonly needsRoles?: true;
}

export type Kind = 'guest' | 'signedIn' | 'roles' | 'customer' | 'invited';
/** Kinds of audience. */
export const KINDS: Readonly<Record<Kind, AudienceKind>> = {
  guest: { label: 'Guests, not signed in', isGuest: true },
  signedIn: { label: 'Signed-in customers' },
  roles: { label: 'Customers with roles', roles: 'Roles', needsRoles: true },
  customer: { label: 'One customer', isCustomer: true },
  invited: { label: 'Invited from a waitlist', roles: 'Roles, if any', isInvited: true },
};

/** An audience while it is changed. */
export interface AudienceRow {
  readonly key: number;
  readonly name: string;
  readonly kind: Kind;
  readonly roles: readonly string[];
  readonly customer: string | null;
}

const kindOf = ({ signedIn, roles, customer, invited }: Audience): Kind =>
  customer !== null ? 'customer' : invited ? 'invited' : !signedIn ? 'guest' : roles.length > 0 ? 'roles' : 'signedIn';

export const rowOf = (audience: Audience, key: number): AudienceRow => ({
  key,
  name: audience.name,
  kind: kindOf(audience),
  roles: audience.roles,
  customer: audience.customer,
});

export function audienceOf({ name, kind, roles, customer }: AudienceRow): Audience {
  const { isGuest = false, isInvited = false, isCustomer = false, ...has } = KINDS[kind];
  return {
    name: name.trim(),
    signedIn: !isGuest,
    roles: has.roles === undefined ? [] : [...roles],
    customer: isCustomer ? customer : null,
    invited: isInvited,
  };
}

/** Describes an audience in a few words. */
export function audienceWords(
  audience: Audience & { readonly person?: { readonly name: string | null } | null },
  titles: Vocabulary['roles'],
) {
  const { roles, customer, person, invited, signedIn } = audience;
  if (customer !== null) return person ? `as ${person.name ?? customer}` : `as ${customer}, who is gone`;
  if (!signedIn && !invited) return 'not signed in';
  const held = roles.length > 0 ? `, ${roles.map((code) => roleTitle(titles, code)).join(', ')}` : '';
  return `${invited ? 'invited from the waitlist' : 'signed in'}${held}`;
}

/** Problems that keep a row from being saved, by field. */
export interface RowFaults {
  readonly name?: string;
  readonly roles?: string;
  readonly customer?: string;
}

export function faultsOf(row: AudienceRow, rows: readonly AudienceRow[]): RowFaults {
  const { needsRoles, isCustomer } = KINDS[row.kind];
  const name = row.name.trim().toLowerCase();
  const isDoubled = rows.some((other) => other.key !== row.key && other.name.trim().toLowerCase() === name);
  return {
    ...(name === '' ? { name: 'Give it a name' } : isDoubled ? { name: 'Another audience has this name' } : {}),
    ...(needsRoles && row.roles.length === 0 ? { roles: 'Choose at least one role' } : {}),
    ...(isCustomer && row.customer === null ? { customer: 'Choose a customer' } : {}),
  };
}

/** The roles that rules name. */
const rolesNamed = (rulebook: Rulebook) =>
  rulesIn(rulebook).flatMap(({ when }) =>
    leavesOf(when).flatMap((leaf) => (leaf.fact === 'visitor.roles' ? leaf.value : [])),
  );

/** Suggested audiences: roles in rules or of customers that no audience has, those in rules first. */
export function suggestions(
  rows: readonly AudienceRow[],
  rulebook: Rulebook | undefined,
  vocabulary: Vocabulary,
): Omit<AudienceRow, 'key'>[] {
  const lookedThrough = new Set(rows.flatMap(({ roles, kind }) => (KINDS[kind].needsRoles ? roles : [])));
  const named = rulebook ? rolesNamed(rulebook) : [];
  const roles = [...new Set([...named, ...vocabulary.roles.map(({ name }) => name)])];
  const kinds = new Set(rows.map(({ kind }) => kind));
  const isOfTurns =
    rulebook && rulesIn(rulebook).some(({ when }) => leavesOf(when).some(({ fact }) => fact === 'visitor.invited'));
  const none = { roles: [], customer: null };
  return [
    ...(kinds.has('guest') ? [] : [{ name: 'Guest', kind: 'guest' as const, ...none }]),
    ...roles
      .filter((role) => !lookedThrough.has(role))
      .map((role) => ({
        name: capital(roleTitle(vocabulary.roles, role)),
        kind: 'roles' as const,
        roles: [role],
        customer: null,
      })),
    ...(isOfTurns && !kinds.has('invited') ? [{ name: 'Invited', kind: 'invited' as const, ...none }] : []),
  ].slice(0, 5);
}
