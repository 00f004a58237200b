import { rulesIn } from '#core/rulebook/entries.ts';
import type { Audience } from '#core/contract/audienceCalls.ts';
import type { Vocabulary } from '#core/contract/shopCalls.ts';
import { leavesOf } from '#core/rulebook/condition.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { roleTitle } from '../goods/useGoods.ts';
import { capital } from '../shared/wording.ts';

/** Kinds of audience. */
export const KINDS = {
  guest: 'Guests, not signed in',
  signedIn: 'Signed-in customers',
  roles: 'Customers with roles',
  customer: 'One customer',
  invited: 'Invited from a waitlist',
} as const;
export type Kind = keyof typeof KINDS;

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

export const audienceOf = ({ name, kind, roles, customer }: AudienceRow): Audience => ({
  name: name.trim(),
  signedIn: kind !== 'guest',
  roles: kind === 'roles' || kind === 'invited' ? [...roles] : [],
  customer: kind === 'customer' ? customer : null,
  invited: kind === 'invited',
});

/** Describes an audience in a few words. */
export function audienceWords(
  audience: Audience & { readonly person?: { readonly name: string | null } | null },
  titles: Vocabulary['roles'],
) {
  const { roles, customer, person } = audience;
  const kind = kindOf(audience);
  if (kind === 'guest') return 'not signed in';
  if (kind === 'customer') return person ? `as ${person.name ?? customer ?? ''}` : `as ${customer ?? ''}, who is gone`;
  const held = roles.length > 0 ? `, ${roles.map((code) => roleTitle(titles, code)).join(', ')}` : '';
  return `${kind === 'invited' ? 'invited from the waitlist' : 'signed in'}${held}`;
}

/** Problems that keep a row from being saved, by field. */
export interface RowFaults {
  readonly name?: string;
  readonly roles?: string;
  readonly customer?: string;
}

export function faultsOf(row: AudienceRow, rows: readonly AudienceRow[]): RowFaults {
  const name = row.name.trim().toLowerCase();
  const isDoubled = rows.some((other) => other.key !== row.key && other.name.trim().toLowerCase() === name);
  return {
    ...(name === '' ? { name: 'Give it a name' } : isDoubled ? { name: 'Another audience has this name' } : {}),
    ...(row.kind === 'roles' && row.roles.length === 0 ? { roles: 'Choose at least one role' } : {}),
    ...(row.kind === 'customer' && row.customer === null ? { customer: 'Choose a customer' } : {}),
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
  const lookedThrough = new Set(rows.flatMap(({ roles, kind }) => (kind === 'roles' ? roles : [])));
  const named = rulebook ? rolesNamed(rulebook) : [];
  const roles = [...new Set([...named, ...vocabulary.roles.map(({ name }) => name)])];
  const hasKind = (wanted: Kind) => rows.some(({ kind }) => kind === wanted);
  const isOfTurns =
    rulebook && rulesIn(rulebook).some(({ when }) => leavesOf(when).some(({ fact }) => fact === 'visitor.invited'));
  const none = { roles: [], customer: null };
  return [
    ...(hasKind('guest') ? [] : [{ name: 'Guest', kind: 'guest' as const, ...none }]),
    ...roles
      .filter((role) => !lookedThrough.has(role))
      .map((role) => ({
        name: capital(roleTitle(vocabulary.roles, role)),
        kind: 'roles' as const,
        roles: [role],
        customer: null,
      })),
    ...(isOfTurns && !hasKind('invited') ? [{ name: 'Invited', kind: 'invited' as const, ...none }] : []),
  ].slice(0, 5);
}
