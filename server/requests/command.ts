import { step, type Actor, type CommandOf, type Effect, type Machine, type StateOf } from '#core/requests/machine.ts';
import { REQUESTS } from '#core/requests/requests.ts';
import type { MessageEvent } from '#core/texts/messageEvents.ts';
import type { Queryable } from '../db/database.ts';
import { enqueueNotifications, type Notification } from '../messages/outbox.ts';
import { inScope, type Scope } from '../scope/scope.ts';
import type { JobServices } from '../services/services.ts';

const MOVE = (table: string, product: string) => `
  WITH before AS (
    SELECT id, state FROM ${table} r WHERE id = ANY($1) AND state = ANY($2) AND ${inScope('$5', product)} FOR UPDATE)
  UPDATE ${table} r SET state = coalesce($3, r.state), changed_at = $4 FROM before
  WHERE r.id = before.id RETURNING r.id, before.state`;

/** Statements that move requests of a kind by their ids, within a scope. */
const MOVES = {
  waitlist: MOVE('waitlist_entries', 'r.product_id'),
  preorder: MOVE('preorders', '(SELECT product_id FROM variants WHERE id = r.variant_id)'),
  enquiry: MOVE('enquiries', 'r.product_id'),
} as const;
type Kind = keyof typeof MOVES;
type State<K extends Kind> = StateOf<(typeof REQUESTS)[K]>;

/** A command for requests of a kind. */
export interface Given<K extends Kind> {
  readonly kind: K;
  readonly command: CommandOf<(typeof REQUESTS)[K]>;
  readonly actor: Actor;
  readonly at: Date;
  readonly scope: Scope;
  /** The state that is meant, where the command can lead to several. */
  readonly to?: State<K>;
}

/** Carries out effects, each by what it names. Effects that do not occur need no entry. */
export interface Handlers {
  readonly letters?: Partial<Record<MessageEvent, () => readonly Notification[] | Promise<readonly Notification[]>>>;
  readonly count?: () => Promise<void>;
  readonly conversation?: () => Promise<void>;
  readonly turn?: () => Promise<void>;
}

/** Who gives the commands of a scope. */
export const actorOf = ({ seller }: Scope): Actor => (seller === null ? 'owner' : 'seller');

/** Requests that were moved, with the effects of each. */
export interface Moved {
  readonly id: number;
  readonly effects: readonly Effect[];
}

/** Moves those requests within the scope whose state allows the command; others stay as they are. */
export async function moveRequests<K extends Kind>(
  client: Queryable,
  { kind, command, actor, at, scope, to }: Given<K>,
  ids: readonly number[],
): Promise<Moved[]> {
  const lifecycle = REQUESTS[kind] as unknown as Machine<string, string>;
  const { by, from, to: targets } = lifecycle.transitions[command]!;
  if (!by.includes(actor) || ids.length === 0) return [];
  const target = to ?? (targets[0] === 'same' ? null : targets[0]);
  const { rows } = await client.query<{ id: number; state: string }>(MOVES[kind], [
    ids,
    from.filter((state) => state !== null),
    target,
    at,
    scope.names,
  ]);
  return rows
    .sort((a, b) => a.id - b.id)
    .flatMap(({ id, state }) => {
      const taken = step(lifecycle, state, command, actor, target ?? state);
      return 'refusal' in taken ? [] : [{ id, effects: taken.effects }];
    });
}

const missing = (what: string) => new Error(`nobody carries out ${what}`);

/**
 * Carries out effects, and returns the letters among them, for those who queue many together.
 * @throws {Error} for an effect without a handler
 */
export async function perform(effects: readonly Effect[], handlers: Handlers): Promise<Notification[]> {
  const letters: Notification[] = [];
  for (const effect of effects) {
    if ('letter' in effect) {
      const write = handlers.letters?.[effect.letter];
      if (!write) throw missing(effect.letter);
      letters.push(...(await write()));
      continue;
    }
    const [[what]] = Object.entries(effect) as [[keyof Omit<Handlers, 'letters'>, string]];
    const handler = handlers[what];
    if (!handler) throw missing(what);
    await handler();
  }
  return letters;
}

/**
 * Carries out the effects of a step in its transaction, each by its handler.
 * @throws {Error} for an effect without a handler
 */
export async function carryOut(
  client: Queryable,
  services: JobServices,
  effects: readonly Effect[],
  handlers: Handlers,
): Promise<void> {
  const letters = await perform(effects, handlers);
  await enqueueNotifications(client, services, services.live.current().rulebook.shop, letters);
}

/**
 * Gives a command to requests, and carries out the effects for each.
 * @param prepare reads all that were moved at once, and returns the handlers for each
 * @returns the ids of those that were moved
 */
export async function giveCommand<K extends Kind>(
  client: Queryable,
  services: JobServices,
  given: Given<K>,
  ids: readonly number[],
  prepare: (ids: readonly number[]) => Promise<(id: number) => Handlers>,
): Promise<number[]> {
  const moved = await moveRequests(client, given, ids);
  const movedIds = moved.map(({ id }) => id);
  if (movedIds.length === 0) return [];
  const handlersFor = await prepare(movedIds);
  const letters: Notification[] = [];
  for (const { id, effects } of moved) letters.push(...(await perform(effects, handlersFor(id))));
  await enqueueNotifications(client, services, services.live.current().rulebook.shop, letters);
  return movedIds;
}

/** Effects of a request that begins with this command. */
export function effectsOfBeginning<State extends string, Command extends string>(
  machine: Machine<State, Command>,
  command: Command,
): readonly Effect[] {
  const taken = step(machine, null, command, 'customer');
  if ('refusal' in taken) throw new Error(`a request does not begin with ${command}`);
  return taken.effects;
}
