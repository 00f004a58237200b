import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { EVENTS } from '../texts/messageEvents.ts';
import { LANGUAGES } from '../texts/languages.ts';
import { ACTORS, allowed, commandBetween, isAllowed, step, type Machine } from './machine.ts';
import { stepQuote, type QuoteCase, type QuoteCommand } from './quote.ts';
import { QUOTE_PART_STATES, QUOTE_SENDING } from './quoteParts.ts';
import { REQUESTS } from './requests.ts';

type AnyMachine = Machine<string, string>;
const machines = Object.entries(REQUESTS as unknown as Record<string, AnyMachine>);

/** Where a transition can lead, from a state. */
const targets = ({ transitions }: AnyMachine, command: string, state: string | null) =>
  transitions[command]!.to.flatMap((to) => (to === 'same' ? (state ?? []) : to));

describe.each(machines)('the lifecycle of a %s', (_kind, machine) => {
  const commands = Object.keys(machine.transitions);
  const anyStep = fc.record({
    command: fc.constantFrom(...commands),
    actor: fc.constantFrom(...ACTORS),
    choice: fc.nat(3),
  });

  it('never leaves its states, takes what is allowed alone, and replays to the same state', () => {
    fc.assert(
      fc.property(fc.array(anyStep, { maxLength: 40 }), fc.constantFrom(null, ...machine.states), (steps, first) => {
        const run = (from: string | null, given: typeof steps) => {
          let state = from;
          const taken: typeof steps = [];
          for (const one of given) {
            const reachable = targets(machine, one.command, state);
            const reached = reachable[one.choice % Math.max(1, reachable.length)];
            if (reached === undefined) continue;
            const offer = allowed(machine, state, one.actor).find(({ command }) => command === one.command);
            const next = step(machine, state, one.command, one.actor, reached);
            expect('refusal' in next).toBe(offer === undefined || offer.reason !== null);
            if ('refusal' in next) continue;
            expect(machine.states).toContain(next.state);
            if (state !== null) expect(isAllowed(machine, state, one.command, one.actor)).toBe(true);
            state = next.state;
            taken.push(one);
          }
          return { state, taken };
        };
        const { state, taken } = run(first, steps);
        expect(run(first, taken)).toEqual({ state, taken });
      }),
    );
  });

  it('reaches every state from its beginning, and finds the command between two states', () => {
    const begins = Object.values(machine.transitions).some(({ from }) => from.includes(null));
    const reached = new Set<string>(begins ? [] : machine.states.slice(0, 1));
    for (let before = -1; before !== reached.size;) {
      before = reached.size;
      for (const [command, { from }] of Object.entries(machine.transitions))
        for (const state of [null, ...reached])
          if (from.includes(state)) for (const to of targets(machine, command, state)) reached.add(to);
    }
    expect([...reached].sort()).toEqual([...machine.states].sort());
    for (const from of machine.states)
      for (const to of machine.states) {
        const command = commandBetween(machine, from, to, 'owner');
        if (command !== null) expect(step(machine, from, command, 'owner', to)).toMatchObject({ state: to });
      }
  });

  it('writes letters that exist in every language, each to the audience of its event', () => {
    const letters = Object.values(machine.transitions).flatMap(({ effects }) =>
      effects.flatMap((effect) => ('letter' in effect ? effect.letter : [])),
    );
    for (const letter of letters) {
      expect(EVENTS).toHaveProperty([letter]);
      for (const texts of Object.values(LANGUAGES)) {
        expect(texts[`message.${letter}.subject`]).toMatch(/\S/);
        expect(texts[`message.${letter}.body`]).toMatch(/\S/);
      }
    }
  });

  it('says in a sentence why a command cannot be given', () => {
    for (const { otherwise } of Object.values(machine.transitions)) expect(otherwise).toMatch(/^[A-Z].*\.$/);
  });
});

describe('the steps of a quote', () => {
  const DAY = 86_400_000;
  const start = Date.UTC(2026, 2, 1);
  const anyCommand = fc.oneof(
    fc.record({
      name: fc.constantFrom('price' as const, 'turnDown' as const),
      part: fc.integer({ min: 1, max: 3 }),
      delivery: fc.constantFrom(null, 500),
      days: fc.integer({ min: 1, max: 9 }),
    }),
    fc.record({ name: fc.constantFrom('accept' as const, 'decline' as const, 'reply' as const) }),
    fc.record({ name: fc.constantFrom('askAgain' as const, 'lapse' as const) }),
  );
  const fresh = (parts: number): QuoteCase => ({
    state: 'asked',
    validUntil: null,
    parts: Array.from({ length: parts }, (_, index) => ({
      id: index + 1,
      seller: index === 0 ? null : `s${index}`,
      state: 'asked',
      delivery: null,
      validUntil: null,
    })),
  });

  it('keep quote and parts consistent, and mail nobody about a part that was turned down', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 3 }),
        fc.constantFrom(...QUOTE_SENDING),
        fc.array(fc.tuple(anyCommand, fc.constantFrom(...ACTORS), fc.integer({ min: 0, max: 6 })), { maxLength: 25 }),
        (count, sending, steps) => {
          let quote = fresh(count);
          let at = start;
          for (const [given, actor, days] of steps) {
            at += days * DAY;
            if ('part' in given && given.part > count) continue;
            const command = (
              given.name === 'price' ? { ...given, validUntil: new Date(at + given.days * DAY) } : given
            ) as QuoteCommand;
            const taken = stepQuote(quote, command, actor, { at: new Date(at), sending });
            if ('refusal' in taken) continue;
            const before = quote;
            ({ quote } = taken);
            expect(REQUESTS.quote.states).toContain(quote.state);
            for (const { state } of quote.parts) expect(QUOTE_PART_STATES).toContain(state);
            const isPriced = quote.parts.some(({ state }) => state === 'priced');
            if (['priced', 'accepted', 'declined', 'lapsed'].includes(quote.state)) expect(isPriced).toBe(true);
            if (quote.state === 'turnedDown') expect(isPriced).toBe(false);
            if (command.name === 'accept') expect(quote.validUntil!.getTime()).toBeGreaterThan(at);
            const turnedDown = before.parts.flatMap(({ id, state }) => (state === 'turnedDown' ? id : []));
            for (const { parts = [] } of taken.effects)
              expect(parts.filter((part) => turnedDown.includes(part))).toEqual([]);
            expect(quote.parts.map(({ id }) => id)).toEqual(before.parts.map(({ id }) => id));
          }
        },
      ),
    );
  });

  it('ask other sellers again when their prices have expired by the time one is priced', () => {
    const old = new Date(start - DAY);
    const { parts } = fresh(2);
    const before: QuoteCase = {
      state: 'asked',
      validUntil: null,
      parts: [parts[0]!, { ...parts[1]!, state: 'priced', validUntil: old }],
    };
    const command = { name: 'price', part: 1, delivery: null, validUntil: new Date(start + DAY) } as const;
    const taken = stepQuote(before, command, 'owner', { at: new Date(start), sending: 'together' });
    expect(taken).toMatchObject({
      quote: { state: 'asked', parts: [{ state: 'priced' }, { state: 'asked' }] },
      effects: [{ letter: 'quote.new', parts: [2] }],
    });
  });
});
