import { allOf, anyOf, noneOf, type TimedPredicate } from '../model/timedResult.ts';
import type { RoleMembership } from '../model/subject.ts';
import { defineFact, leafSchema, NameList, ofView } from './fact.ts';
import { inWindows } from './windows.ts';
import { listed, plural } from './wording.ts';

const windowOf = ({ from, until }: RoleMembership) => ({ from: from ?? -Infinity, until: until ?? Infinity });

/** Whether a role is held at a moment, and until when. */
const hasRole =
  (code: string): TimedPredicate =>
  ({ visitor, moment }) =>
    inWindows(visitor.roles.filter((role) => role.code === code).map(windowOf), moment);

/** Roles held at the moment, including memberships with dates. */
export const visitorRoles = defineFact({
  name: 'visitor.roles',
  schema: leafSchema('visitor.roles', ['hasAny', 'hasAll', 'hasNone'], NameList),
  about: 'people',
  rank: 4,
  dependsOn: ofView,
  actual: ({ visitor, moment }) => {
    const now = visitor.roles.filter((role) => inWindows([windowOf(role)], moment).matches);
    return [...new Set(now.map(({ code }) => code))];
  },
  operators: {
    hasAny: (expected) => anyOf(expected.map(hasRole)),
    hasAll: (expected) => allOf(expected.map(hasRole)),
    hasNone: (expected) => noneOf(expected.map(hasRole)),
  },
  predicate: ({ op, value }, make) =>
    op === 'hasAll'
      ? make.each(value.map((code) => make.among('visitor', 'role', [code])))
      : make.among('visitor', 'role', value, { holds: op === 'hasAny' }),
  emitVisitor: ({ roles }, emit) => {
    // Whether a role with dates is held depends on the clock.
    for (const { code, from, until } of roles) emit.value('role', code, from === null && until === null);
  },
  phrase: ({ op, value }, { role }) =>
    ({
      hasAny: `for customers with the role ${listed(value, 'or', role)}`,
      hasAll: `for customers with ${plural('the role', value)} ${listed(value, 'and', role)}`,
      hasNone: `for everyone without the role ${listed(value, 'or', role)}`,
    })[op],
  vocabulary: { what: 'role', isLetterByLetter: true, of: 'roles' },
  asked: {
    group: 'Roles',
    questions: [
      { label: 'customers with any of the roles', op: 'hasAny', start: null, value: 'roles' },
      { label: 'customers with all of the roles', op: 'hasAll', start: null, value: 'roles' },
      { label: 'everyone but the roles', op: 'hasNone', start: null, value: 'roles' },
    ],
  },
});
