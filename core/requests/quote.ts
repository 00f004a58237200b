import { isAllowed, machine, step, type Actor, type Effect, type Refusal } from './machine.ts';
import { partsOver, stateByParts, validUntilOf, type QuotePartState, type QuoteSending } from './quoteParts.ts';
import { quotePart } from './quotePart.ts';

export const QUOTE_STATES = ['asked', 'priced', 'accepted', 'declined', 'turnedDown', 'lapsed'] as const;
export type QuoteState = (typeof QUOTE_STATES)[number];

const SENT = 'quote.priced';
const REOPENED = ['asked', 'priced', 'lapsed', 'declined'] as const satisfies readonly QuoteState[];

/** A request for prices. Its parts are requests of their own (`quotePart`); `stepQuote` moves both. */
export const quote = machine(QUOTE_STATES, {
  ask: {
    by: ['customer'],
    from: [null],
    to: ['asked'],
    effects: [{ count: 'finished' }, { letter: 'quote.asked' }, { letter: 'quote.new' }],
    otherwise: 'This was asked already.',
  },
  price: {
    by: ['owner', 'seller'],
    from: REOPENED,
    to: ['asked', 'priced'],
    effects: [],
    otherwise: 'This quote was accepted or turned down. Look at it again.',
  },
  turnDown: {
    by: ['owner', 'seller'],
    from: ['asked', 'priced'],
    to: ['asked', 'priced', 'turnedDown'],
    effects: [],
    otherwise: 'This quote was accepted or turned down. Look at it again.',
  },
  accept: {
    by: ['customer'],
    from: ['priced'],
    to: ['accepted'],
    effects: [{ conversation: 'customer' }, { letter: 'quote.answered' }],
    otherwise: 'This quote can no longer be accepted.',
  },
  decline: {
    by: ['customer'],
    from: ['priced'],
    to: ['declined'],
    effects: [{ conversation: 'customer' }, { letter: 'quote.answered' }],
    otherwise: 'This quote can no longer be declined.',
  },
  reply: {
    by: ['customer'],
    from: QUOTE_STATES,
    to: ['same'],
    effects: [{ conversation: 'customer' }, { letter: 'quote.answered' }],
    otherwise: 'This quote takes no replies.',
  },
  askAgain: {
    by: ['customer'],
    from: ['priced', 'lapsed'],
    to: ['asked'],
    effects: [{ conversation: 'customer' }, { letter: 'quote.new' }],
    otherwise: 'Only a quote that has expired can be asked for again.',
  },
  lapse: {
    by: ['system'],
    from: ['priced'],
    to: ['lapsed'],
    effects: [{ letter: 'quote.lapsed' }],
    otherwise: 'Only a quote that was sent can lapse.',
  },
  /** Two parts become one, when one seller is merged into another. */
  joinParts: {
    by: ['system'],
    from: ['priced'],
    to: ['asked'],
    effects: [],
    otherwise: 'Only a quote that was sent is open again without a priced part.',
  },
});

export interface QuotePartCase {
  readonly id: number;
  readonly seller: string | null;
  readonly state: QuotePartState;
  readonly delivery: number | null;
  readonly validUntil: Date | null;
}
/** A quote, as far as its lifecycle looks at it. */
export interface QuoteCase {
  readonly state: QuoteState;
  readonly validUntil: Date | null;
  readonly parts: readonly QuotePartCase[];
}

export type QuoteCommand =
  | { readonly name: 'price'; readonly part: number; readonly delivery: number | null; readonly validUntil: Date }
  | { readonly name: 'turnDown'; readonly part: number }
  | { readonly name: 'accept' | 'decline' | 'reply' | 'askAgain' | 'lapse' };

/** Circumstances that a step of a quote depends on. */
export interface QuoteContext {
  readonly at: Date;
  readonly sending: QuoteSending;
}

/** A consequence for the whole quote, or for the sellers of some parts. */
export type QuoteEffect = Effect & { readonly parts?: readonly number[] };

export interface QuoteStep {
  readonly quote: QuoteCase;
  readonly effects: readonly QuoteEffect[];
}

/** Whether the time to accept a quote that was sent is over. */
export const hasExpired = ({ state, validUntil }: Pick<QuoteCase, 'state' | 'validUntil'>, at: Date): boolean =>
  state === 'lapsed' || (state === 'priced' && validUntil !== null && validUntil <= at);

