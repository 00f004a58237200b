import type { Condition } from '#core/rulebook/condition.ts';
import type { Rule, Rulebook } from '#core/rulebook/rulebook.ts';

type Json = unknown;

const stepsOf = (pointer: string) =>
  pointer
    .split('/')
    .slice(1)
    .map((step) => step.replace(/~1/g, '/').replace(/~0/g, '~'));

/** What stands at a place in a document (RFC 6901); undefined when nothing does. */
export function at(document: Json, pointer: string): Json {
  return stepsOf(pointer).reduce<Json>(
    (value, step) => (typeof value === 'object' && value !== null ? (value as Record<string, Json>)[step] : undefined),
    document,
  );
}

/** The document with another value at a place; undefined takes what is there away. */
export function put<T>(document: T, pointer: string, value: Json): T {
  return putAt(document, stepsOf(pointer), value) as T;
}

function putAt(document: Json, [step, ...rest]: readonly string[], value: Json): Json {
  if (step === undefined) return value;
  if (Array.isArray(document)) {
    const index = Number(step);
    const inner = putAt(document[index], rest, value);
    return inner === undefined ? document.toSpliced(index, 1) : document.with(index, inner);
  }
  const { [step]: before, ...others } = (document ?? {}) as Record<string, Json>;
  const inner = putAt(before, rest, value);
  if (inner === undefined) return others;
  // The keys keep their order, so that a document that is read by eye stays as it was written.
  return Object.fromEntries(
    Object.entries({ ...(document as object), [step]: inner }).map(([key, own]) => [key, key === step ? inner : own]),
  );
}

/** The rule asking one thing more. */
export function withCondition(rule: Rule, condition: Condition): Rule {
  const { when } = rule;
  const before = 'all' in when ? when.all : [when];
  return { ...rule, when: { all: [...before, condition] } };
}

/** The rule without the condition at a place; one that stood alone leaves nothing asked. */
export function withoutCondition(rule: Rule, pointer: string): Rule {
  return pointer === '/when' ? { ...rule, when: { all: [] } } : put(rule, pointer, undefined);
}

const mapRules = (rulebook: Rulebook, rules: Rule[]): Rulebook => ({ ...rulebook, rules });

export const replaceRule = (rulebook: Rulebook, rule: Rule) =>
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
export const insertRule = (rulebook: Rulebook, rule: Rule, index: number) =>
  mapRules(rulebook, rulebook.rules.toSpliced(index, 0, rule));

/** Moves a rule to an index, counted without it. */
export function moveRule(rulebook: Rulebook, id: string, index: number): Rulebook {
  const rule = rulebook.rules.find((candidate) => candidate.id === id);
  return rule ? insertRule(removeRule(rulebook, id), rule, index) : rulebook;
}

/** An id that no rule has, from a name: `frost-closure`, `frost-closure-2`. */
export function freeId(rulebook: Rulebook, name: string): string {
  const base =
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 60) || 'rule';
  const taken = new Set(rulebook.rules.map(({ id }) => id));
  for (let count = 1; ; count++) {
    const id = count === 1 ? base : `${base}-${count}`;
    if (!taken.has(id)) return id;
  }
}
