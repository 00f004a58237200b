import { ASPECTS, setOf, isGathered, type Aspect } from '../decide/aspects.ts';
import { takesPart, type CompiledRule, type CompiledRulebook } from '../decide/compile.ts';
import { decide } from '../decide/decide.ts';
import { leavesOf } from '../decide/group.ts';
import { guardLines, type LineVerdict } from '../decide/guard.ts';
import { canBeHad } from '../decide/listing.ts';
import type { GoodsSubject, ProductFacts, StockFacts, Surface, VariantFacts, VisitorFacts } from '../decide/subject.ts';
import { decidedBy, winners } from '../decide/winners.ts';
import { finding, SEVERITIES, SEVERITY, type Finding, type FindingKind, type Mend, type Witness } from './finding.ts';
import { Vocabulary } from './vocabulary.ts';
import { callIt, findingsInWords, type Known } from './wordFindings.ts';

/** What findings are looked for in: a rulebook, and the visitors and moments it is looked at by. */
export interface Looked extends Omit<Known, 'shop' | 'moment'> {
  readonly rulebook: CompiledRulebook;
  readonly visitors: readonly VisitorFacts[];
  /** Epoch ms; the first is now. */
  readonly moments: readonly number[];
  /** The codes of the roles that there are. */
  readonly roles: readonly string[];
}

const ALL = setOf(ASPECTS);
const SURFACES_LOOKED_AT: readonly Surface[] = ['product', 'listing'];

const WITHHELD: readonly LineVerdict['refusal'][] = ['notForSale', 'signInFirst', 'capReached'];

/** What is gathered about one rule, or about two. */
interface Tally {
  count: number;
  readonly variants: Set<string>;
  witness: Witness | null;
}

/**
 * Looks through goods for what the owner should see. Every finding that is about goods has a witness among those that were
 * looked through; what was not looked through is not spoken of.
 */
export class Findings {
  private readonly vocabulary: Vocabulary;
  /** By rule. */
  private readonly counted = new Map<CompiledRule, Tally>();
  private readonly won = new Set<CompiledRule>();
  /** By the rule that lost, the rule that won, and the aspect. */
  private readonly beaten = new Map<string, Tally & { by: CompiledRule; rule: CompiledRule; aspect: Aspect }>();
  private readonly seen = new Map<string, Tally & { kind: FindingKind; rule: CompiledRule }>();
  private readonly stocked: readonly CompiledRule[];
  private readonly stands = new Map<string, CompiledRule>();
  private subjects = 0;

  constructor(private readonly looked: Looked) {
    this.vocabulary = new Vocabulary(looked.roles);
    const { rules } = looked.rulebook;
    for (const rule of rules) this.stands.set(rule.rule.id, rule);
    this.stocked = rules.filter(
      (rule) => takesPart(rule) && leavesOf(rule.rule.when).some(({ fact }) => fact.startsWith('stock.')),
    );
  }

  /** Takes in what a product is called, and does not look through it. */
  know(product: ProductFacts): void {
    this.vocabulary.add(product);
  }

  /** Looks through one more product. */
  look(product: ProductFacts): void {
    this.know(product);
    const { visitors, moments } = this.looked;
    for (const variant of product.variants) {
      for (const [visitor, facts] of visitors.entries()) {
        for (const moment of moments) {
          for (const surface of SURFACES_LOOKED_AT) {
            const witness = { product: product.id, variant: variant.id, visitor, moment, surface };
            this.tellApart({ product, variant, visitor: facts, moment, surface, page: null }, witness);
          }
          const witness: Witness = { product: product.id, variant: variant.id, visitor, moment, surface: 'product' };
          const subject: GoodsSubject = { product, variant, visitor: facts, moment, surface: 'product', page: null };
          this.askPlaces(subject, witness);
          this.askStock(subject, witness);
        }
      }
    }
  }

