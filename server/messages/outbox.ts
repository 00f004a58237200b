import type PgBoss from 'pg-boss';
import { choiceOf, MessageSettings } from '#core/contract/channelCalls.ts';
import type { ShopFacts } from '#core/decide/subject.ts';
import {
  EVENTS,
  factsOf,
  messageOf,
  shortOf,
  type Channel,
  type Message,
  type MessageEvent,
  type Values,
} from '#core/texts/messages.ts';
import type { Queryable } from '../db/database.ts';
import { queueJob } from '../db/jobs.ts';
import type { Services } from '../services.ts';
import { SEND, type SendNeeds } from './channels.ts';
import { hooksFor, type Hook } from './hookQueries.ts';
import {
  insertMessage,
  markFailed,
  markSent,
  ownTemplatesOf,
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

/** Something that is to be told, in the locale of whoever is told. */
export interface ToTell {
  readonly event: MessageEvent;
  /** An e-mail address; the owner's people are known. */
  readonly to?: string | null;
  /** The address of the person that it is about, where it does not go to them. */
  readonly about?: string | null;
  readonly locale: string | null;
  readonly values: Values;
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
 * not told.
 */
export async function tell(client: Queryable, needs: Needs, shop: ShopFacts, toTell: readonly ToTell[]): Promise<void> {
  if (toTell.length === 0) return;
  const settings = await settingsOf(client);
  for (const { event, to = null, about = to, locale, values, held = null } of toTell) {
    const own = await ownTemplatesOf(client, event);
    const message = messageOf(event, values, { shop, locale, own });
    const short = { ...message, text: shortOf(message, values), html: '' };
    const { channels, to: chosen } = choiceOf(settings, event);
    const send = async (channel: Channel, said: Message, recipients: readonly string[]) => {
      if (!channels.includes(channel)) return;
      for (const recipient of recipients)
        await tellAs(client, needs, { event, channel, recipient, locale, about, message: said, held });
    };
    if (EVENTS[event].audience === 'owner') {
      await send('email', message, chosen ?? (await staffAddresses(client)));
      await send('text', short, settings.telephones);
      await send('chat', { ...message, html: '' }, settings.chat ? [new URL(settings.chat.url).host] : []);
    } else if (to !== null) {
      await send('email', message, [to]);
      const phone = channels.includes('text') ? await phoneOf(client, to) : null;
      await send('text', short, phone === null ? [] : [phone]);
    }
    for (const hook of await hooksFor(client, event))
      await tellHook(client, needs, hook, { event, about, data: { locale, ...factsOf(values) } });
  }
}

/** Tells one program of an event. */
export async function tellHook(
  client: Queryable,
  needs: Needs,
  hook: Hook,
  said: { event: MessageEvent; about: string | null; data: object; trial?: true },
): Promise<void> {
  const { event, about, data, ...trial } = said;
  const timestamp = new Date(needs.clock()).toISOString();
  const text = JSON.stringify({ type: event, timestamp, data: { email: about, ...data }, ...trial });
  const { host, pathname } = new URL(hook.url);
  const message = { subject: event, text, html: '' };
  const recipient = host + pathname;
  await tellAs(client, needs, { event, channel: 'hook', recipient, locale: null, about, message, hook: hook.id });
}

async function staffAddresses(client: Queryable): Promise<string[]> {
  const { rows } = await client.query<{ email: string }>('SELECT email FROM staff ORDER BY id');
  return rows.map(({ email }) => email);
}

/** Puts one message in the outbox as it is. */
export async function tellAs(client: Queryable, { clock, jobs }: Needs, said: Outgoing): Promise<void> {
  const { audience } = EVENTS[said.event];
  const id = await insertMessage(client, { ...said, audience, at: new Date(clock()) });
  if (!said.held) await queue(client, jobs, id);
}

/** Has a message sent as soon as the transaction of `client` has committed. */
export const queue = (client: Queryable, jobs: PgBoss, id: number): Promise<void> =>
  queueJob(client, jobs, { queue: QUEUE, data: { id }, ...RETRIES });

/** Sends what is waiting, on whichever copy of the server is free; what cannot be sent for long is left to the owner. */
export async function workMessages(jobs: PgBoss, services: SendNeeds): Promise<void> {
  await jobs.createQueue(QUEUE);
  const how = { includeMetadata: true, pollingIntervalSeconds: 0.5 } as const;
  // Each takes one at a time, so that one that fails keeps none of the others.
  for (let worker = 0; worker < WORKERS; worker += 1)
    await jobs.work<{ id: number }>(QUEUE, how, async ([job]) => {
      if (job) await deliver(services, job.data.id, job.retryCount >= job.retryLimit);
    });
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
