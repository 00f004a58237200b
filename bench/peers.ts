import { rulesIn } from '#core/rulebook/entries.ts';
import { LogicEngine } from 'json-logic-engine';
import { addCalendar, parseDuration, parseLocal } from '#core/model/calendar.ts';
import { groupOf } from '#core/rulebook/condition.ts';
import { sameName } from '#core/model/names.ts';
import { stockStatuses, type ProductSubject } from '#core/model/subject.ts';
import { toInstant } from '#core/model/zone.ts';
import type { Condition } from '#core/rulebook/condition.ts';
import type { Leaf } from '#core/facts/facts.ts';
import type { Job } from './job.ts';

/** The rule that decides each of five aspects: their ids, or undefined. */
export type Winning = (subject: ProductSubject) => readonly (string | undefined)[];

export const FIVE = ['control', 'express', 'price', 'limits', 'visibility'] as const;

/** Facts as a careful hand would prepare them once for each variant and visitor. */
interface Prepared {
  readonly tags: ReadonlySet<string>;
  readonly within: ReadonlySet<string>;
  readonly statuses: ReadonlySet<string>;
  readonly subject: ProductSubject;
}

const PREPARED = new WeakMap<ProductSubject['variant'], Omit<Prepared, 'subject'>>();

function prepare(subject: ProductSubject): Prepared {
  const { product, variant } = subject;
  let known = PREPARED.get(variant);
  if (!known) {
    const within = product.categories.flatMap((id) => {
      const parts = id.split('/');
      return parts.map((_part, index) => parts.slice(0, index + 1).join('/'));
    });
    known = {
      tags: new Set(product.tags.map(sameName)),
      within: new Set(within),
      statuses: new Set(stockStatuses(variant.stock)),
    };
    PREPARED.set(variant, known);
  }
  return { ...known, subject };
}

type Holds = (prepared: Prepared) => boolean;

/** Rules as closures over sets, as they would be written by hand: no expiry, no reasons, winners alone. */
export function handWritten({ rulebook, shop }: Job): Winning {
  const instant = (local: string) => toInstant(shop.zone, parseLocal(local) ?? 0);
  const leafHolds = (leaf: Leaf): Holds => {
    switch (leaf.fact) {
      case 'product.tags': {
        const names = leaf.value.map(sameName);
        const hasOne: Holds = ({ tags }) => names.some((name) => tags.has(name));
        return leaf.op === 'hasNone' ? (prepared) => !hasOne(prepared) : hasOne;
      }
      case 'product.categories':
        return ({ within }) => leaf.value.some((id) => within.has(id));
      case 'product.brand': {
        const set = new Set(leaf.value.map(sameName));
        return ({ subject }) => set.has(sameName(subject.product.brand ?? '')) === (leaf.op === 'in');
      }
      case 'product.kind': {
        const set = new Set(leaf.value.map(sameName));
        return ({ subject }) => set.has(sameName(subject.product.kind ?? ''));
      }
      case 'product.attribute': {
        const set = new Set(leaf.value.values.map(sameName));
        return ({ subject }) => set.has(sameName(subject.product.attributes[leaf.value.name] ?? ''));
      }
      case 'variant.price': {
        const limit = Number(leaf.value);
        return ({ subject }) => (leaf.op === 'lt' ? subject.variant.price < limit : subject.variant.price >= limit);
      }
      case 'stock.status':
        return ({ statuses }) => leaf.value.some((status) => statuses.has(status));
      case 'stock.quantity':
        return ({ subject: { variant } }) => variant.stock.tracked && variant.stock.quantity < Number(leaf.value);
      case 'visitor.roles': {
        const set = new Set(leaf.value);
        return ({ subject }) => subject.visitor.roles.some(({ code }) => set.has(code)) === (leaf.op === 'hasAny');
      }
      case 'visitor.signedIn':
        return ({ subject }) => subject.visitor.signedIn === leaf.value;
      case 'moment': {
        if (leaf.op === 'between') {
          const from = instant(leaf.value.from ?? '');
          const until = instant(leaf.value.until ?? '');
          return ({ subject }) => from <= subject.moment && subject.moment < until;
        }
        return ({ subject }) => {
          const date = subject.product.dates.ships;
          if (date === undefined) return false;
          const until = parseLocal(date) ?? 0;
          const from = addCalendar(until, parseDuration('-P120D') ?? { months: 0, days: 0, exact: 0 });
          return toInstant(shop.zone, from) <= subject.moment && subject.moment < toInstant(shop.zone, until);
        };
      }
      default:
        throw new TypeError(`the job has no ${leaf.fact}`);
    }
  };
  const holdsOf = (condition: Condition): Holds => {
    const group = groupOf(condition);
    if (!group) return leafHolds(condition as Leaf);
    const members = group.members.map(holdsOf);
    if (group.join === 'all') return (prepared) => members.every((holds) => holds(prepared));
    const wanted = group.join === 'any';
    return (prepared) => members.some((holds) => holds(prepared)) === wanted;
  };
  return firstOf(
    rulesIn(rulebook).map(({ id, when, then }) => ({ id, then, holds: holdsOf(when) })),
    prepare,
  );
}