  /** All that was found, the worst first, in the order of the rules. */
  all(): Finding[] {
    const { rules, shop } = this.looked.rulebook;
    const known = { ...this.looked, shop, moment: this.looked.moments[0] ?? 0 };
    const place = new Map(rules.map(({ rule }, index) => [rule.id, index]));
    const found = [
      ...rules.filter(({ rule }) => rule.on).flatMap(({ rule }) => findingsInWords(rule, known, this.vocabulary)),
      ...this.shadows(),
      ...this.fights(),
      ...[...this.seen.values()].map((tally) => this.told(tally)),
      ...this.widest(),
    ];
    const rank = ({ kind }: Finding) => SEVERITIES.indexOf(SEVERITY[kind]);
    return found.sort((a, b) => rank(a) - rank(b) || (place.get(a.rule) ?? 0) - (place.get(b.rule) ?? 0));
  }

  /** Which rules count, which of them win, and which win over which. */
  private tellApart(subject: GoodsSubject, witness: Witness): void {
    const { rulebook } = this.looked;
    const won = winners(rulebook, subject, ALL);
    const first = new Map<Aspect, CompiledRule>();
    this.subjects += 1;
    rulebook.candidates.each(subject, (index) => {
      const rule = rulebook.rules[index];
      if (!rule?.counts(subject).holds) return true;
      add(this.counted, rule, witness, () => EMPTY());
      for (const aspect of rule.speaksTo) {
        if (decidedBy(won, rule, aspect)) {
          this.won.add(rule);
          if (!isGathered(aspect)) first.set(aspect, rule);
          continue;
        }
        const by = first.get(aspect) ?? closerAbove(rule);
        if (by)
          add(this.beaten, `${by.rule.id} ${rule.rule.id} ${aspect}`, witness, () => ({
            ...EMPTY(),
            by,
            rule,
            aspect,
          }));
      }
      return true;
    });

    function closerAbove(rule: CompiledRule): CompiledRule | undefined {
      return rulebook.rules
        .slice(0, rulebook.rules.indexOf(rule))
        .find((one) => one.closes && takesPart(one) && one.counts(subject).holds);
    }
  }

  /** What stands in several places at once, which should agree. */
  private askPlaces(subject: GoodsSubject, witness: Witness): void {
    const { rulebook } = this.looked;
    const on = (surface: Surface) => decide(rulebook, { ...subject, surface });
    const [page, listing, quickView] = [on('product'), on('listing'), on('quickView')];
    const note = (kind: FindingKind, ids: readonly string[], where: Witness = witness) => {
      const rule = this.stands.get(ids[0] ?? '');
      if (rule) add(this.seen, `${kind} ${rule.rule.id}`, where, () => ({ ...EMPTY(), kind, rule }));
    };
    const { control, price, reasons } = page;
    const { stock } = subject.variant;
    if (page.visibility.state === 'blocked') return;

    const hides = [page, listing, quickView].find((decision) => !decision.price.show);
    if (hides && [page, listing, quickView].some((decision) => decision.price.show))
      note('priceShownElsewhere', hides.reasons.price, { ...witness, surface: hides.surface });
    const offers = [page, listing, quickView].map((decision) => canBeHad(decision.control));
    if (new Set(offers).size > 1) {
      const passes = this.guardPasses(subject, page.limits.min);
      const at = offers.indexOf(!passes);
      const there = [page, listing, quickView][at];
      if (there && passes) note('guardLetsThrough', there.reasons.control, { ...witness, surface: there.surface });
      if (there && !passes) note('guardRefuses', reasons.control, { ...witness, surface: there.surface });
    }
    if (control.beside) return;
    if (!price.show && control.kind === 'buy') note('hiddenPriceSold', reasons.price);
    if (control.kind === 'waitlist' && stock.tracked && stock.quantity > 0) note('waitlistInStock', reasons.control);
    const isRefused = stock.tracked && stock.quantity <= 0 && !stock.sellPastZero;
    if (control.kind === 'preorder' && control.left !== 0 && isRefused) note('preorderRefusedByShop', reasons.control);
  }

