import { sellerOfRule } from '../rulebook/entries.ts';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { allowance, LISBON, marketplace, rule, rulebook, sellers, subject } from '#tests/support/arbitraries.ts';
import { book, everything, guest, make } from '#tests/support/oneVariant.ts';
import { plainlyAllowed, plainWinners } from '#tests/support/plainInterpreter.ts';
import { runs } from '#tests/support/sampling.ts';
import { ASPECTS, setOf } from '../aspects/aspects.ts';
import { parse } from '../contract/validation.ts';
import type { ProductSubject } from '../model/subject.ts';
import { Rule, Rulebook } from '../rulebook/rulebook.ts';
import { SELLER_ASPECTS, asAllowed, type SellerAllowance, type SellerRules } from '../rulebook/sellers.ts';
import { RULE_KINDS } from '../controls/controls.ts';
import { compile, type CompiledRulebook } from './compile.ts';
import { decide } from './decide.ts';
import { trace } from './trace.ts';
import { winners } from './winners.ts';

const ALL: SellerAllowance = {
  kinds: RULE_KINDS,
  aspects: SELLER_ASPECTS,
  hidesPrices: true,
  ownWords: true,
  mostUnits: null,
} as never;
const SELLERS = { id: 'sellers', sellers: true, on: true } as const;
const nettlefold = (rules: Rule[], allowed: Partial<SellerAllowance> = {}): SellerRules => ({
  id: 'nettlefold',
  names: ['Nettlefold Growers'],
  allowed: { ...ALL, ...allowed },
  rules,
});
const sold = (seller: string | null): ProductSubject => ({ ...guest, product: { ...guest.product, seller } });
const THEIRS = sold(' nettlefold growers');

/** The rules that win each aspect, by their ids. */
function won(compiled: CompiledRulebook, seen: ProductSubject): Record<string, string[]> {
  const { by, gathered } = winners(compiled, seen, setOf(ASPECTS));
  const all = [...Object.entries(by).map(([aspect, one]) => [aspect, [one]] as const), ...Object.entries(gathered)];
  return Object.fromEntries(
    all.filter(([, list]) => list.length > 0).map(([aspect, list]) => [aspect, list.map((one) => one.rule.id)]),
  );
}

describe('sellers in the running order', () => {
  const close = make('close', { control: { kind: 'notice', text: 'Closed' } });
  const hide = make('hide', { express: 'hide', control: { kind: 'nothing' } });
  const theirs = [make('wish', { control: { kind: 'quote' } })];

  it('what stands above outranks them, what stands below decides the rest', () => {
    const above = { ...book(), rules: [close, SELLERS, hide] };
    expect(decide(compile(above, LISBON, [nettlefold(theirs)]), THEIRS).reasons.control).toEqual(['close']);
    const below = { ...book(), rules: [SELLERS, hide, close] };
    const decision = decide(compile(below, LISBON, [nettlefold(theirs)]), THEIRS);
    expect(decision).toMatchObject({ control: { kind: 'quote' }, express: 'hide' });
    expect(decision.reasons).toMatchObject({ control: ['sellers/nettlefold/wish'], express: ['hide'] });
    expect(sellerOfRule('sellers/nettlefold/wish')).toEqual({ seller: 'nettlefold', rule: 'wish' });
  });

  it('hiding prices is a right of its own, apart from changing them', () => {
    const rules = [make('hidden', { price: { show: false } }), make('less', { price: { adjust: { percent: -10 } } })];
    const wins = (allowed: Partial<SellerAllowance>) =>
      won(compile({ ...book(), rules: [SELLERS] }, LISBON, [nettlefold(rules, allowed)]), THEIRS).price ?? null;
    expect(wins({})).toEqual(['sellers/nettlefold/hidden']);
    expect(wins({ hidesPrices: false })).toEqual(['sellers/nettlefold/less']);
    const others = SELLER_ASPECTS.filter((aspect) => aspect !== 'price');
    expect(wins({ aspects: others })).toEqual(['sellers/nettlefold/hidden']);
    expect(wins({ aspects: others, hidesPrices: false })).toBeNull();
  });

  it('a seller closes their own list alone, and the trace says so', () => {
    const stop = { ...make('stop', { style: ['ours'] }), stopHere: true };
    const compiled = compile({ ...book(), rules: [SELLERS, hide] }, LISBON, [nettlefold([stop, ...theirs])]);
    expect(decide(compiled, THEIRS)).toMatchObject({ control: { kind: 'nothing' }, style: ['ours'] });
    expect(trace(compiled, THEIRS).map(({ ruleId, outcome }) => [ruleId, outcome])).toEqual([
      ['sellers/nettlefold/stop', 'counts'],
      ['sellers/nettlefold/wish', 'closed'],
      ['hide', 'counts'],
    ]);
    expect(trace(compiled, sold('Somebody else')).map(({ ruleId }) => ruleId)).toEqual(['hide']);
    const stopped = compile({ ...book(), rules: [{ ...close, stopHere: true }, SELLERS] }, LISBON, [
      nettlefold(theirs),
    ]);
    expect(trace(stopped, THEIRS).map(({ outcome }) => outcome)).toEqual(['counts', 'closed']);
  });

  it('are not read without an entry that is on', () => {
    for (const rules of [[hide], [{ ...SELLERS, on: false }, hide]])
      expect(won(compile({ ...book(), rules }, LISBON, [nettlefold(theirs)]), THEIRS).control).toEqual(['hide']);
  });

  it('have one place, and ids that no rule of the owner’s takes', () => {
    const faultsOf = (rules: unknown[]) => {
      const result = parse(Rulebook, { ...book(), rules });
      return result.ok ? [] : result.faults.map(({ pointer }) => pointer);
    };
    expect(faultsOf([SELLERS, close])).toEqual([]);
    expect(faultsOf([SELLERS, close, { ...SELLERS, id: 'again' }])).toEqual(['/rules/2/sellers']);
    expect(faultsOf([SELLERS, { ...close, id: 'sellers' }])).toEqual(['/rules/1/id']);
    expect(faultsOf([{ ...close, id: 'sellers/nettlefold/wish' }])).toEqual(['/rules/0/id']);
    expect(faultsOf([{ ...SELLERS, when: everything }])[0]).toMatch(/^\/rules\/0/);
  });
});

