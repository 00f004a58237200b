import { SELLERS_PREFIX } from '#core/rulebook/entries.ts';
import { compile } from '#core/engine/compile.ts';
import { decide } from '#core/engine/decide.ts';
import { SELLER_ASPECTS, type SellerRules } from '#core/rulebook/sellers.ts';
import { RULE_KINDS } from '#core/controls/controls.ts';
import type { Entry, Rule, Rulebook } from '#core/rulebook/rulebook.ts';
import type { ProductSubject } from '#core/model/subject.ts';
import { makeJob, subjectsOf } from './job.ts';
import { ratesOf } from './measure.ts';

/** Measures the cost of many sellers for a decision: the same products and owner's rules, without sellers and with 2,000 of five rules each. */
const SELLERS = 2000;
const RULES_EACH = 5;

const job = makeJob({ rules: 300, products: 20_000 });
const nameOf = (seller: number) => `Grower ${seller}`;
const products = job.products.map((product, index) => ({ ...product, seller: nameOf(index % SELLERS) }));
const wishes = makeJob({ rules: RULES_EACH * SELLERS, products: 10 }, 2).rulebook.rules as Rule[];
const sellers = Array.from({ length: SELLERS }, (_, index): SellerRules => ({
  id: `grower-${index}`,
  names: [nameOf(index)],
  allowed: { kinds: [...RULE_KINDS], aspects: [...SELLER_ASPECTS], hidesPrices: true, ownWords: true, mostUnits: null },
  rules: wishes.slice(index * RULES_EACH, (index + 1) * RULES_EACH),
}));
const { rules } = job.rulebook;
const entry = { id: 'sellers', sellers: true, on: true } as const;
const place = Math.floor(rules.length / 2);
const at = (...entries: Entry[]): Rulebook => ({
  ...job.rulebook,
  rules: [...job.rulebook.rules].toSpliced(place, 0, ...entries),
});
const alone = compile(job.rulebook, job.shop);
const same = compile(at(...wishes.slice(0, RULES_EACH)), job.shop);
const having = compile(at(entry), job.shop, sellers);
const subjects = subjectsOf({ ...job, products }, 40_000);
const isTheirs = (subject: ProductSubject) =>
  Object.values(decide(having, subject).reasons).some((ids) => ids.some((id) => id.startsWith(SELLERS_PREFIX)));
const share = subjects.filter(isTheirs).length / subjects.length;
console.log(`A seller's rule decides something in ${(100 * share).toFixed(0)} % of decisions. µs of one:`);
console.log('| | goods as they come | those of a seller after each other |\n| --- | --- | --- |');
const bySeller = [...subjects].sort((a, b) => ((a.product.seller ?? '') < (b.product.seller ?? '') ? -1 : 1));
const measured = [subjects, bySeller].map((asked) => {
  const all = (rulebook: typeof alone) => () => {
    for (const subject of asked) decide(rulebook, subject);
    return asked.length;
  };
  return ratesOf({ alone: all(alone), same: all(same), having: all(having) });
});
const line = (name: string, key: string) => {
  console.log(`| ${name} | ${measured.map((rates) => (1e6 / (rates[key] ?? NaN)).toFixed(2)).join(' | ')} |`);
};
line(`the owner's ${rules.length} rules alone`, 'alone');
line(`${RULES_EACH} rules more, of the owner's`, 'same');
line(`${SELLERS} sellers of ${RULES_EACH} rules each`, 'having');