  /** Whether the guard lets goods be bought, as far as it is for the rules to say. */
  private guardPasses({ product, variant, visitor, moment }: GoodsSubject, quantity: number): boolean {
    const line = { variantId: variant.id, quantity };
    const goods = { product, variant };
    const [verdict] = guardLines(this.looked.rulebook, { via: 'cart', visitor, moment }, [line], () => goods).lines;
    return !WITHHELD.includes(verdict?.refusal ?? null);
  }

  /** Whether a rule fails only because the goods' stock is not tracked. */
  private askStock(subject: GoodsSubject, witness: Witness): void {
    const { product, variant } = subject;
    if (variant.stock.tracked) return;
    for (const rule of this.stocked) {
      if (rule.counts(subject).holds) continue;
      const would = stocksAskedFor(rule).some((stock) => {
        const tracked: VariantFacts = { ...variant, stock };
        const variants = product.variants.map((own) => (own === variant ? tracked : own));
        return rule.counts({ ...subject, variant: tracked, product: { ...product, variants } }).holds;
      });
      if (would)
        add(this.seen, `untrackedStock ${rule.rule.id}`, witness, () => ({ ...EMPTY(), kind: 'untrackedStock', rule }));
    }
  }

  /** Rules that count and never win anything. */
  private shadows(): Finding[] {
    return [...this.counted].flatMap(([rule, { variants, witness }]) => {
      if (this.won.has(rule)) return [];
      const above = [...this.beaten.values()].filter((beaten) => beaten.rule === rule);
      const by = [...new Set(above.sort((a, b) => b.count - a.count).map((beaten) => beaten.by))];
      const [first] = by;
      const whom = by.map((other) => callIt(other.rule)).join(' and ');
      return [
        finding(
          'neverWins',
          rule.rule,
          `${callIt(rule.rule)} never decides anything: wherever it counts, ${whom} did so before.`,
          {
            other: first?.rule.id ?? null,
            count: variants.size,
            witness,
            mend: first ? moveAbove(first) : null,
          },
        ),
      ];
    });
  }

  /** Two rules that say different things of the same goods, where each also speaks where the other does not. */
  private fights(): Finding[] {
    return [...this.beaten.values()].flatMap(({ by, rule, aspect, variants, witness }) => {
      if (!this.won.has(rule) || isGathered(aspect) || by.rule.then[aspect] === undefined) return [];
      if (JSON.stringify(by.rule.then[aspect]) === JSON.stringify(rule.rule.then[aspect])) return [];
      // One whose goods are all the other's too is an exception to it, as it should be.
      const isWithin = (one: CompiledRule) => (this.counted.get(one)?.variants.size ?? 0) <= variants.size;
      if (isWithin(by) || isWithin(rule)) return [];
      const text = `${callIt(by.rule)} and ${callIt(rule.rule)} both decide the ${ASPECT_WORDS[aspect] ?? aspect} of the same goods; the first wins.`;
      return [
        finding('fight', rule.rule, text, { other: by.rule.id, count: variants.size, witness, mend: moveAbove(by) }),
      ];
    });
  }

  private told({ kind, rule, variants, witness }: Tally & { kind: FindingKind; rule: CompiledRule }): Finding {
    const goods = variants.size === 1 ? 'one variant' : `${variants.size} variants`;
    const text = TOLD[kind]?.(callIt(rule.rule), goods, witness?.surface ?? 'product') ?? '';
    return finding(kind, rule.rule, text, { count: variants.size, witness, mend: this.mendOf(kind, rule) });
  }

  private mendOf(kind: FindingKind, { rule }: CompiledRule): Mend | null {
    if (kind === 'hiddenPriceSold' && (rule.then.control?.kind ?? 'buy') === 'buy')
      return {
        label: 'Ask for the price instead',
        becomes: { ...rule, then: { ...rule.then, control: { kind: 'quote' } } },
      };
    const without = leavesOf(rule.when).some(({ fact }) => fact === 'surface') ? withoutSurface(rule) : null;
    if ((kind === 'priceShownElsewhere' || kind.startsWith('guard')) && without)
      return { label: 'Make it count in all places', becomes: without };
    return null;
  }

