import { choiceOf, MessageSettings } from '#core/contract/channelCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { factsOf, messageOf, shortOf, type Channel, type Message, type Values } from '#core/texts/messages.ts';
import { EVENTS, type MessageEvent, type ToldEvent } from '#core/texts/messageEvents.ts';
import type { Queryable } from '../db/database.ts';
import type { Jobs } from '../db/jobs.ts';
import type { Services } from '../services/services.ts';
import { SEND, type SendNeeds } from './channels.ts';
import type { Hook } from './hookQueries.ts';
import {
  insertMessages,
  markFailed,
  markSent,
  outboxContext,
  phoneOf,
  savedSettings,
  startAttempt,
  type Outgoing,
} from './messageQueries.ts';

const QUEUE = 'message';
/**
 * Tried again after 5, 10, 20 … s, over some twelve hours; then it waits for the owner. What a server was sending when it
 * was killed is tried again after a minute.
 */
const RETRIES = { retryLimit: 12, retryDelay: 5, retryBackoff: true, expireInSeconds: 60 };

const WORKERS = 4;

/** A notification, in its recipient's locale. */
export interface Notification {
  readonly event: MessageEvent;
  /** An e-mail address; the owner's people are known. */
  readonly to?: string | null;
  /** The address of the person that it is about, where it does not go to them. */
  readonly about?: string | null;
  readonly locale: string | null;
  readonly values: Values;
  /** Seller concerned: notifies their people, and the shop if there are none or it wants a copy. */
  readonly seller?: string | null;
  /** Restricts recipients to the seller's people or to programs; others get a message of their own. */
  readonly only?: 'seller' | 'programs';
  /** Why the letter is not sent before the owner says so. */
  readonly held?: string | null;
}

type Needs = Pick<Services, 'clock' | 'jobs'>;

/** The owner's settings, with ours where nothing was saved. */
export const settingsOf = async (db: Queryable): Promise<MessageSettings> =>
  MessageSettings.parse((await savedSettings(db)) ?? {});

/**
 * Writes messages with what caused them: `client` is in the same transaction, and a message is sent exactly when that
 * commits. Each goes by the ways that the owner chose, and to the programs that want to be told. Who has no address is
 * not told. However many there are, they are few questions to the database, since others may wait for the transaction.
 */
export async function enqueueNotifications(
  client: Queryable,
  needs: Needs,
  shop: ShopFacts,
  notifications: readonly Notification[],
): Promise<void> {
  if (notifications.length === 0) return;
  const events = [...new Set(notifications.map(({ event }) => event))];
  const sellers = [...new Set(notifications.flatMap(({ seller }) => seller ?? []))];
  const context = await outboxContext(client, events, sellers);
  const peopleOf = (seller: string | null) =>
    context.staff.flatMap((person) => (person.seller === seller ? person.email : []));
  const settings = MessageSettings.parse(context.settings ?? {});
  const all: Outgoing[] = [];
  for (const notification of notifications) {
    const { event, to = null, about = to, locale, values, held = null, seller = null, only } = notification;
    const custom = Object.fromEntries(
      context.templates.filter((template) => template.event === event).map(({ locale, ...words }) => [locale, words]),
    );
    const message = messageOf(event, values, { shop, locale, custom });
    const short = { ...message, text: shortOf(message, values), html: '' };
    const { channels, to: chosen } = choiceOf(settings, event);
    const add = (channel: Channel, message: Message, recipients: readonly string[], readBy: string | null) => {
      if (!channels.includes(channel)) return;
      const shared = { event, channel, locale, about, message, held, seller: readBy };
      all.push(...recipients.map((recipient) => ({ ...shared, recipient })));
    };
    if (only !== 'programs' && EVENTS[event].audience === 'owner') {
      const people = seller === null ? [] : peopleOf(seller);
      add('email', message, people, seller);
      if (only !== 'seller' && (people.length === 0 || context.copies)) {
        add('email', message, chosen ?? peopleOf(null), null);
        add('text', short, settings.telephones, null);
        add('chat', { ...message, html: '' }, settings.chat ? [new URL(settings.chat.url).host] : [], null);
      }
    } else if (only !== 'programs' && to !== null) {
      add('email', message, [to], seller);
      const phone = channels.includes('text') ? await phoneOf(client, to) : null;
      add('text', short, phone === null ? [] : [phone], seller);
    }
    const hooks = only === 'seller' ? [] : context.hooks;
    for (const hook of hooks.filter(({ events }) => events.some((one) => one === event)))
      all.push(toHook(needs, hook, { event, about, data: { locale, ...factsOf(values) } }));
  }
  await enqueue(client, needs, all);
}

/** Message of an event to one program. */
export function toHook(
  needs: Pick<Needs, 'clock'>,
  hook: Hook,
  occurrence: { event: ToldEvent; about: string | null; data: object; trial?: true },
): Outgoing {
  const { event, about, data, ...trial } = occurrence;
  const timestamp = new Date(needs.clock()).toISOString();
  const text = JSON.stringify({ type: event, timestamp, data: { email: about, ...data }, ...trial });
  const { host, pathname } = new URL(hook.url);
  const message = { subject: event, text, html: '' };
  return {
    event,
    channel: 'hook',
    recipient: host + pathname,
    locale: null,
    about,
    message,
    seller: null,
    hook: hook.id,
  };
}

/** Enqueues messages, sent once the transaction of `client` commits, except held ones. */
export async function enqueue(client: Queryable, { clock, jobs }: Needs, all: readonly Outgoing[]): Promise<void> {
  const ids = await insertMessages(client, all, new Date(clock()));
  await queue(client, jobs, ids);
}

/** Has messages sent as soon as the transaction of `client` has committed. */
export const queue = (client: Queryable, jobs: Jobs, ids: readonly number[]): Promise<void> =>
  jobs.addAll(
    client,
    QUEUE,
    ids.map((id) => ({ data: { id }, ...RETRIES })),
  );

/** Sends waiting messages, each on one copy of the server; after long failure they are left to the owner. */
export async function workMessages(jobs: Jobs, services: SendNeeds): Promise<void> {
  // Each takes one at a time, so that a failing one does not hold up the others.
  await jobs.work<{ id: number }>(QUEUE, { workers: WORKERS }, ({ data, retryCount, retryLimit }) =>
    deliver(services, data.id, retryCount >= retryLimit),
  );
}

async function deliver(needs: SendNeeds, id: number, isLastTry: boolean): Promise<void> {
  const { db, clock } = needs;
  const letter = await startAttempt(db, id);
  // Sent already by a try whose end was not heard of, or taken back.
  if (!letter) return;
  try {
    await SEND[letter.channel](needs, letter, await settingsOf(db));
    await markSent(db, id, new Date(clock()));
  } catch (error) {
    await markFailed(db, id, { error: error instanceof Error ? error.message : 'not sent', isDead: isLastTry });
    throw error;
  }
}
