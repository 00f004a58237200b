import type { Decision } from '../contract/decision.ts';
import { GOODS_ASPECTS, setOf, type GoodsAspect } from '../decide/aspects.ts';
import { compile, type CompiledRule, type CompiledRulebook } from '../decide/compile.ts';
import { decide, decideVariants } from '../decide/decide.ts';
import { decideListing } from '../decide/listing.ts';
import type { ProductFacts, Seen, Subject, VariantFacts, VisitorFacts } from '../decide/subject.ts';
import { winners, type Winners } from '../decide/winners.ts';

/** Two rulebooks for one shop, looked at by some visitors, on one surface, at one moment (epoch ms). */
export interface Comparison {
  readonly before: CompiledRulebook;
  readonly after: CompiledRulebook;
  readonly visitors: readonly VisitorFacts[];
  readonly surface: 'product' | 'listing';
  readonly moment: number;
}

/** What a visitor would see otherwise: of a variant, or on a listing of a product. */
export interface Change {
  readonly product: ProductFacts;
  /** Null on a listing, where the product's variants speak together. */
  readonly variant: VariantFacts | null;
  /** Its place among the comparison's visitors. */
  readonly visitor: number;
  readonly before: Decision;
  readonly after: Decision;
  /** The aspects that differ. */
  readonly aspects: readonly GoodsAspect[];
}

const ALL = setOf(GOODS_ASPECTS);

/** Every change among these products. */
export function* changesIn(comparison: Comparison, products: Iterable<ProductFacts>): Generator<Change> {
  const changesOf = comparing(comparison);
  for (const product of products) yield* changesOf(product);
}

/**
 * Makes ready to name every change of one product after the other. The same as deciding each variant by both rulebooks:
 * where rules that say the same win all aspects, nothing can differ, and nothing more is decided; and what no rule that
 * was changed could count for is not even asked who wins.
 */
export function comparing({
  before,
  after,
  visitors,
  surface,
  moment,
}: Comparison): (product: ProductFacts) => Generator<Change> {
  const saying = sayings();
  const couldDiffer = touchedBy(before, after);
  const isAlike = (subject: Subject) => {
    const [was, is] = [winners(before, subject, ALL), winners(after, subject, ALL)];
    return saysOf(was, saying) === saysOf(is, saying);
  };
  return function* (product) {
    for (const [visitor, facts] of visitors.entries()) {
      const seen: Seen = { visitor: facts, moment, surface, page: null };
      const touched = product.variants.filter((variant) => {
        const subject = { ...seen, product, variant };
        return couldDiffer(subject) && !isAlike(subject);
      });
      if (touched.length === 0) continue;
      if (surface === 'listing') {
        const [was, is] = [before, after].map((rulebook) =>
          decideListing(decideVariants(rulebook, product, seen), product, facts.locale, rulebook.shop),
        ) as [Decision, Decision];
        const aspects = aspectsBetween(was, is);
        if (aspects.length > 0) yield { product, variant: null, visitor, before: was, after: is, aspects };
        continue;
      }
      for (const variant of touched) {
        const subject = { ...seen, product, variant };
        const [was, is] = [decide(before, subject), decide(after, subject)];
        const aspects = aspectsBetween(was, is);
        if (aspects.length > 0) yield { product, variant, visitor, before: was, after: is, aspects };
      }
    }
  };
}

/** Whether any rule that the two do not share could count for a subject. */
function touchedBy(before: CompiledRulebook, after: CompiledRulebook): (subject: Subject) => boolean {
  const written = ({ rules }: CompiledRulebook) => new Map(rules.map(({ rule }) => [rule.id, JSON.stringify(rule)]));
  const [was, is] = [written(before), written(after)];
  const isShared = (id: string) => was.get(id) !== undefined && was.get(id) === is.get(id);
  const order = ({ rules }: CompiledRulebook) => rules.flatMap(({ rule }) => (isShared(rule.id) ? [rule.id] : []));
  // Where the order of those they share differs, any of them may win otherwise.
  if (order(before).join('\n') !== order(after).join('\n')) return () => true;
  const others = [before, after].flatMap(({ rules }) => rules.filter(({ rule }) => !isShared(rule.id)));
  const { candidates } = compile(
    { format: 'understudy-rulebook', version: 1, rules: others.map(({ rule }) => rule) },
    before.shop,
  );
  return (subject) => {
    let isTouched = false;
    candidates.each(subject, () => {
      isTouched = true;
      return false;
    });
    return isTouched;
  };
}

/** The aspects in which a shopper could see that two decisions differ; reasons and expiry are nobody's sight. */
export const aspectsBetween = (before: Decision, after: Decision): GoodsAspect[] =>
  GOODS_ASPECTS.filter((aspect) => JSON.stringify(before[aspect]) !== JSON.stringify(after[aspect]));

/** A number for what a rule says, the same for rules that say the same. */
function sayings(): (rule: CompiledRule) => number {
  const numbers = new Map<string, number>();
  const known = new WeakMap<CompiledRule, number>();
  return (rule) => {
    const before = known.get(rule);
    if (before !== undefined) return before;
    const says = JSON.stringify(rule.rule.then);
    const number = numbers.get(says) ?? numbers.size;
    numbers.set(says, number);
    known.set(rule, number);
    return number;
  };
}

/** What wins every aspect, as a text to compare. */
function saysOf({ by, gathered }: Winners, saying: (rule: CompiledRule) => number): string {
  const single = GOODS_ASPECTS.map((aspect) => {
    const rule = aspect === 'notes' || aspect === 'style' ? undefined : by[aspect];
    return rule ? saying(rule) : '';
  });
  return [...single, gathered.notes.map(saying).join('+'), gathered.style.map(saying).join('+')].join();
}

/** Changes that are alike: the same control before, the same after, in the same aspects. */
export interface ChangeGroup {
  /** Tells it from the others, and is the same whenever the same is compared. */
  readonly key: string;
  readonly before: ControlLook;
  readonly after: ControlLook;
  readonly aspects: readonly GoodsAspect[];
  /** How many variants, on a listing products, change so for anybody. */
  readonly count: number;
  /** For which of the visitors. */
  readonly visitors: readonly number[];
}

export type ControlLook = Pick<Decision['control'], 'kind' | 'label' | 'beside'>;

const lookOf = ({ control: { kind, label, beside } }: Decision): ControlLook => ({ kind, label, beside });

export const groupKey = ({ before, after, aspects }: Change): string =>
  JSON.stringify([lookOf(before), lookOf(after), aspects]);

/** Gathers changes into groups, the largest first. */
export class ChangeGroups {
  private readonly groups = new Map<string, { change: Change; goods: Set<string>; visitors: Set<number> }>();
  private readonly goods = new Set<string>();

  add(change: Change): void {
    const key = groupKey(change);
    const known = this.groups.get(key) ?? { change, goods: new Set(), visitors: new Set() };
    this.groups.set(key, known);
    const id = change.variant?.id ?? change.product.id;
    known.goods.add(id);
    known.visitors.add(change.visitor);
    this.goods.add(id);
  }

  /** How many variants, on a listing products, change for anybody. */
  get changed(): number {
    return this.goods.size;
  }

  all(): ChangeGroup[] {
    return [...this.groups]
      .map(([key, { change, goods, visitors }]) => ({
        key,
        before: lookOf(change.before),
        after: lookOf(change.after),
        aspects: change.aspects,
        count: goods.size,
        visitors: [...visitors].sort((a, b) => a - b),
      }))
      .sort((a, b) => b.count - a.count || (a.key < b.key ? -1 : 1));
  }
}
