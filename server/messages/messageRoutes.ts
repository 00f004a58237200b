import {
  deleteTemplate,
  listMessages,
  listTemplates,
  putTemplate,
  sendMessageAgain,
  sendTest,
} from '#core/contract/messageCalls.ts';
import { defaultTemplate, sampleOf } from '#core/texts/messages.ts';
import { EVENT_CODES, EVENTS } from '#core/texts/messageEvents.ts';
import { ProblemError } from '../http/errors.ts';
import { whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { scopeOf } from '../scope/scope.ts';
import type { Services } from '../services/services.ts';
import { noMail } from './mail.ts';
import * as queries from './messageQueries.ts';
import { enqueue, queue } from './outbox.ts';

/** Calls about sent messages. */
export function messageRoutes(endpoints: Endpoints, services: Services): void {
  const { db, jobs, live, clock, config } = services;

  route(endpoints, listMessages, async ({ query }, { request }) => {
    const scope = await scopeOf(services, request);
    const [{ rows, more }, unsent] = await Promise.all([
      queries.pageOfMessages(db, query, scope),
      queries.countUnsent(db, scope),
    ]);
    const messages = rows.map(({ id, createdAt, sentAt, ...message }) => ({
      ...message,
      id: String(id),
      createdAt: createdAt.toISOString(),
      sentAt: sentAt?.toISOString() ?? null,
    }));
    return reply(200, { messages, more, ...unsent });
  });

  route(endpoints, sendMessageAgain, async ({ params: { id } }, { request }) => {
    const scope = await scopeOf(services, request);
    await db.transaction(async (client) => {
      if (!(await queries.reviveMessage(client, id, scope))) throw notDead();
      await queue(client, jobs, [id]);
    });
    return reply(204, undefined);
  });

  route(endpoints, listTemplates, async () => {
    const { shop } = live.current().rulebook;
    const custom = await queries.allCustomTemplates(db);
    const templates = EVENT_CODES.flatMap((event) =>
      shop.locales.map((locale) => {
        const written = custom.find((template) => template.event === event && template.locale === locale);
        const { subject, body } = written ?? defaultTemplate(event, locale, shop);
        const { audience, placeholders } = EVENTS[event];
        return {
          event,
          audience,
          placeholders: [...placeholders],
          locale,
          subject,
          body,
          isCustom: written !== undefined,
        };
      }),
    );
    return reply(200, templates);
  });

  route(endpoints, putTemplate, async ({ body: { event, locale, ...words } }, { request }) => {
    await queries.writeTemplate(db, { event, locale }, { ...words, by: whoIs(request), at: new Date(clock()) });
    return reply(204, undefined);
  });

  route(endpoints, deleteTemplate, async ({ params: { event, locale } }) => {
    await queries.deleteTemplate(db, event, locale);
    return reply(204, undefined);
  });

  route(endpoints, sendTest, async ({ body: { event, locale, to, ...words } }) => {
    if (config.smtpUrl === null) throw noMail();
    const message = sampleOf(words, locale, live.current().rulebook.shop);
    await db.transaction((client) =>
      enqueue(client, services, [{ event, channel: 'email', recipient: to, locale, about: to, message, seller: null }]),
    );
    return reply(202, undefined);
  });
}

const notDead = () =>
  new ProblemError('not-dead', 'Only a message that could not be sent, or was held back, can be sent again.');
