import { describe, expect, it } from 'vitest';
import type { FindingKind } from '#core/analysis/finding.ts';
import { ruleNames } from '#core/rulebook/sentence.ts';
import { during, found, KINDS, LINK, NOTICE, PLANTED, rare, tagged } from '#tests/support/planted.ts';
import { make, product } from '#tests/support/oneVariant.ts';
import { fixLabel, findingText } from './findingTexts.ts';

const textsOf = (kind: FindingKind, { rules, goods = [product] } = PLANTED[kind]) => {
  const nameOf = ruleNames(rules);
  const finding = found(rules, goods).find(({ about, rule }) => about.kind === kind && rule === 'planted')!;
  const { about, quickFix } = finding;
  return [findingText(finding, nameOf), quickFix && fixLabel(quickFix, about, nameOf)];
};

describe('what the owner reads of a finding', () => {
  it('is, of each kind, a sentence and what a press does', () => {
    expect(Object.fromEntries(KINDS.map((kind) => [kind, textsOf(kind)]))).toMatchInlineSnapshot(`
      {
        "brokenLink": [
          "“Everything” leads to /gone, which is not a page of this shop.",
          null,
        ],
        "contradiction": [
          "“Tagged rare, not tagged “Rare ”” can never apply: its conditions exclude each other.",
          "Switch the rule off",
        ],
        "fight": [
          "“Tagged rare” and “Tagged late” both decide the button of the same products; the first wins.",
          "Move it above “Tagged rare”",
        ],
        "guardLetsThrough": [
          "“Everything, on product pages” removes the button of one variant on product pages only, so they can still be bought.",
          "Make it count in all places",
        ],
        "guardRefuses": [
          "“Everything, on product pages or listings” withholds one variant everywhere but on quick views, where the button leads to a refusal.",
          "Make it count in all places",
        ],
        "hiddenPriceSold": [
          "“Everything” hides the price of one variant, which can still be bought.",
          "Ask for the price instead",
        ],
        "idle": [
          "“Everything” closes everything that “Tagged rare” would decide: meanwhile it decides nothing.",
          null,
        ],
        "longLabel": [
          "The label “Reserve one of these tubers for April” of “Everything” takes two lines or more on a small screen.",
          null,
        ],
        "missingLanguage": [
          "“Everything” has a text that is missing in French.",
          null,
        ],
        "neverWins": [
          "“Everything” never decides anything: wherever it applies, rules above it decide first: “Everything”.",
          "Move it above “Everything”",
        ],
        "notClosed": [
          "“Everything” does not close one variant that “Tagged rare”, above it, goes on selling.",
          "Move it above “Tagged rare”",
        ],
        "nowhereToSignIn": [
          "“Everything” lets only people with an account join, and does not say where guests can sign in.",
          null,
        ],
        "preorderWithoutDate": [
          "“Everything” takes pre-orders of one variant without saying when it ships.",
          null,
        ],
        "preorderWithoutTerms": [
          "“Everything” takes pre-orders without stating terms.",
          null,
        ],
        "priceShownElsewhere": [
          "“Everything, on listings” hides the price of one variant on listings, and it is shown in another place.",
          "Make it count in all places",
        ],
        "touchesEverything": [
          "“Everything” applies to everything: all products, for everyone.",
          null,
        ],
        "unfinished": [
          "“Choose products” is unfinished: it does not say which products, so it never applies.",
          null,
        ],
        "unknownMethod": [
          "“Everything” hides the payment method “cheque”, which the shop does not have.",
          null,
        ],
        "unknownName": [
          "“Tagged rares” names the tag “rares”, which does not exist. The closest is “rare”.",
          "Change it to “rare”",
        ],
        "untrackedStock": [
          "“In variants with at most -4 left” checks the stock of one variant whose stock is not tracked, so it never applies to them.",
          null,
        ],
        "waitlistInStock": [
          "“Everything” keeps a waitlist for one variant in stock. That may be intended.",
          null,
        ],
        "windowCloses": [
          "“Everything, from 1 November 2026 until 2 December 2026” ends on 2 December 2026.",
          null,
        ],
        "windowInverted": [
          "“Everything, from 1 March 2027 until 1 February 2027” ends on 1 February 2027, before it begins.",
          "Swap the two dates",
        ],
        "windowPast": [
          "“Everything, until 25 November 2026” is over: it ended on 25 November 2026.",
          "Switch the rule off",
        ],
      }
    `);
  });

  it('names the value of an attribute, and a date of the products', () => {
    const coloured = { ...rare, attributes: { Colour: 'pink' } };
    const asks = (value: string) =>
      make('planted', NOTICE, { fact: 'product.attribute', op: 'in', value: { name: 'Colour', values: [value] } });
    const around = make('planted', NOTICE, {
      all: [tagged('rare'), { fact: 'moment', op: 'around', value: { date: 'ship', until: '-P1D' } }],
    });
    expect(textsOf('unknownName', { rules: [asks('pinc')], goods: [coloured] })[0]).toMatch(
      /names the colour “pinc”, which does not exist\. The closest is “pink”\.$/,
    );
    expect(
      textsOf('unknownName', { rules: [around], goods: [{ ...rare, dates: { ships: '2027-03-15' } }] })[0],
    ).toMatch(/names the date “ship”, which does not exist\./);
  });

  it('tells of dates of products how many are near, and whether all are past', () => {
    const until = make('planted', NOTICE, {
      all: [tagged('rare'), { fact: 'moment', op: 'around', value: { date: 'ships', until: 'P0D' } }],
    });
    const shipping = (...dates: string[]) => ({
      rules: [until],
      goods: dates.map((ships, index) => ({ ...rare, id: `g${index}`, dates: { ships } })),
    });
    expect(textsOf('windowCloses', shipping('2026-11-27', '2026-11-28', '2027-11-28'))[0]).toMatch(
      /ends within a week for products with 2 dates “ships”\.$/,
    );
    expect(textsOf('windowPast', shipping('2026-11-01'))).toEqual([
      expect.stringMatching(/is over for all products with a date “ships”\.$/),
      'Switch the rule off',
    ]);
    const either = make('planted', NOTICE, { any: [tagged('rare'), during(undefined, '2026-11-25')] });
    expect(textsOf('windowPast', { rules: [either], goods: [rare] })).toEqual([
      expect.stringMatching(/^A time in “.*” is over: it ended on 25 November 2026\.$/),
      null,
    ]);
  });

  it('names three of many rules', () => {
    const ids = ['a', 'b', 'c', 'd', 'e'];
    const below = ids.map((id) => ({ ...make(id, LINK, tagged(id)), name: id }));
    const goods = ids.map((id) => ({ ...rare, id, tags: [id], variants: [{ ...rare.variants[0]!, id }] }));
    const rules = [make('planted', { ...NOTICE, cart: { open: false } }), ...below];
    expect(textsOf('idle', { rules, goods })[0]).toMatch(
      /closes everything that “a”, “b”, “c”, and 2 more would decide: meanwhile they decide nothing\.$/,
    );
  });
});