/** Whether a command is for a quote that can still be accepted, or for one that has expired; others are for both. */
const NEEDS: Readonly<Record<QuoteCommand['name'], 'valid' | 'expired' | null>> = {
  price: null,
  turnDown: null,
  accept: 'valid',
  decline: 'valid',
  reply: null,
  askAgain: 'expired',
  lapse: 'expired',
};

/** Whether an actor can give a command about a quote now. */
export const isQuoteCommandAllowed = (
  { state, validUntil }: Pick<QuoteCase, 'state' | 'validUntil'>,
  command: QuoteCommand['name'],
  actor: Actor,
  at: Date,
): boolean =>
  isAllowed(quote, state, command, actor) &&
  (NEEDS[command] === null || (NEEDS[command] === 'expired') === hasExpired({ state, validUntil }, at));

/** Takes one step of a quote and of its parts, or refuses it. */
export function stepQuote(
  before: QuoteCase,
  command: QuoteCommand,
  actor: Actor,
  context: QuoteContext,
): QuoteStep | Refusal {
  if (!isQuoteCommandAllowed(before, command.name, actor, context.at))
    return { refusal: quote.transitions[command.name].otherwise };
  if ('part' in command) return stepPart(before, command, actor, context);
  if (command.name === 'askAgain') return askAgain(before, actor);
  return stepWhole(before, command.name, actor);
}

function stepWhole(
  before: QuoteCase,
  command: 'accept' | 'decline' | 'reply' | 'lapse',
  actor: Actor,
): QuoteStep | Refusal {
  const taken = step(quote, before.state, command, actor);
  if ('refusal' in taken) return taken;
  // An answer is not about parts that were turned down, so their sellers are left alone.
  const concerned = before.parts.flatMap(({ id, state }) => (state === 'turnedDown' ? [] : id));
  return {
    quote: { ...before, state: taken.state },
    effects: taken.effects.map((effect) =>
      'letter' in effect && effect.letter === 'quote.answered' ? { ...effect, parts: concerned } : effect,
    ),
  };
}

function stepPart(
  before: QuoteCase,
  command: Extract<QuoteCommand, { part: number }>,
  actor: Actor,
  { at, sending }: QuoteContext,
): QuoteStep | Refusal {
  const part = before.parts.find(({ id }) => id === command.part);
  if (!part) throw new Error(`quote without part ${command.part}`);
  const moved = step(quotePart, part.state, command.name, actor);
  if ('refusal' in moved) return moved;
  // Prices of other sellers that have expired are asked for again, so that one quote is good as a whole.
  const over =
    command.name === 'price' ? partsOver(before.parts, at).flatMap(({ id }) => (id === part.id ? [] : id)) : [];
  const priced = command.name === 'price' ? { delivery: command.delivery, validUntil: command.validUntil } : {};
  const parts = before.parts.map((one) =>
    one.id === part.id
      ? { ...one, ...priced, state: moved.state }
      : over.includes(one.id)
        ? askedAgain(one, 'system')
        : one,
  );
  const taken = step(quote, before.state, command.name, actor, stateByParts(parts, sending));
  if ('refusal' in taken) return taken;
  const { state } = taken;
  const sent: QuoteEffect[] =
    state === 'asked' ? [] : [{ conversation: 'shop' }, { letter: state === 'turnedDown' ? 'quote.turnedDown' : SENT }];
  return {
    quote: { state, validUntil: validUntilOf(parts) ?? before.validUntil, parts },
    effects: [...(over.length > 0 ? [{ letter: 'quote.new' as const, parts: over }] : []), ...sent],
  };
}

function askAgain(before: QuoteCase, actor: Actor): QuoteStep | Refusal {
  const taken = step(quote, before.state, 'askAgain', actor);
  if ('refusal' in taken) return taken;
  const parts = before.parts.map((part) => askedAgain(part, actor));
  return { quote: { ...before, state: taken.state, parts }, effects: taken.effects };
}

function askedAgain(part: QuotePartCase, actor: Actor): QuotePartCase {
  const taken = step(quotePart, part.state, 'askAgain', actor);
  return 'refusal' in taken ? part : { ...part, state: taken.state };
}
