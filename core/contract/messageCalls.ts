import { z } from 'zod';
import { Locale } from '../model/localisedText.ts';
import { templateFault } from '../texts/messages.ts';
import { EVENT_CODES, TOLD_CODES, type MessageEvent } from '../texts/messageEvents.ts';
import { call, NoBody } from './call.ts';
import { RowId } from './scalars.ts';

const Event = z.enum(EVENT_CODES);
export const MESSAGE_STATES = ['waiting', 'sent', 'dead', 'held'] as const;

export const Message = z
  .strictObject({
    id: z.string(),
    event: z.enum(TOLD_CODES),
    audience: z.enum(['customer', 'owner']),
    channel: z.enum(['email', 'text', 'chat', 'hook']),
    recipient: z.string(),
    locale: Locale.nullable(),
    subject: z.string(),
    text: z.string().describe('For a program, the JSON that it is sent'),
    html: z.string().describe('Safe HTML of the body; empty where only text goes out'),
    state: z
      .enum(MESSAGE_STATES)
      .describe(
        '`dead`: tried as often as is worth it, and never taken; `held`: held back, since strangers asked for too many',
      ),
    attempts: z.int(),
    error: z.string().nullable().describe('Why the last try failed, or why it is held back'),
    createdAt: z.iso.datetime(),
    sentAt: z.iso.datetime().nullable(),
  })
  .meta({ id: 'Message' });
export type Message = z.infer<typeof Message>;

export const listMessages = call({
  method: 'get',
  path: '/api/messages',
  summary: 'Lists sent and failed messages, the newest first',
  auth: 'readRequests',
  query: z.strictObject({
    search: z.string().max(200).optional().describe('Part of an address or a subject'),
    state: z.enum(MESSAGE_STATES).optional(),
    event: z.enum(TOLD_CODES).optional(),
    after: RowId.optional().describe('Only messages before this one'),
    limit: z.coerce.number().int().min(1).max(200).default(60),
  }),
  replies: { 200: z.strictObject({ messages: z.array(Message), more: z.boolean(), dead: z.int(), held: z.int() }) },
});

export const sendMessageAgain = call({
  method: 'post',
  path: '/api/messages/{id}/again',
  summary: 'Sends a failed or held message again',
  auth: 'requests',
  params: z.strictObject({ id: RowId }),
  replies: { 204: NoBody },
  problems: ['not-dead'],
});

const Words = {
  subject: z.string().trim().min(1).max(300),
  body: z.string().trim().min(1).max(10_000).describe('Markdown'),
};

export const MessageTemplate = z
  .strictObject({
    event: Event,
    audience: z.enum(['customer', 'owner']),
    placeholders: z.array(z.string()),
    locale: Locale,
    ...Words,
    isCustom: z.boolean().describe('Whether the owner wrote it; else it is ours'),
  })
  .meta({ id: 'MessageTemplate' });
export type MessageTemplate = z.infer<typeof MessageTemplate>;

export const listTemplates = call({
  method: 'get',
  path: '/api/templates',
  summary: 'Lists the templates of all messages, in each of the shop’s languages',
  auth: 'read',
  replies: { 200: z.array(MessageTemplate) },
});

/** A template's own faults: its placeholders and plurals. */
const checked = <T extends z.ZodType<{ event: MessageEvent; subject: string; body: string }>>(schema: T) =>
  schema.superRefine(({ event, subject, body }, context) => {
    for (const [name, text] of Object.entries({ subject, body })) {
      const fault = templateFault(event, text);
      if (fault !== null) context.addIssue({ code: 'custom', message: fault, path: [name], input: text });
    }
  });

export const putTemplate = call({
  method: 'put',
  path: '/api/templates',
  summary: 'Replaces the template of a message',
  auth: 'publish',
  body: checked(z.strictObject({ event: Event, locale: Locale, ...Words })),
  replies: { 204: NoBody },
});

export const deleteTemplate = call({
  method: 'delete',
  path: '/api/templates/{event}/{locale}',
  summary: 'Restores the default template',
  auth: 'publish',
  params: z.strictObject({ event: Event, locale: Locale }),
  replies: { 204: NoBody },
});

export const sendTest = call({
  method: 'post',
  path: '/api/templates/test',
  summary: 'Sends a test message with sample values to the signed-in user, or to an address',
  auth: 'publish',
  body: checked(z.strictObject({ event: Event, locale: Locale, ...Words, to: z.email() })),
  replies: { 202: NoBody },
  problems: ['no-mail'],
});