describe('what sellers may', () => {
  const said = (then: Rule['then'], allowed: Partial<SellerAllowance>) =>
    asAllowed(make('a', then), nettlefold([], allowed)).then;

  it('is no more than the owner allows', () => {
    const preorder = { kind: 'preorder', label: 'Reserve', cap: { units: 40, per: 'product' } } as const;
    expect(said({ control: preorder }, { kinds: ['quote'] })).toEqual({});
    expect(said({ control: preorder }, { mostUnits: 10, ownWords: false })).toEqual({
      control: { kind: 'preorder', cap: { units: 10, per: 'product' } },
    });
    expect(said({ control: { kind: 'preorder' } }, { mostUnits: 10 })).toEqual({
      control: { kind: 'preorder', cap: { units: 10, per: 'variant' } },
    });
    expect(said({ cart: { open: false }, express: 'hide' }, {})).toEqual({ express: 'hide' });
    expect(said({ control: { kind: 'notice', text: 'Ours' }, style: ['x'] }, { ownWords: false })).toEqual({
      style: ['x'],
    });
  });

  it('is what a plain reading leaves, and always a valid outcome', () => {
    fc.assert(
      fc.property(rule, allowance, (one, allowed) => {
        const left = asAllowed(one, nettlefold([], allowed));
        expect(left).toEqual({ ...plainlyAllowed(one, nettlefold([], allowed)), id: left.id });
        expect(parse(Rule, { ...left, id: 'a', gather: undefined }).ok).toBe(true);
      }),
      runs(1000),
    );
  });
});

describe('properties', () => {
  it('compiled equals plainly interpreted, with sellers', () => {
    fc.assert(
      fc.property(marketplace, sellers, subject, (rules, all, seen) => {
        expect(parse(Rulebook, rules)).toEqual({ ok: true, value: rules });
        expect(won(compile(rules, LISBON, all), seen)).toEqual(plainWinners(rules, seen, LISBON, all));
      }),
      runs(1500),
    );
  });

  it('a seller’s rules change nothing of others’ goods, and nothing that is not allowed', () => {
    fc.assert(
      fc.property(marketplace, sellers, subject, (rules, all, seen) => {
        const [marketplaces, alone] = [compile(rules, LISBON, all), compile(rules, LISBON)];
        const isTheirs = all.some(({ names }) =>
          names.some((name) => name.toLowerCase() === seen.product.seller?.trim().toLowerCase()),
        );
        if (!isTheirs) expect(decide(marketplaces, seen)).toEqual(decide(alone, seen));
        const decided = won(marketplaces, seen);
        for (const [aspect, ids] of Object.entries(decided))
          for (const found of ids.flatMap((id) => sellerOfRule(id) ?? [])) {
            const { names, allowed } = all.find(({ id }) => id === found.seller)!;
            expect(names.map((name) => name.toLowerCase())).toContain(seen.product.seller?.trim().toLowerCase());
            const isHidden = aspect === 'price' && !decide(marketplaces, seen).price.show;
            if (isHidden) expect(allowed.hidesPrices).toBe(true);
            else if (aspect !== 'control') expect(allowed.aspects).toContain(aspect);
            // A pre-order may leave words of the seller's where it closes.
            else if (decide(marketplaces, seen).control.kind === 'notice' && allowed.kinds.includes('preorder'))
              expect(allowed.ownWords).toBe(true);
            else expect(['choose', ...allowed.kinds]).toContain(decide(marketplaces, seen).control.kind);
          }
      }),
      runs(1500),
    );
  });

  it('validUntil is never late, with sellers', () => {
    fc.assert(
      fc.property(marketplace, sellers, subject, fc.nat({ max: 40_000 }), (rules, all, seen, hours) => {
        const compiled = compile(rules, LISBON, all);
        const now = decide(compiled, seen);
        const moment = seen.moment + hours * 3_600_000;
        if (now.validUntil !== null && moment >= Date.parse(now.validUntil)) return;
        expect({ ...decide(compiled, { ...seen, moment }), validUntil: null }).toEqual({ ...now, validUntil: null });
      }),
      runs(600),
    );
  });

  it('the trace agrees with who decides', () => {
    fc.assert(
      fc.property(marketplace, sellers, subject, (rules, all, seen) => {
        const compiled = compile(rules, LISBON, all);
        const decided = won(compiled, seen);
        const traced = trace(compiled, seen);
        for (const aspect of ASPECTS)
          expect(traced.filter((one) => one.decided.includes(aspect)).map(({ ruleId }) => ruleId)).toEqual(
            decided[aspect] ?? [],
          );
        for (const { outcome, decided: own, lost } of traced)
          if (outcome !== 'counts') expect([...own, ...lost]).toEqual([]);
      }),
      runs(600),
    );
  });

  it('without sellers nothing is otherwise', () => {
    fc.assert(
      fc.property(rulebook, subject, (rules, seen) => {
        const entry = { ...rules, rules: [...rules.rules, SELLERS] };
        expect(decide(compile(entry, LISBON, []), seen)).toEqual(decide(compile(rules, LISBON), seen));
      }),
    );
  });
});
