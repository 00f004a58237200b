import { DateTime } from 'luxon';
import type { Condition } from '#core/rulebook/condition.ts';
import type { Leaf } from '#core/facts/facts.ts';
import type { Outcome } from '#core/aspects/outcome.ts';
import type { Rule, Rulebook, SellersEntry } from '#core/rulebook/rulebook.ts';
import type { SellerRules } from '#core/rulebook/sellers.ts';
import type { ProductSubject, ShopFacts } from '#core/model/subject.ts';

/**
 * The rulebook read as naively as it is written down, with a library's dates: what the compiled one is tested against.
 * @returns the ids of the rules that decide each aspect
 */
export function plainWinners(
  { rules }: Rulebook,
  subject: ProductSubject,
  shop: ShopFacts,
  sellers: readonly SellerRules[] = [],
): Record<string, string[]> {
  const won: Record<string, string[]> = {};
  const closed = new Set<string>();
  /** Reads a list from its top. @returns whether a rule in it said that nothing below counts */
  const isStopped = (list: readonly (Rule | SellersEntry)[]): boolean => {
    for (const entry of list) {
      if ('sellers' in entry) {
        // A seller's closure ends only their own list.
        for (const seller of sellers)
          if (entry.on && seller.names.some((name) => isAmong(subject.product.seller, [name]))) {
            isStopped(seller.rules.map((rule) => plainlyAllowed(rule, seller)));
            break;
          }
        continue;
      }
      const { id, on, when, then, stopHere, gather } = entry;
      const isFinished = namesGoods(when) && !hasEmpty(when) && Object.keys(then).length > 0;
      if (!on || !isFinished || !holds(when, subject, shop)) continue;
      if (isAtCap(then, subject)) continue;
      const isControlLost = then.control !== undefined && closed.has('control');
      for (const aspect of Object.keys(then)) {
        if (closed.has(aspect)) continue;
        if (isControlLost && ['notes', 'afterOrder'].includes(aspect)) continue;
        (won[aspect] ??= []).push(id);
        if (!['notes', 'style'].includes(aspect) || gather === false) closed.add(aspect);
      }
      if (stopHere) return true;
    }
    return false;
  };
  isStopped(rules);
  return won;
}

/**
 * A seller's rule, cut down to what the owner allows, one thing after the other: which aspects, which kinds, no more units
 * than so many, and no words where the shop's are to stand. What is nothing without its words goes altogether.
 */
export function plainlyAllowed(rule: Rule, { id, allowed }: SellerRules): Rule {
  const then = structuredClone(rule.then) as Record<string, Record<string, unknown>>;
  for (const aspect of Object.keys(then))
    if (
      aspect === 'price' && then.price?.show === false
        ? !allowed.hidesPrices
        : aspect !== 'control' && !(allowed.aspects as readonly string[]).includes(aspect)
    )
      Reflect.deleteProperty(then, aspect);
  const kinds = allowed.kinds as readonly unknown[];
  const { control } = then;
  if (control) {
    const other = control.onListing as Record<string, unknown> | undefined;
    if (other && 'kind' in other && !kinds.includes(other.kind)) delete control.onListing;
    if (!kinds.includes(control.kind)) delete then.control;
    for (const one of [control, other])
      if (one?.kind === 'preorder' && allowed.mostUnits !== null) {
        const said = (one.cap ?? { units: Infinity, per: 'variant' }) as { units: number; per: string };
        one.cap = { ...said, units: said.units < allowed.mostUnits ? said.units : allowed.mostUnits };
      }
  }
  if (!allowed.ownWords) {
    delete then.notes;
    delete then.afterOrder;
    for (const one of [then.control, then.control?.onListing as Record<string, unknown> | undefined]) {
      for (const words of ['label', 'text', 'joinedText', 'addedText', 'closedText'])
        if (one) Reflect.deleteProperty(one, words);
      // Without words for afterwards, a pre-order ends at its cap.
      delete one?.atCap;
    }
    if (then.control?.kind === 'notice') delete then.control;
    const other = then.control?.onListing as Record<string, unknown> | undefined;
    if (other && (other.kind === 'notice' || Object.keys(other).length === 0)) delete then.control?.onListing;
    const { price } = then;
    if (price) {
      delete price.text;
      delete price.suffix;
      delete price.onListing;
    }
  }
  return { ...rule, id: `sellers/${id}/${rule.id}`, then: then };
}

