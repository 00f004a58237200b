import { randomBytes, randomUUID } from 'node:crypto';
import {
  deleteWebHook,
  getMessageLook,
  getMessageSettings,
  listWebHooks,
  postWebHook,
  putMessageSettings,
  putWebHook,
  tryChannel,
  tryMail,
  tryWebHook,
} from '#core/contract/channelCalls.ts';
import { factsOf, messageOf, SAMPLE_VALUES, shortOf } from '#core/texts/messages.ts';
import { notFound, ProblemError } from '../http/errors.ts';
import { whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { readDetails } from '../shopData/shopDetails.ts';
import type { Services } from '../services/services.ts';
import { escaped } from '../pages/page.ts';
import { noMail, sendMail } from './mail.ts';
import { allHooks, changeHook, deleteHook, hookById, insertHook } from './hookQueries.ts';
import { customTemplatesOf, saveSettings } from './messageQueries.ts';
import { enqueue, settingsOf, toHook } from './outbox.ts';

/** Calls about the design and channels of messages, and about web hooks. */
export function channelRoutes(endpoints: Endpoints, services: Services): void {
  const { db, live, clock, config } = services;

  route(endpoints, getMessageLook, async () => {
    const [{ design, colour, logo, terms }, { address }] = await Promise.all([settingsOf(db), readDetails(db)]);
    return reply(200, { design, colour, logo, terms, address });
  });

  route(endpoints, getMessageSettings, async () => reply(200, await settingsOf(db)));

  route(endpoints, putMessageSettings, async ({ body }, { request }) => {
    await saveSettings(db, body, { by: whoIs(request), at: new Date(clock()) });
    return reply(204, undefined);
  });

  route(endpoints, tryChannel, async ({ body }) => {
    const { shop } = live.current().rulebook;
    const { chat, text } = await settingsOf(db);
    const event = 'waitlist.new';
    const message = messageOf(event, SAMPLE_VALUES, { shop, locale: null, custom: await customTemplatesOf(db, event) });
    const content = body.channel === 'text' ? { ...message, text: shortOf(message, SAMPLE_VALUES) } : message;
    const recipient = body.channel === 'text' ? body.to : chat && new URL(chat.url).host;
    if (recipient === null || (body.channel === 'text' && !text)) throw notConnected();
    const { channel } = body;
    await db.transaction((client) =>
      enqueue(client, services, [
        {
          event,
          channel,
          recipient,
          locale: null,
          about: null,
          seller: null,
          message: { ...content, html: '' },
        },
      ]),
    );
    return reply(202, undefined);
  });

  route(endpoints, tryMail, async ({ body: { to } }) => {
    const { shop } = live.current().rulebook;
    if (config.smtpUrl === null) throw noMail();
    const words = `This is the test letter that somebody at ${shop.name} asked Understudy for. It came, so letters go out.`;
    const letter = { subject: 'Letters go out', text: words, html: `<p>${escaped(words)}</p>`, attachments: [] };
    try {
      const answer = await sendMail(config, { to, messageId: `<${randomUUID()}@understudy>`, ...letter });
      return reply(200, { isTaken: true, answer });
    } catch (error) {
      return reply(200, { isTaken: false, answer: error instanceof Error ? error.message : 'it failed' });
    }
  });

  route(endpoints, listWebHooks, async () => {
    const hooks = await allHooks(db);
    return reply(
      200,
      hooks.map(({ id, createdAt, ...hook }) => ({ ...hook, id: String(id), createdAt: createdAt.toISOString() })),
    );
  });

  route(endpoints, postWebHook, async ({ body }, { request }) => {
    const secret = `whsec_${randomBytes(32).toString('base64')}`;
    const id = await insertHook(db, { ...body, secret, by: whoIs(request), at: new Date(clock()) });
    return reply(201, { id: String(id), secret });
  });

  route(endpoints, putWebHook, async ({ params: { id }, body }) => {
    if (!(await changeHook(db, id, body))) throw notFound(`web hook ${id}`);
    return reply(204, undefined);
  });

  route(endpoints, deleteWebHook, async ({ params: { id } }) => {
    if (!(await deleteHook(db, id))) throw notFound(`web hook ${id}`);
    return reply(204, undefined);
  });

  route(endpoints, tryWebHook, async ({ params: { id } }) => {
    const hook = await hookById(db, id);
    const event = hook?.events[0];
    if (!hook || event === undefined) throw notFound(`web hook ${id}`);
    const data = { locale: null, ...factsOf(SAMPLE_VALUES) };
    const delivered = toHook(services, hook, { event, about: null, data, trial: true });
    await db.transaction((client) => enqueue(client, services, [delivered]));
    return reply(202, undefined);
  });
}

const notConnected = () => new ProblemError('not-connected', 'Save where these messages are taken first, then try it.');