/** The same by json-logic-engine, each rule compiled. */
export function jsonLogic({ rulebook, shop }: Job): Winning {
  const engine = new LogicEngine();
  const instant = (local: string) => toInstant(shop.zone, parseLocal(local) ?? 0);
  const of = (name: string) => ({ var: name });
  const anyIn = (values: readonly string[], name: string) => ({
    or: values.map((value) => ({ in: [value, of(name)] })),
  });
  const not = (rule: unknown, wanted: boolean) => (wanted ? rule : { '!': [rule] });
  const leafRule = (leaf: Leaf): unknown => {
    switch (leaf.fact) {
      case 'product.tags':
        return not(anyIn(leaf.value.map(sameName), 'tags'), leaf.op !== 'hasNone');
      case 'product.categories':
        return anyIn(leaf.value, 'within');
      case 'product.brand':
        return not({ in: [of('brand'), leaf.value.map(sameName)] }, leaf.op === 'in');
      case 'product.kind':
        return { in: [of('kind'), leaf.value.map(sameName)] };
      case 'product.attribute':
        return { in: [of('hardiness'), leaf.value.values.map(sameName)] };
      case 'variant.price':
        return leaf.op === 'lt' ? { '<': [of('price'), leaf.value] } : { '>=': [of('price'), leaf.value] };
      case 'stock.status':
        return anyIn(leaf.value, 'statuses');
      case 'stock.quantity':
        return { and: [of('tracked'), { '<': [of('quantity'), leaf.value] }] };
      case 'visitor.roles':
        return not(anyIn(leaf.value, 'roles'), leaf.op === 'hasAny');
      case 'visitor.signedIn':
        return { '===': [of('signedIn'), leaf.value] };
      case 'moment':
        if (leaf.op === 'between') {
          return {
            and: [
              { '>=': [of('moment'), instant(leaf.value.from ?? '')] },
              { '<': [of('moment'), instant(leaf.value.until ?? '')] },
            ],
          };
        }
        return { and: [{ '>=': [of('moment'), of('shipsFrom')] }, { '<': [of('moment'), of('shipsUntil')] }] };
      default:
        throw new TypeError(`the job has no ${leaf.fact}`);
    }
  };
  const ruleOf = (condition: Condition): unknown => {
    const group = groupOf(condition);
    if (!group) return leafRule(condition as Leaf);
    const members = group.members.map(ruleOf);
    return group.join === 'all' ? { and: members } : not({ or: members }, group.join === 'any');
  };
  type Data = Record<string, unknown>;
  const prepared = new WeakMap<ProductSubject['variant'], Data>();
  const dataOf = (subject: ProductSubject): Data => {
    const { product, variant, visitor, moment } = subject;
    let data = prepared.get(variant);
    if (!data) {
      const { tags, within, statuses } = prepare(subject);
      const until = product.dates.ships === undefined ? null : (parseLocal(product.dates.ships) ?? 0);
      const from =
        until === null ? null : addCalendar(until, parseDuration('-P120D') ?? { months: 0, days: 0, exact: 0 });
      data = {
        tags: [...tags],
        within: [...within],
        statuses: [...statuses],
        brand: sameName(product.brand ?? ''),
        kind: sameName(product.kind ?? ''),
        hardiness: sameName(product.attributes.hardiness ?? ''),
        price: variant.price,
        tracked: variant.stock.tracked,
        quantity: variant.stock.quantity,
        shipsFrom: from === null ? Infinity : toInstant(shop.zone, from),
        shipsUntil: until === null ? -Infinity : toInstant(shop.zone, until),
      };
      prepared.set(variant, data);
    }
    return { ...data, signedIn: visitor.signedIn, roles: visitor.roles.map(({ code }) => code), moment };
  };
  return firstOf(
    rulesIn(rulebook).map(({ id, when, then }) => {
      const built = engine.build(ruleOf(when)) as (data: Data) => unknown;
      return { id, then, holds: (data: Data) => Boolean(built(data)) };
    }),
    dataOf,
  );
}

interface Tried<Facts> {
  readonly id: string;
  readonly then: Readonly<Record<string, unknown>>;
  readonly holds: (facts: Facts) => boolean;
}

/** Each aspect goes to the first rule that holds and speaks to it. */
function firstOf<Facts>(rules: readonly Tried<Facts>[], factsOf: (subject: ProductSubject) => Facts): Winning {
  const aspectsOf = rules.map(({ then }) =>
    FIVE.flatMap((aspect, index) => (then[aspect] === undefined ? [] : [index])),
  );
  return (subject) => {
    const facts = factsOf(subject);
    const winning: (string | undefined)[] = [undefined, undefined, undefined, undefined, undefined];
    let open: number = FIVE.length;
    for (const [index, rule] of rules.entries()) {
      if (open <= 0) break;
      const undecided = aspectsOf[index]?.filter((aspect) => winning[aspect] === undefined) ?? [];
      if (undecided.length === 0 || !rule.holds(facts)) continue;
      for (const aspect of undecided) winning[aspect] = rule.id;
      open -= undecided.length;
    }
    return winning;
  };
}