function isAtCap({ control }: Outcome, { product, variant, surface }: ProductSubject): boolean {
  const other = control?.onListing;
  const shown = surface === 'listing' && other && 'kind' in other ? other : control;
  if (shown?.kind !== 'preorder' || !shown.cap || shown.atCap === 'close') return false;
  const counted = shown.cap.per === 'variant' ? [variant] : product.variants;
  return counted.map(({ reserved }) => reserved).reduce((a, b) => a + b, 0) >= shown.cap.units;
}

const inner = (condition: Condition) => Object.values(condition).find(Array.isArray) as Condition[];
const isLeaf = (condition: Condition): condition is Leaf => 'fact' in condition;
const namesGoods = (condition: Condition): boolean =>
  isLeaf(condition)
    ? /^(product|variant|stock|preorder|waitlist)/.test(condition.fact)
    : inner(condition).some(namesGoods);
const hasEmpty = (condition: Condition): boolean =>
  !isLeaf(condition) && (inner(condition).length === 0 || inner(condition).some(hasEmpty));

function holds(condition: Condition, subject: ProductSubject, shop: ShopFacts): boolean {
  const ask = (member: Condition) => holds(member, subject, shop);
  if ('all' in condition) return condition.all.every(ask);
  if ('any' in condition) return condition.any.some(ask);
  if ('none' in condition) return !condition.none.some(ask);
  return leafHolds(condition, subject, shop);
}

const key = (name: string) => name.trim().normalize('NFC').toLowerCase();
const isAmong = (actual: string | null | undefined, values: readonly string[]) =>
  typeof actual === 'string' && values.some((value) => key(value) === key(actual));

function compares(leaf: { op: string; value: number | readonly [number, number] }, actual: number): boolean {
  const { op, value } = leaf;
  if (typeof value !== 'number') return value[0] <= actual && actual <= value[1];
  const answers = {
    lt: actual < value,
    lte: actual <= value,
    gt: actual > value,
    gte: actual >= value,
    eq: actual === value,
  };
  return answers[op as keyof typeof answers];
}

function leafHolds(leaf: Leaf, subject: ProductSubject, shop: ShopFacts): boolean {
  const { product, variant, visitor, moment } = subject;
  const { tracked, quantity, sellPastZero } = variant.stock;
  switch (leaf.fact) {
    case 'product':
      return true;
    case 'product.id':
      return leaf.value.includes(product.id) === (leaf.op === 'in');
    case 'product.tags': {
      const tags = product.tags.map(key);
      const has = (tag: string) => tags.includes(key(tag));
      if (leaf.op === 'hasAll') return leaf.value.every(has);
      return leaf.value.some(has) === (leaf.op === 'hasAny');
    }
    case 'product.categories': {
      if (leaf.op === 'exactly') return leaf.value.some((id) => product.categories.includes(id));
      const below = leaf.value.some((id) =>
        product.categories.some((category) => category === id || category.startsWith(`${id}/`)),
      );
      return below === (leaf.op === 'within');
    }
    case 'stock.status': {
      const is = {
        inStock: tracked && quantity > 0,
        outOfStock: tracked && quantity <= 0,
        backorder: tracked && quantity <= 0 && sellPastZero,
        untracked: !tracked,
      };
      return leaf.value.some((status) => is[status]) === (leaf.op === 'in');
    }
    case 'product.brand':
      return isAmong(product.brand, leaf.value) === (leaf.op === 'in');
    case 'product.kind':
      return isAmong(product.kind, leaf.value) === (leaf.op === 'in');
    case 'product.seller':
      return isAmong(product.seller, leaf.value) === (leaf.op === 'in');
    case 'product.attribute':
      return isAmong(product.attributes[leaf.value.name], leaf.value.values) === (leaf.op === 'in');
    case 'variant.option':
      return isAmong(variant.options[leaf.value.name], leaf.value.values) === (leaf.op === 'in');
    case 'variant.id':
      return leaf.value.includes(variant.id) === (leaf.op === 'in');
    case 'product.path':
    case 'page.path': {
      const path = leaf.fact === 'page.path' ? subject.page : product.path;
      if (path === null) return false;
      const plain = (written: string) => decodeURIComponent(written).replace(/(.)\/$/, '$1');
      const [actual, expected] = [plain(path), plain(leaf.value)];
      return {
        equals: actual === expected,
        startsWith: actual.startsWith(expected),
        contains: actual.includes(expected),
      }[leaf.op];
    }
    case 'product.weight':
      return product.grams !== null && compares(leaf, product.grams);
    case 'variant.price':
      return compares(leaf, variant.price);
    case 'stock.productTotal': {
      const counted = product.variants.filter(({ stock }) => stock.tracked).map(({ stock }) => stock.quantity);
      return (
        counted.length > 0 &&
        compares(
          leaf,
          counted.reduce((a, b) => a + b, 0),
        )
      );
    }
    case 'preorder.reserved':
      return compares(leaf, variant.reserved);
    case 'waitlist.length':
      return compares(leaf, product.waiting + variant.waiting);
    case 'visitor.invited':
      return (
        leaf.value ===
        visitor.invitations.some(
          ({ to, id, until }) =>
            (to === 'any' || id === { variant: variant.id, product: product.id }[to]) && moment < (until ?? Infinity),
        )
      );
    case 'visitor.customer':
      return (visitor.customerId !== null && leaf.value.includes(visitor.customerId)) === (leaf.op === 'in');
    case 'visitor.locale': {
      const actual = visitor.locale?.toLowerCase().split('-') ?? [];
      return leaf.value.some((range) =>
        range
          .toLowerCase()
          .split('-')
          .every((part, index) => part === actual[index]),
      );
    }
    case 'surface':
      return leaf.value.includes(subject.surface);
    case 'stock.quantity':
      if (!tracked) return false;
      return compares(leaf, quantity);
    case 'visitor.signedIn':
      return visitor.signedIn === leaf.value;
    case 'visitor.roles': {
      const holdsRole = (code: string) =>
        visitor.roles.some(
          (role) => role.code === code && (role.from ?? -Infinity) <= moment && moment < (role.until ?? Infinity),
        );
      if (leaf.op === 'hasAll') return leaf.value.every(holdsRole);
      return leaf.value.some(holdsRole) === (leaf.op === 'hasAny');
    }
    case 'moment':
      return momentHolds(leaf, product.dates, moment, shop.zone.name);
  }
}

