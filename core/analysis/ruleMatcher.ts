import { setOf } from '../aspects/aspects.ts';
import type { Bits } from '../engine/bits.ts';
import { takesPart, type CompiledRule, type CompiledRulebook } from '../engine/compile.ts';
import { groupOf } from '../rulebook/condition.ts';
import type { TimedPredicate } from '../model/timedResult.ts';
import type { ViewContext } from '../model/subject.ts';
import type { Zone } from '../model/zone.ts';
import type { Condition } from '../rulebook/condition.ts';
import { factOf, type Leaf } from '../facts/facts.ts';
import { textInterner } from './readTrackedMemo.ts';
import type { Columns, Rows } from './columns.ts';
import { without } from './rowSet.ts';

/** A rule made ready to be asked of all goods at once. */
export interface PreparedRule {
  readonly compiled: CompiledRule;
  /** Its place in the running order. */
  readonly place: number;
  /** Number of its outcome: equal outcomes have equal numbers. */
  readonly outcomeId: number;
  /** Aspects that it decides, and those that it settles. */
  readonly aspects: number;
  readonly settles: number;
  readonly closes: boolean;
  /** The same for rules that count at the same rows. */
  readonly key: number;
  readonly leaves: readonly {
    readonly leaf: Leaf;
    readonly test: TimedPredicate;
    readonly of: 'products' | 'view' | 'both';
  }[];
  /** The only rows a seller's rule reaches: their own products; null for an owner's rule. */
  readonly within: Rows | null;
  /** Rows where it matched, by the visitor facts and moment that this depends on; only for sellers' rules. */
  readonly kept: Map<string, Rows>;
  /** Rows where it matches, once computed, if this depends on neither visitor nor clock. */
  always: Rows | null;
}

/** Maximum number of results cached for a seller's rule. */
const MOST_KEPT = 40;
const PER_WORD = 32;

/** Rows where a condition holds; a boolean for all or none. */
export type LeafRows = Rows | boolean;

/** A rule where it counts. */
export interface RuleMatch {
  readonly rule: PreparedRule;
  readonly rows: Rows;
}

/** Finds where rules count for a visitor, moment and surface; shared parts are computed once. */
export class RuleMatcher {
  private readonly outcomeIds = textInterner();
  private readonly keys = textInterner();
  private readonly prepared = new WeakMap<CompiledRulebook, readonly PreparedRule[]>();

  constructor(readonly columns: Columns) {}

  /** The rules that count anywhere, in their running order. @param isAsked which of them are asked at all */
  of(
    rulebook: CompiledRulebook,
    seen: ViewContext,
    isAsked: (rule: PreparedRule) => boolean = () => true,
  ): RuleMatch[] {
    const counting: RuleMatch[] = [];
    for (const rule of this.ready(rulebook)) {
      if (!isAsked(rule)) continue;
      const rows = this.rowsOf(rule, seen, rulebook.shop.zone);
      if (!rows.isEmpty) counting.push({ rule, rows });
    }
    return counting;
  }

  /** The rules that take part, in their running order. */
  ready(rulebook: CompiledRulebook): readonly PreparedRule[] {
    const known = this.prepared.get(rulebook);
    if (known) return known;
    const { rules, sellers } = rulebook;
    const owners = rules.map((compiled) => ({ compiled, within: null as Rows | null }));
    const theirs = (sellers?.all() ?? []).flatMap(({ names, list }) => {
      const within = this.columns.soldBy(names);
      return list.rules.map((compiled) => ({ compiled, within }));
    });
    const all = owners.toSpliced(sellers?.place ?? 0, 0, ...theirs);
    const made = all.flatMap(({ compiled, within }, place): PreparedRule[] => {
      if (!takesPart(compiled)) return [];
      const { when, then, stopHere, gather } = compiled.rule;
      const rule = {
        compiled,
        place,
        within,
        kept: new Map<string, Rows>(),
        outcomeId: this.outcomeIds(JSON.stringify([then, stopHere === true, gather !== false])),
        aspects: compiled.aspectSet,
        settles: setOf(compiled.claims.flatMap(({ aspect, settles }) => (settles === 0 ? [] : [aspect]))),
        closes: compiled.closes,
        key: this.keys(JSON.stringify(compiled.prepared.control?.isAtCap ? [when, then.control] : when)),
        leaves: compiled.leaves.map(({ leaf, test }) => ({ leaf, test, of: factOf(leaf).dependsOn(leaf) })),
        always: null,
      };
      return [rule];
    });
    this.prepared.set(rulebook, made);
    return made;
  }

  private rowsOf(rule: PreparedRule, seen: ViewContext, zone: Zone): Rows {
    if (rule.always) return rule.always;
    const rows = rule.within ? this.ownRows(rule, rule.within, seen, zone) : this.sharedRows(rule, seen, zone);
    const isAtCap = rule.compiled.prepared.control?.isAtCap;
    if (!isAtCap && rule.leaves.every(isFixed)) rule.always = rows;
    return rows;
  }

