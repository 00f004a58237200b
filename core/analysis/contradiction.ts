import type { Condition } from '../rulebook/condition.ts';
import { groupOf } from '../rulebook/condition.ts';
import { toConjunctions, type Conjunction } from '../engine/conjunctions.ts';
import { PredicateTable, type Predicate } from '../facts/predicates.ts';
import { stockStatuses, type StockFacts } from '../model/subject.ts';
import { betweenWindow } from '../facts/windows.ts';
import type { Zone } from '../model/zone.ts';

/**
 * Tells whether a condition contradicts itself, so that no subject can meet it. Conditions about the clock or an address count
 * as possible, except for windows that must hold together and never do; so do conditions with too many cases to write out.
 */
export function contradicts(when: Condition, zone: Zone): boolean {
  const { rows } = toConjunctions(when, new PredicateTable());
  return rows.every(isImpossible) || !windowsMeet(when, zone);
}

function isImpossible({ needs, refuses }: Conjunction): boolean {
  const wanted = [...needs];
  const unwanted = [...refuses];
  if (wanted.some((predicate) => predicate.values?.length === 0 || predicate.low > predicate.high)) return true;
  if (wanted.some((predicate) => unwanted.some((other) => isCovered(predicate, other)))) return true;
  const isClash = (a: Predicate, b: Predicate) =>
    a.scope === b.scope && a.column === b.column && (a.values ? a.isSingle && !share(a, b) : !meet(a, b));
  return wanted.some((a, index) => wanted.slice(index + 1).some((b) => isClash(a, b))) || !hasStock(wanted, unwanted);
}

/** Whether one predicate's being true makes another true: it asks the same fact for no more. */
function isCovered(predicate: Predicate, by: Predicate): boolean {
  if (predicate.scope !== by.scope || predicate.column !== by.column) return false;
  if (predicate.values && by.values) return predicate.values.every((value) => by.values?.includes(value));
  return predicate.values === null && by.values === null && by.low <= predicate.low && predicate.high <= by.high;
}

const share = (a: Predicate, b: Predicate) => a.values?.some((value) => b.values?.includes(value)) ?? false;
const meet = (a: Predicate, b: Predicate) => Math.max(a.low, b.low) <= Math.min(a.high, b.high);

/** Whether any stock there can be has the statuses and the quantity asked for. */
function hasStock(wanted: readonly Predicate[], unwanted: readonly Predicate[]): boolean {
  const ofStock = ({ scope, column }: Predicate) =>
    scope === 'variant' && (column === 'status' || column === 'quantity');
  const edges = [...wanted, ...unwanted]
    .filter(ofStock)
    .flatMap(({ values, low, high }) => (values ? [] : [low, high]));
  const quantities = [0, 1, ...edges.flatMap((edge) => [edge - 1, edge, edge + 1])].filter(Number.isFinite);
  const kinds: StockFacts[] = [
    { tracked: false, quantity: 0, sellPastZero: false },
    ...quantities.flatMap((quantity) =>
      [true, false].map((sellPastZero) => ({ tracked: true, quantity, sellPastZero })),
    ),
  ];
  const holds = (stock: StockFacts, predicate: Predicate) =>
    predicate.values
      ? stockStatuses(stock).some((status) => predicate.values?.includes(status))
      : stock.tracked && predicate.low <= stock.quantity && stock.quantity <= predicate.high;
  return kinds.some(
    (stock) =>
      wanted.filter(ofStock).every((predicate) => holds(stock, predicate)) &&
      !unwanted.filter(ofStock).some((predicate) => holds(stock, predicate)),
  );
}

/** Whether the windows that must all hold have an instant in common. */
function windowsMeet(when: Condition, zone: Zone): boolean {
  const windows = together(when).flatMap((part) =>
    'fact' in part && part.fact === 'moment' && part.op === 'between' ? [betweenWindow(zone, part.value)] : [],
  );
  // A single inverted window is reported separately.
  if (windows.length < 2) return true;
  return Math.max(...windows.map(({ from }) => from)) < Math.min(...windows.map(({ until }) => until));
}

/** The conditions that must hold together, groups of `all` opened. */
function together(when: Condition): Condition[] {
  const group = groupOf(when);
  return group?.join === 'all' ? group.members.flatMap(together) : [when];
}