  /** Rules that count for all goods and everybody now, and decide what can be bought. */
  private widest(): Finding[] {
    if (this.subjects === 0) return [];
    return [...this.counted].flatMap(([rule, { count, variants, witness }]) => {
      const matters = (['control', 'price', 'visibility', 'cart', 'checkout'] as const).some(
        (aspect) => rule.rule.then[aspect],
      );
      if (count < this.subjects || !matters) return [];
      const text = `${callIt(rule.rule)} touches everything: all goods, for everybody.`;
      return [finding('touchesEverything', rule.rule, text, { count: variants.size, witness })];
    });
  }
}

const EMPTY = (): Tally => ({ count: 0, variants: new Set(), witness: null });

function add<K, T extends Tally>(tallies: Map<K, T>, key: K, witness: Witness, make: () => T): void {
  const tally = tallies.get(key) ?? make();
  tallies.set(key, tally);
  tally.count += 1;
  tally.variants.add(witness.variant);
  tally.witness ??= witness;
}

const moveAbove = ({ rule }: CompiledRule): Mend => ({ label: `Move it above ${callIt(rule)}`, moveAbove: rule.id });

/** Stocks that could fulfil what a rule asks of it: at, just below and just above every number that it names. */
function stocksAskedFor({ rule }: CompiledRule): StockFacts[] {
  const numbers = leavesOf(rule.when).flatMap((leaf) =>
    leaf.fact === 'stock.quantity' || leaf.fact === 'stock.productTotal' ? leaf.value : [],
  );
  const quantities = new Set([0, 1, ...numbers.flatMap((number) => [number - 1, number, number + 1])]);
  return [...quantities].flatMap((quantity) =>
    [false, true].map((sellPastZero) => ({ tracked: true, quantity, sellPastZero })),
  );
}

/** The rule without its conditions about places, where they only join; null where they do more. */
function withoutSurface(rule: CompiledRule['rule']): CompiledRule['rule'] | null {
  if (!('all' in rule.when)) return null;
  const all = rule.when.all.filter((part) => !('fact' in part && part.fact === 'surface'));
  const isGone = all.every((part) => leavesOf(part).every(({ fact }) => fact !== 'surface'));
  return isGone && all.length > 0 ? { ...rule, when: { all } } : null;
}

const ASPECT_WORDS: Partial<Record<Aspect, string>> = {
  control: 'button',
  express: 'express buttons',
  afterOrder: 'words after the order',
  limits: 'quantities',
};

const PLACES: Readonly<Record<Surface, string>> = {
  product: 'the product’s page',
  listing: 'listings',
  quickView: 'quick views',
  cart: 'the cart',
  checkout: 'the checkout',
};

const TOLD: Partial<Record<FindingKind, (rule: string, goods: string, surface: Surface) => string>> = {
  untrackedStock: (rule, goods) =>
    `${rule} asks for the stock of ${goods} whose stock is not tracked, so it never counts for them.`,
  priceShownElsewhere: (rule, goods, surface) =>
    `${rule} hides the price of ${goods} on ${PLACES[surface]}, and it is shown in another place.`,
  guardLetsThrough: (rule, goods, surface) =>
    `${rule} takes the button of ${goods} away on ${PLACES[surface]} only, so they can still be bought.`,
  guardRefuses: (rule, goods, surface) =>
    `${rule} withholds ${goods} everywhere but on ${PLACES[surface]}, where the button leads to a refusal.`,
  hiddenPriceSold: (rule, goods) => `${rule} hides the price of ${goods}, which can still be bought.`,
  waitlistInStock: (rule, goods) => `${rule} keeps a waitlist for ${goods} in stock. That may be meant.`,
  preorderRefusedByShop: (rule, goods) =>
    `${rule} takes pre-orders of ${goods} that have run out, and the shop does not sell them past zero: it will refuse.`,
};