  private sharedRows(rule: PreparedRule, seen: ViewContext, zone: Zone): Rows {
    const leafRows = this.leafRowsOf(rule, seen, zone);
    return this.columns.once(this.keyOf(rule, leafRows, seen), () => this.rowsWith(rule, leafRows, seen));
  }

  /** The same for a seller's rule, which keeps its few rows itself. */
  private ownRows(rule: PreparedRule, within: Rows, seen: ViewContext, zone: Zone): Rows {
    const byView = viewKeyOf(rule, seen);
    const known = byView === null ? undefined : rule.kept.get(byView);
    if (known) return known;
    const leafRows = this.leafRowsOf(rule, seen, zone);
    const key = byView ?? this.keyOf(rule, leafRows, seen);
    const before = rule.kept.get(key);
    if (before) return before;
    const made = this.columns.named(this.rowsWith(rule, leafRows, seen), within.from);
    rule.kept.set(key, made);
    for (const oldest of [...rule.kept.keys()].slice(0, rule.kept.size - MOST_KEPT)) rule.kept.delete(oldest);
    return made;
  }

  /** Rows where each of a rule's conditions holds, in reading order; a boolean for all rows or none. */
  leafRowsOf({ leaves, within }: PreparedRule, seen: ViewContext, zone: Zone): LeafRows[] {
    const nowhere = { ...seen, product: null, variant: null };
    const hasTurns = seen.visitor.invitations.length > 0;
    return leaves.map(({ leaf, test, of }) =>
      of === 'view' || (of === 'both' && !hasTurns)
        ? test(nowhere).matches
        : this.columns.where(leaf, test, seen, zone, within),
    );
  }

  /** The same wherever a rule counts at the same rows. */
  keyOf({ key, compiled }: PreparedRule, leafRows: readonly LeafRows[], { surface }: ViewContext): string {
    let answers = `${key}`;
    for (const rows of leafRows) answers += typeof rows === 'boolean' ? (rows ? '+' : '-') : ` ${rows.id}`;
    return compiled.prepared.control?.isAtCap ? `${answers} ${surface}` : answers;
  }

  /** The rows at which a rule counts when its conditions hold there; of a seller's rule, from its first word on. */
  rowsWith({ compiled, within }: PreparedRule, leafRows: readonly LeafRows[], seen: ViewContext): Bits {
    const { columns } = this;
    const asked = within ?? columns.all;
    const isAtCap = compiled.prepared.control?.isAtCap;
    const found = this.joined(compiled.rule.when, leafRows.values(), asked);
    const bits =
      typeof found === 'boolean' ? (found ? asked.bits : new Uint32Array(asked.bits.length)) : met(found, asked.bits);
    return isAtCap
      ? without(bits, (row) => isAtCap({ ...seen, ...columns.variantAt(row + asked.from * PER_WORD) }))
      : bits;
  }

  /** @param leafRows rows of the condition's leaves, in reading order */
  private joined(condition: Condition, leafRows: Iterator<LeafRows>, asked: Rows): Bits | boolean {
    const group = groupOf(condition);
    if (!group) {
      const rows = leafRows.next().value as LeafRows;
      return typeof rows === 'boolean' ? rows : partOf(rows, asked);
    }
    // None of them is not any of them.
    const isAll = group.join === 'all';
    let bits: Bits | null = null;
    let isSettled = false;
    for (const member of group.members) {
      const memberRows = this.joined(member, leafRows, asked);
      if (memberRows === !isAll) isSettled = true;
      if (typeof memberRows === 'boolean') continue;
      if (!bits) bits = memberRows.slice();
      else if (isAll) for (let word = 0; word < bits.length; word++) bits[word]! &= memberRows[word]!;
      else for (let word = 0; word < bits.length; word++) bits[word]! |= memberRows[word]!;
    }
    if (group.join === 'none') return isSettled ? false : bits ? bits.map((word) => ~word) : true;
    return isSettled ? !isAll : (bits ?? isAll);
  }
}

type PreparedLeaf = PreparedRule['leaves'][number];

/** Whether neither visitor nor clock has a part in a condition. */
const isFixed = ({ leaf, of }: PreparedLeaf) => of === 'products' && leaf.fact !== 'moment';

/** Key of the visitor and moment for a rule whose other conditions depend on products alone; else null. */
function viewKeyOf({ leaves, compiled }: PreparedRule, seen: ViewContext): string | null {
  if (compiled.prepared.control?.isAtCap) return null;
  const { visitor, moment, surface, page } = seen;
  const nowhere = { visitor, moment, surface, page, product: null, variant: null };
  let key = '';
  for (const one of leaves) {
    if (isFixed(one)) continue;
    if (one.of !== 'view') return null;
    key += one.test(nowhere).matches ? '+' : '-';
  }
  return key;
}

/** Rows as far as those reach that are asked for. */
const partOf = ({ bits, from }: Rows, asked: Rows): Bits =>
  from === asked.from && bits.length === asked.bits.length
    ? bits
    : bits.subarray(asked.from - from, asked.from - from + asked.bits.length);

const met = (one: Bits, other: Bits): Bits => one.map((word, index) => word & other[index]!);
