import { ASPECTS } from '../decide/aspects.ts';
import type { CompiledRule, CompiledRulebook } from '../decide/compile.ts';
import { reasonsOf, SAID, showsPrice, spoken } from '../decide/decide.ts';
import { verdictOf, type LineVerdict } from '../decide/guard.ts';
import { canBeHad } from '../decide/listing.ts';
import type { GoodsSubject, Seen, Surface } from '../decide/subject.ts';
import type { Winners } from '../decide/winners.ts';
import { shipDates } from '../serve/shipping.ts';
import { Alike, ByNumbers, numbered } from './alike.ts';
import type { Columns } from './columns.ts';
import type { FindingKind } from './finding.ts';
import { noneWon, SLOTS, type Side } from './side.ts';

/** Places that should agree about the same goods. */
export const PLACES = ['product', 'listing', 'quickView'] as const satisfies readonly Surface[];

/** Something to tell the owner of a rule, by its id, where it is seen on a surface. */
export interface Said {
  readonly kind: FindingKind;
  readonly rule: string;
  readonly surface: Surface;
}

/** Who wins on each of the places, and in the cart where a rule may close it: on several of them it may be the same side. */
export interface Sides {
  readonly seen: Omit<Seen, 'surface'>;
  readonly sides: readonly Side[];
  /** Of each place its side, and of the cart, by their places in the list. */
  readonly places: readonly number[];
  readonly cart: number | null;
  /** What the words of rules hang on beside the goods. */
  readonly hearer: string;
}

type Winning = Pick<Winners, 'by' | 'gathered'>;
const CART = ASPECTS.indexOf('cart');
const WITHHELD: readonly LineVerdict['refusal'][] = ['notForSale', 'signInFirst', 'capReached'];

/** Says what does not agree between the places of a shop, once for all goods that are alike. */
export class Places {
  private readonly told = new ByNumbers<Alike<readonly Said[]>>();
  private readonly numbered = numbered();
  private readonly wons = [...PLACES, 'cart'].map(noneWon);
  private readonly numbers = new Int32Array((PLACES.length + 1) * SLOTS + 1);

  constructor(
    private readonly columns: Columns,
    private readonly rulebook: CompiledRulebook,
  ) {}

  /** Makes ready to ask the rows of a word. */
  fill({ sides, places, cart, hearer }: Sides, word: number, rows: number): void {
    for (let index = 0; index < sides.length; index++) sides[index]!.fill(this.wons[index]!, word, rows);
    this.numbers.fill(-1);
    this.numbers[this.numbers.length - 1] = this.numbered(`${hearer} ${places.join()} ${String(cart)}`);
  }

  /** What there is to say of a row, at its place in the word that was made ready. */
  at({ seen, sides, places, cart }: Sides, row: number, at: number): readonly Said[] {
    for (let index = 0; index < sides.length; index++)
      for (let slot = 0; slot <= CART; slot++)
        this.numbers[index * SLOTS + slot] = sides[index]!.numberAt(
          this.wons[index]!,
          at,
          slot,
          'place',
          this.numbered,
        );
    return this.told
      .get(this.numbers, () => {
        const winningOf = (index: number) => sides[index]!.winningAt(this.wons[index]!, at);
        const winning = places.map(winningOf);
        const closes = cart === null ? undefined : winningOf(cart).by.cart;
        return new Alike(this.columns, (goods) =>
          saidOf(this.rulebook, winning, closes, (surface) => ({ ...seen, ...goods, surface })),
        );
      })
      .at(row);
  }
}

/** What is decided on one of the places, as far as it is asked for. */
function decidedOn(rulebook: CompiledRulebook, winning: Winning, subject: GoodsSubject) {
  const of = spoken(winning, subject, rulebook.shop);
  const { control } = of;
  return {
    surface: subject.surface,
    control,
    isHad: canBeHad(control),
    isPriceShown: showsPrice(winning.by.price),
    reasons: reasonsOf(winning, control),
    visibility: winning.by.visibility?.rule.then.visibility?.state ?? 'shown',
    limits: SAID.limits(of),
    /** Why the guard refuses so many; null where it does not. */
    refusal: (quantity: number) => {
      const judged = {
        control,
        limits: SAID.limits(of),
        express: SAID.express(of),
        visibility: SAID.visibility(of),
        price: SAID.price(of),
      };
      const line = { variantId: subject.variant.id, quantity };
      return verdictOf(judged, subject.variant, line, 'cart', { ofVariant: quantity, ofProduct: quantity }).refusal;
    },
  };
}

function saidOf(
  rulebook: CompiledRulebook,
  winning: readonly Winning[],
  closes: CompiledRule | undefined,
  subjectOn: (surface: Surface) => GoodsSubject,
): Said[] {
  const decided = PLACES.map((surface, index) => decidedOn(rulebook, winning[index]!, subjectOn(surface)));
  const [page, listing] = decided as [(typeof decided)[number], (typeof decided)[number]];
  if (page.visibility === 'blocked') return [];
  const said: Said[] = [];
  const say = (kind: FindingKind, [rule]: readonly string[], surface: Surface = 'product') => {
    if (rule !== undefined) said.push({ kind, rule, surface });
  };
  const hides = decided.find(({ isPriceShown }) => !isPriceShown);
  if (hides && decided.some(({ isPriceShown }) => isPriceShown))
    say('priceShownElsewhere', hides.reasons.price, hides.surface);
  // A cart that is closed sells nothing, as it should.
  if (closes?.rule.then.cart?.open !== false && decided.some(({ isHad }) => isHad !== page.isHad)) {
    const onPage = page.refusal(page.limits.min);
    const passes = onPage === null || listing.refusal(page.limits.min) === null || !WITHHELD.includes(onPage);
    const there = decided.find(({ isHad }) => isHad !== passes);
    if (there && passes) say('guardLetsThrough', there.reasons.control, there.surface);
    if (there && !passes) say('guardRefuses', page.reasons.control, there.surface);
  }
  const { control, reasons } = page;
  if (control.beside) return said;
  const { stock } = subjectOn('product').variant;
  if (!page.isPriceShown && control.kind === 'buy') say('hiddenPriceSold', reasons.price);
  if (control.kind === 'waitlist' && stock.tracked && stock.quantity > 0) say('waitlistInStock', reasons.control);
  if (control.kind === 'preorder') {
    const { product, moment } = subjectOn('product');
    const { from, until } = shipDates(control.ships, product, { moment, shop: rulebook.shop });
    if (from === null && until === null) say('preorderWithoutDate', reasons.control);
  }
  return said;
}
