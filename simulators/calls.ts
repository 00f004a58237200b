import express, { Router, type RequestHandler } from 'express';
import { Webhook, WebhookVerificationError } from 'standardwebhooks';
import type { Kept } from './kept.ts';

const word = (value: unknown) => (typeof value === 'string' ? value : '');

/** Takes text messages, chat messages and web hooks, as services for them do: by HTTP, each only once. */
export function messageCalls(kept: Kept): Router {
  const router = Router();
  const secrets: string[] = [];
  const json: RequestHandler = express.json({ limit: '1mb' });

  router.post('/text', json, (request, response) => {
    const { to, text } = (request.body ?? {}) as Record<string, unknown>;
    if (!/^Bearer \S/.test(request.get('Authorization') ?? '')) response.status(401).end();
    else if (word(to) === '' || word(text) === '') response.status(422).end();
    else {
      const [subject = ''] = word(text).split('\n');
      kept.add(
        { way: 'text', from: 'the shop', to: word(to), subject, text: word(text), html: '' },
        keyOf(`text ${word(text)}`, request.get('Idempotency-Key')),
      );
      response.status(202).end();
    }
  });

  router.post('/chat', json, (request, response) => {
    const { text } = (request.body ?? {}) as Record<string, unknown>;
    const [subject = ''] = word(text).split('\n');
    if (subject === '') response.status(422).end();
    else {
      const key = keyOf(`chat ${word(text)}`, request.get('Idempotency-Key'));
      kept.add({ way: 'chat', from: 'the shop', to: 'the chat', subject, text: word(text), html: '' }, key);
      response.status(202).end();
    }
  });

  router.post('/hooks', express.text({ type: () => true, limit: '1mb' }), (request, response) => {
    const body = word(request.body);
    const headers = Object.fromEntries(
      ['webhook-id', 'webhook-timestamp', 'webhook-signature'].map((name) => [name, request.get(name) ?? '']),
    );
    const checked = secrets.map((secret) => isSigned(secret, body, headers));
    const signature =
      secrets.length === 0 ? 'not checked' : checked.includes(true) ? 'signed rightly' : 'signed wrongly';
    if (signature === 'signed wrongly') {
      response.status(401).end();
      return;
    }
    const { type } = JSON.parse(body) as { type?: unknown };
    const lines = Object.entries(headers).map(([name, value]) => `${name}: ${value}`);
    kept.add(
      {
        way: 'hook',
        from: `the shop, ${signature}`,
        to: 'a program',
        subject: word(type),
        text: [...lines, '', body].join('\n'),
        html: '',
      },
      keyOf(`hook ${body}`, headers['webhook-id']),
    );
    response.status(204).end();
  });

  /** The secret that web hooks are checked by from now on. */
  router.post('/hook-secrets', express.urlencoded({ extended: false }), json, (request, response) => {
    const { secret } = (request.body ?? {}) as Record<string, unknown>;
    if (/^whsec_[\w+/=-]{24,}$/.test(word(secret))) secrets.push(word(secret));
    response.redirect(303, '/');
  });
  return router;
}

/** Several shops may send here, and number theirs alike. */
const keyOf = (way: string, key: string | undefined) => (key ? `${way} ${key}` : undefined);

function isSigned(secret: string, body: string, headers: Record<string, string>): boolean {
  try {
    new Webhook(secret).verify(body, headers);
    return true;
  } catch (error) {
    if (error instanceof WebhookVerificationError) return false;
    throw error;
  }
}
