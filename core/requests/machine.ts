import type { MessageEvent } from '../texts/messageEvents.ts';

/** Who gives a command. The system gives those that a date or stock brings about. */
export const ACTORS = ['customer', 'owner', 'seller', 'system'] as const;
export type Actor = (typeof ACTORS)[number];

/**
 * A consequence of a transition, which the server carries out. A letter's recipient belongs to its event (`EVENTS`), and
 * programs receive the same event.
 */
export type Effect =
  | { readonly letter: MessageEvent }
  /** Counts the press that led here as finished. */
  | { readonly count: 'finished' }
  /** Adds words to the conversation, of the shop's side or the customer's. */
  | { readonly conversation: 'shop' | 'customer' }
  /** Passes a turn to the next person waiting. */
  | { readonly turn: 'next' };

/** An effect, and the states before the transition in which alone it happens. */
export type Consequence<State> = Effect & { readonly when?: readonly State[] };

export interface Transition<State extends string> {
  readonly by: readonly Actor[];
  /** States in which it can be given; null before the request exists. */
  readonly from: readonly (State | null)[];
  /** States to which it can lead; 'same' where it changes none. Several where the request's parts decide. */
  readonly to: readonly (State | 'same')[];
  readonly effects: readonly Consequence<State>[];
  /** Reason why it cannot be given in other states, as a sentence for the one who tries. */
  readonly otherwise: string;
}

/** The lifecycle of a kind of request. */
export interface Machine<State extends string, Command extends string> {
  readonly states: readonly State[];
  readonly transitions: Readonly<Record<Command, Transition<State>>>;
}

export type StateOf<M> = M extends Machine<infer State, string> ? State : never;
export type CommandOf<M> = M extends Machine<string, infer Command> ? Command : never;

/** Declares a machine, and checks that it names its own states only. */
export const machine = <State extends string, Command extends string>(
  states: readonly State[],
  transitions: Readonly<Record<Command, Transition<NoInfer<State>>>>,
): Machine<State, Command> => ({ states, transitions });

export interface Refusal {
  readonly refusal: string;
}
export interface Step<State> {
  readonly state: State;
  readonly effects: readonly Effect[];
}

/**
 * Takes one step, or refuses it.
 * @param state null before the request exists
 * @param reached the state that the request's parts decide, where a transition can lead to several
 */
export function step<State extends string, Command extends string>(
  { transitions }: Machine<State, Command>,
  state: State | null,
  command: Command,
  actor: Actor,
  reached?: State,
): Step<State> | Refusal {
  const { by, from, to, effects, otherwise } = transitions[command];
  if (!by.includes(actor)) return { refusal: `This is not for the ${actor} to do.` };
  if (!from.includes(state)) return { refusal: otherwise };
  const [only] = to;
  const next = reached ?? (only === 'same' ? state : only);
  if (next == null || !(to.includes(next) || (to.includes('same') && next === state)))
    throw new Error(`${command} does not lead to ${String(next)}`);
  return { state: next, effects: effectsOf(effects, state) };
}

const effectsOf = <State>(effects: readonly Consequence<State>[], state: State | null): Effect[] =>
  effects.flatMap(({ when, ...effect }) => (when && (state === null || !when.includes(state)) ? [] : [effect]));

export interface Allowed<Command> {
  readonly command: Command;
  /** Null if it can be given now. */
  readonly reason: string | null;
}

/** Commands that an actor may ever give, each with the reason why it cannot be given now. */
export const allowed = <State extends string, Command extends string>(
  { transitions }: Machine<State, Command>,
  state: State | null,
  actor: Actor,
): Allowed<Command>[] =>
  (Object.entries(transitions) as [Command, Transition<State>][])
    .filter(([, { by }]) => by.includes(actor))
    .map(([command, { from, otherwise }]) => ({ command, reason: from.includes(state) ? null : otherwise }));

/** Whether an actor can give a command now. */
export const isAllowed = <State extends string, Command extends string>(
  { transitions }: Machine<State, Command>,
  state: State,
  command: Command,
  actor: Actor,
): boolean => transitions[command].by.includes(actor) && transitions[command].from.includes(state);

/** States in which a command can be given, for queries that move many requests at once. */
export const statesBefore = <State extends string, Command extends string>(
  { transitions }: Machine<State, Command>,
  command: Command,
): State[] => transitions[command].from.filter((state) => state !== null);

/** Finds the command by which an actor brings a request from one state to another; null if there is none. */
export function commandBetween<State extends string, Command extends string>(
  { transitions }: Machine<State, Command>,
  from: State,
  to: State,
  actor: Actor,
): Command | null {
  const found = (Object.entries(transitions) as [Command, Transition<State>][]).find(
    ([, one]) => one.by.includes(actor) && one.from.includes(from) && one.to.includes(to),
  );
  return found?.[0] ?? null;
}