function momentHolds(
  leaf: Extract<Leaf, { fact: 'moment' }>,
  dates: Readonly<Record<string, string>>,
  moment: number,
  zone: string,
): boolean {
  /** The first instant whose wall clock shows the time, or the first after a gap. */
  const first = (local: DateTime): number => {
    const wanted = DateTime.fromObject(local.toObject(), { zone });
    const early = wanted.getPossibleOffsets().map((one) => one.toMillis());
    // Luxon pushes a skipped time forward by the length of the gap; ours is the end of the gap itself.
    const isSkipped = wanted.toFormat('HH:mm:ss') !== local.toFormat('HH:mm:ss');
    if (!isSkipped) return Math.min(...early);
    let at = wanted.minus({ hours: 3 });
    while (at.toFormat("yyyy-MM-dd'T'HH:mm") < local.toFormat("yyyy-MM-dd'T'HH:mm")) at = at.plus({ minutes: 15 });
    return at.toMillis();
  };
  const local = (text: string) => DateTime.fromISO(text, { zone: 'utc' });
  const wall = DateTime.fromMillis(moment, { zone });
  const today = local(wall.toISODate() ?? '');
  const inside = (from: number, until: number) => from <= moment && moment < until;
  switch (leaf.op) {
    case 'between': {
      const { from, until } = leaf.value;
      return inside(from ? first(local(from)) : -Infinity, until ? first(local(until)) : Infinity);
    }
    case 'weekly': {
      const { days, from, until } = leaf.value;
      return [-2, -1, 0, 1].some((shift) => {
        const day = today.plus({ days: shift });
        if (!days.includes(day.weekday)) return false;
        const end = until <= from ? day.plus({ days: 1 }) : day;
        return inside(first(local(`${day.toISODate()}T${from}`)), first(local(`${end.toISODate()}T${until}`)));
      });
    }
    case 'yearly': {
      const { from, until } = leaf.value;
      const on = (year: number, day: string) =>
        first(local(day === '02-29' && !DateTime.utc(year).isInLeapYear ? `${year}-03-01` : `${year}-${day}`));
      return [-1, 0].some((shift) => {
        const year = wall.year + shift;
        return inside(on(year, from), on(from > until ? year + 1 : year, until));
      });
    }
    case 'around': {
      const written = dates[leaf.value.date];
      if (written === undefined) return false;
      const shifted = (text: string) => {
        const sign = text.startsWith('-') ? -1 : 1;
        const [, months, days, hours] = /P(\d+)M(\d+)DT(\d+)H/.exec(text)?.map(Number) ?? [];
        const calendar = local(written)
          .plus({ months: sign * (months ?? 0) })
          .plus({ days: sign * (days ?? 0) });
        return first(calendar) + sign * (hours ?? 0) * 3_600_000;
      };
      const { from, until } = leaf.value;
      return inside(from ? shifted(from) : -Infinity, until ? shifted(until) : Infinity);
    }
  }
}
