import { Webhook } from 'standardwebhooks';
import type { MessageSettings } from '#core/contract/channelCalls.ts';
import { letterHtml } from '#core/texts/letter.ts';
import { shopFacts, theShop } from '../shopData/currentShop.ts';
import { readDetails } from '../shopData/shopDetails.ts';
import { CallOutError, postJson } from '../http/callOut.ts';
import type { Services } from '../services/services.ts';
import { hookById, stopHook } from './hookQueries.ts';
import { sendMail } from './mail.ts';
import type { Letter } from './messageQueries.ts';

export type SendNeeds = Pick<Services, 'db' | 'clock' | 'config'>;
type Send = (needs: SendNeeds, letter: Letter, settings: MessageSettings) => Promise<void>;

/**
 * Sends one message by its way.
 * Receivers can recognise a repeated message: each attempt has the same Message-ID (RFC 5322), `reference` and
 * Idempotency-Key, or webhook-id (Standard Webhooks).
 * @throws {Error} when it is not taken
 */
export const SEND: Readonly<Record<Letter['channel'], Send>> = {
  email: async ({ db, config }, { id, recipient, replyTo, locale, subject, text, html }, settings) => {
    const shop = shopFacts(await theShop(db));
    const { logo } = settings;
    const { address } = await readDetails(db);
    await sendMail(config, {
      to: recipient,
      ...(replyTo === null ? {} : { replyTo }),
      subject,
      text: address === null ? text : `${text}\n\n${address}`,
      html: letterHtml(html, settings, { shop, locale, logo: logo && `cid:${LOGO}`, address }),
      messageId: `<message-${id}@${new URL(config.publicUrl).hostname}>`,
      attachments: logo
        ? [{ cid: LOGO, content: logo.data, encoding: 'base64' as const, contentType: logo.type, filename: 'logo' }]
        : [],
    });
  },

  text: async ({ config }, { id, recipient, text }, { text: service }) => {
    if (!service) throw new Error('no service for text messages is connected');
    const reference = `message-${id}`;
    await postJson(new URL(service.url), config.privateHosts, {
      json: JSON.stringify({ to: recipient, text, reference }),
      headers: { Authorization: `Bearer ${service.secret}`, 'Idempotency-Key': reference },
    });
  },

  chat: async ({ config }, { id, text }, { chat }) => {
    if (!chat) throw new Error('no chat is connected');
    const headers = { 'Idempotency-Key': `message-${id}` };
    await postJson(new URL(chat.url), config.privateHosts, { json: JSON.stringify({ text }), headers });
  },

  hook: async ({ db, clock, config }, { id, text, hook }) => {
    const program = hook === null ? null : await hookById(db, hook);
    if (!program) throw new Error('the web hook is no longer there');
    const key = `message-${id}`;
    const at = new Date(clock());
    const headers = {
      'webhook-id': key,
      'webhook-timestamp': String(Math.floor(at.getTime() / 1000)),
      'webhook-signature': new Webhook(program.secret).sign(key, at, text),
    };
    try {
      await postJson(new URL(program.url), config.privateHosts, { json: text, headers });
    } catch (error) {
      // Gone: it wants no more (Standard Webhooks).
      if (error instanceof CallOutError && error.code === 'status 410') await stopHook(db, program.id);
      throw error;
    }
  },
};

const LOGO = 'logo';
