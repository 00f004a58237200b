import { ASPECTS } from '../decide/aspects.ts';
import type { Bits } from '../decide/bits.ts';
import { takesPart, type CompiledRule, type CompiledRulebook } from '../decide/compile.ts';
import { groupOf } from '../decide/group.ts';
import type { Test } from '../decide/held.ts';
import type { Seen } from '../decide/subject.ts';
import type { Zone } from '../decide/zone.ts';
import type { Condition } from '../rulebook/condition.ts';
import type { Leaf } from '../rulebook/leaf.ts';
import { numbered } from './alike.ts';
import type { Columns, Rows } from './columns.ts';
import { without } from './rowSet.ts';

/** A rule made ready to be asked of all goods at once. */
export interface Asked {
  readonly compiled: CompiledRule;
  /** Its place in the running order. */
  readonly place: number;
  /** What it says, as a number: rules that say the same have the same. */
  readonly saying: number;
  /** The slots of the aspects that it speaks to, that it settles, and that it adds to, as bits. */
  readonly speaks: number;
  readonly settles: number;
  readonly gathers: number;
  readonly closes: boolean;
  /** The same for rules that count at the same rows. */
  readonly key: number;
  readonly leaves: readonly { readonly leaf: Leaf; readonly test: Test; readonly of: 'goods' | 'seen' | 'both' }[];
  /** Where it counts, once that is known, if neither visitor nor clock has a part in it. */
  always: Rows | null;
}

/** Where a condition holds: at some rows, at all or at none. */
export type Held = Rows | boolean;

/** A rule where it counts. */
export interface Counting {
  readonly asked: Asked;
  readonly rows: Rows;
}

/** An aspect's slot is its place among all of them. */
const slotsOf = ({ says }: CompiledRule, wanted: (said: CompiledRule['says'][number]) => boolean): number =>
  says.reduce((slots, said) => {
    return wanted(said) ? slots | (1 << ASPECTS.indexOf(said.aspect)) : slots;
  }, 0);

/** What a condition looks at: goods, or what is the same for all of them, or both. */
const sideOf = ({ fact, op }: Leaf): 'goods' | 'seen' | 'both' =>
  fact === 'visitor.invited'
    ? 'both'
    : (
          fact === 'moment'
            ? op === 'around'
            : fact !== 'product' && /^(product|variant|stock|preorder|waitlist)\b/.test(fact)
        )
      ? 'goods'
      : 'seen';

/** Tells where rules count, for a visitor at a moment on a surface; what is alike for several is worked out once. */
export class Counts {
  private readonly sayings = numbered();
  private readonly keys = numbered();
  private readonly prepared = new WeakMap<CompiledRulebook, readonly Asked[]>();

  constructor(readonly columns: Columns) {}

  /** The rules that count anywhere, in their running order. */
  of(rulebook: CompiledRulebook, seen: Seen): Counting[] {
    const counting: Counting[] = [];
    for (const asked of this.ready(rulebook)) {
      const rows = this.rowsOf(asked, seen, rulebook.shop.zone);
      if (!rows.isEmpty) counting.push({ asked, rows });
    }
    return counting;
  }

  /** The rules that take part, in their running order. */
  ready(rulebook: CompiledRulebook): readonly Asked[] {
    const known = this.prepared.get(rulebook);
    if (known) return known;
    const made = rulebook.rules.filter(takesPart).map((compiled): Asked => {
      const { when, then, stopHere, gather } = compiled.rule;
      return {
        compiled,
        place: rulebook.rules.indexOf(compiled),
        saying: this.sayings(JSON.stringify([then, stopHere === true, gather !== false])),
        speaks: slotsOf(compiled, () => true),
        settles: slotsOf(compiled, ({ settles }) => settles),
        gathers: slotsOf(compiled, ({ gathers }) => gathers !== null),
        closes: compiled.closes,
        key: this.keys(JSON.stringify(compiled.present.isAtCap ? [when, then.control] : when)),
        leaves: compiled.leaves.map(({ leaf, test }) => ({ leaf, test, of: sideOf(leaf) })),
        always: null,
      };
    });
    this.prepared.set(rulebook, made);
    return made;
  }

  private rowsOf(asked: Asked, seen: Seen, zone: Zone): Rows {
    if (asked.always) return asked.always;
    const { isAtCap } = asked.compiled.present;
    const held = this.heldOf(asked, seen, zone);
    const rows = this.columns.once(this.keyOf(asked, held, seen), () => this.rowsWith(asked, held, seen));
    if (!isAtCap && asked.leaves.every(({ leaf, of }) => of === 'goods' && leaf.fact !== 'moment')) asked.always = rows;
    return rows;
  }

  /** Where each of a rule's conditions holds, in reading order; a boolean where it does for all goods, or for none. */
  heldOf({ leaves }: Asked, seen: Seen, zone: Zone): Held[] {
    const nowhere = { ...seen, product: null, variant: null };
    const hasTurns = seen.visitor.invitations.length > 0;
    return leaves.map(({ leaf, test, of }) =>
      of === 'seen' || (of === 'both' && !hasTurns) ? test(nowhere).holds : this.columns.where(leaf, test, seen, zone),
    );
  }

  /** The same wherever a rule counts at the same rows. */
  keyOf({ key, compiled }: Asked, held: readonly Held[], { surface }: Seen): string {
    let answers = `${key}`;
    for (const rows of held) answers += typeof rows === 'boolean' ? (rows ? '+' : '-') : ` ${rows.id}`;
    return compiled.present.isAtCap ? `${answers} ${surface}` : answers;
  }

  /** The rows at which a rule counts when its conditions hold there. */
  rowsWith({ compiled }: Asked, held: readonly Held[], seen: Seen): Bits {
    const { columns } = this;
    const { isAtCap } = compiled.present;
    const found = this.joined(compiled.rule.when, held.values());
    const bits = found === true ? columns.all.bits : found === false ? columns.none() : found;
    return isAtCap ? without(bits, (row) => isAtCap({ ...seen, ...columns.goodsAt(row) })) : bits;
  }

  /** @param held what the condition's leaves are, in reading order */
  private joined(condition: Condition, held: Iterator<Held>): Bits | boolean {
    const group = groupOf(condition);
    if (!group) {
      const rows = held.next().value as Held;
      return typeof rows === 'boolean' ? rows : rows.bits;
    }
    // None of them is not any of them.
    const isAll = group.join === 'all';
    let bits: Bits | null = null;
    let isSettled = false;
    for (const member of group.members) {
      const own = this.joined(member, held);
      if (own === !isAll) isSettled = true;
      if (typeof own === 'boolean') continue;
      if (!bits) bits = own.slice();
      else if (isAll) for (let word = 0; word < bits.length; word++) bits[word]! &= own[word]!;
      else for (let word = 0; word < bits.length; word++) bits[word]! |= own[word]!;
    }
    if (group.join === 'none') return isSettled ? false : bits ? this.columns.not(bits) : true;
    return isSettled ? !isAll : (bits ?? isAll);
  }
}
