import type PgBoss from 'pg-boss';
import type { ShopFacts } from '#core/decide/subject.ts';
import { EVENTS, messageOf, type Message, type MessageEvent, type Values } from '#core/texts/messages.ts';
import type { Queryable } from '../db/database.ts';
import type { Services } from '../services.ts';
import { sendMail } from './mail.ts';
import { insertMessage, markFailed, markSent, ownTemplatesOf, startAttempt } from './messageQueries.ts';

const QUEUE = 'message';
/** Tried again after 5, 10, 20 … s, over some twelve hours; then it waits for the owner. */
const RETRIES = { retryLimit: 12, retryDelay: 5, retryBackoff: true };

const WORKERS = 4;

/** Something that is to be told, in the locale of whoever is told. */
export interface ToTell {
  readonly event: MessageEvent;
  /** An e-mail address; the owner's people are known. */
  readonly to?: string | null;
  readonly locale: string | null;
  readonly values: Values;
}

type Needs = Pick<Services, 'clock' | 'jobs'>;

/**
 * Writes messages with what caused them: `client` is in the same transaction, and a message is sent exactly when that
 * commits. Who has no address is not told.
 */
export async function tell(client: Queryable, needs: Needs, shop: ShopFacts, toTell: readonly ToTell[]): Promise<void> {
  for (const { event, to, locale, values } of toTell) {
    const { audience } = EVENTS[event];
    const recipients = audience === 'owner' ? await staffAddresses(client) : to ? [to] : [];
    const own = await ownTemplatesOf(client, event);
    const message = messageOf(event, values, { shop, locale, own });
    for (const recipient of recipients) await tellAs(client, needs, { event, recipient, message });
  }
}

async function staffAddresses(client: Queryable): Promise<string[]> {
  const { rows } = await client.query<{ email: string }>('SELECT email FROM staff ORDER BY id');
  return rows.map(({ email }) => email);
}

/** Puts one message in the outbox as it is. */
export async function tellAs(
  client: Queryable,
  { clock, jobs }: Needs,
  said: { event: MessageEvent; recipient: string; message: Message },
): Promise<void> {
  const { audience } = EVENTS[said.event];
  await queue(client, jobs, await insertMessage(client, { ...said, audience, at: new Date(clock()) }));
}

/** Has a message sent as soon as the transaction of `client` has committed. */
export async function queue(client: Queryable, jobs: PgBoss, id: number): Promise<void> {
  const db = {
    executeSql: async (text: string, values: unknown[]) => {
      const { rows } = await client.query<Record<string, unknown>>(text, values);
      return { rows };
    },
  };
  await jobs.send(QUEUE, { id }, { ...RETRIES, db });
}

type WorkNeeds = Pick<Services, 'db' | 'clock' | 'config'>;

/** Sends what is waiting, on whichever copy of the server is free; what cannot be sent for long is left to the owner. */
export async function workMessages(jobs: PgBoss, services: WorkNeeds): Promise<void> {
  await jobs.createQueue(QUEUE);
  const how = { includeMetadata: true, pollingIntervalSeconds: 0.5 } as const;
  // Each takes one at a time, so that one that fails keeps none of the others.
  for (let worker = 0; worker < WORKERS; worker += 1)
    await jobs.work<{ id: number }>(QUEUE, how, async ([job]) => {
      if (job) await deliver(services, job.data.id, job.retryCount >= job.retryLimit);
    });
}

async function deliver({ db, clock, config }: WorkNeeds, id: number, isLastTry: boolean): Promise<void> {
  const message = await startAttempt(db, id);
  // Sent already by a try whose end was not heard of, or taken back.
  if (!message) return;
  try {
    await sendMail(config, {
      to: message.recipient,
      subject: message.subject,
      text: message.textBody,
      html: message.htmlBody,
      // The same at every try, so that a mail server or program can tell that it has it already (RFC 5322).
      messageId: `<message-${id}@${new URL(config.publicUrl).hostname}>`,
    });
    await markSent(db, id, new Date(clock()));
  } catch (error) {
    await markFailed(db, id, { error: error instanceof Error ? error.message : 'not sent', isDead: isLastTry });
    throw error;
  }
}
