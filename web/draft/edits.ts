import { groupOf } from '#core/rulebook/condition.ts';
import type { Join } from '#core/model/join.ts';
import type { Condition } from '#core/rulebook/condition.ts';
import { type Entry, type Rule, type Rulebook } from '#core/rulebook/rulebook.ts';

type Json = unknown;

const stepsOf = (pointer: string) =>
  pointer
    .split('/')
    .slice(1)
    .map((step) => step.replace(/~1/g, '/').replace(/~0/g, '~'));

/** Value at a pointer (RFC 6901); undefined if absent. */
export function at(document: Json, pointer: string): Json {
  return stepsOf(pointer).reduce<Json>(
    (value, step) => (typeof value === 'object' && value !== null ? (value as Record<string, Json>)[step] : undefined),
    document,
  );
}

/** The document with another value at a pointer; undefined removes it. */
export function put<T>(document: T, pointer: string, value: Json): T {
  return putAt(document, stepsOf(pointer), value) as T;
}

function putAt(document: Json, [step, ...rest]: readonly string[], value: Json): Json {
  if (step === undefined) return value;
  if (Array.isArray(document) || (document === undefined && /^\d+$/.test(step))) {
    const list = (document ?? []) as Json[];
    const index = Number(step);
    const inner = putAt(list[index], rest, value);
    return inner === undefined ? list.toSpliced(index, 1) : list.toSpliced(index, 1, inner);
  }
  const { [step]: before, ...others } = (document ?? {}) as Record<string, Json>;
  const inner = putAt(before, rest, value);
  if (inner === undefined) return others;
  // The keys keep their order, so that a document that is read by eye stays as it was written.
  return Object.fromEntries(
    Object.entries({ ...(document as object), [step]: inner }).map(([key, value]) => [
      key,
      key === step ? inner : value,
    ]),
  );
}

/**
 * The rule asking one thing more: in the group at a place, or among what must all hold at `/when`.
 * @returns with the place where it now stands
 */
export function addCondition(rule: Rule, into: string, condition: Condition): { rule: Rule; pointer: string } {
  const group = groupOf(at(rule, into) as Condition);
  if (into === '/when' && group?.join !== 'all') {
    return { rule: { ...rule, when: { all: [rule.when, condition] } }, pointer: '/when/all/1' };
  }
  const { join, members } = group ?? { join: 'all' as const, members: [] };
  const list = `${into}/${join}`;
  return { rule: put(rule, list, [...members, condition]), pointer: `${list}/${members.length}` };
}

/** The rule without the condition or group at a place, and without groups that this leaves empty. */
export function withoutCondition(rule: Rule, pointer: string): Rule {
  const when = pointer === '/when' ? null : pruned(put(rule, pointer, undefined).when);
  return { ...rule, when: when ?? { all: [] } };
}

function pruned(condition: Condition): Condition | null {
  const group = groupOf(condition);
  if (!group) return condition;
  const members = group.members.map(pruned).filter((member) => member !== null);
  return members.length === 0 ? null : grouped(group.join, members);
}

/** Conditions joined by a word. */
export const grouped = (join: Join, members: readonly Condition[]) => ({ [join]: members }) as unknown as Condition;

/** The rule with another joining word for the group at a place. */
export function rejoined(rule: Rule, pointer: string, join: Join): Rule {
  const group = groupOf(at(rule, pointer) as Condition);
  return group ? put(rule, pointer, grouped(join, group.members)) : rule;
}

/** Levels of groups that a place lies in. */
export const depthOf = (pointer: string) => pointer.match(/\/(all|any|none)(?=\/|$)/g)?.length ?? 0;

const mapRules = (rulebook: Rulebook, rules: Entry[]): Rulebook => ({ ...rulebook, rules });

export const replaceRule = (rulebook: Rulebook, rule: Entry) =>
  mapRules(
    rulebook,
    rulebook.rules.map((before) => (before.id === rule.id ? rule : before)),
  );

export const removeRule = (rulebook: Rulebook, id: string) =>
  mapRules(
    rulebook,
    rulebook.rules.filter((rule) => rule.id !== id),
  );

/** Puts a rule in at an index. */
export const insertRule = (rulebook: Rulebook, rule: Entry, index: number) =>
  mapRules(rulebook, rulebook.rules.toSpliced(index, 0, rule));

/** Moves a rule to an index, counted without it. */
export function moveRule(rulebook: Rulebook, id: string, index: number): Rulebook {
  const rule = rulebook.rules.find((candidate) => candidate.id === id);
  return rule ? insertRule(removeRule(rulebook, id), rule, index) : rulebook;
}

/**
 * An id from a name that no rule has or ever had, `frost-closure-8f3a2c`: an edition that is past, a pre-order or a count
 * may still speak of a rule that was deleted.
 */
export function newId(name: string): string {
  const base = name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 60);
  return `${base || 'rule'}-${crypto.randomUUID().slice(0, 6)}`;
}
