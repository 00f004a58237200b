import { z } from 'zod';
import { LocalisedText } from '../texts/localisedTextSchema.ts';
import { DESIGNS, PLAIN_LOOK } from '../texts/letter.ts';
import { CHANNELS, channelsOf } from '../texts/messages.ts';
import { EVENT_CODES, EVENTS, HOOK_CODES, type MessageEvent } from '../texts/messageEvents.ts';
import { call, NoBody } from './call.ts';
import { RowId } from './scalars.ts';

const Event = z.enum(EVENT_CODES);
const Address = z.url({ protocol: /^https?$/ }).max(500);
/** E.164. */
export const Telephone = z
  .string()
  .trim()
  .regex(/^\+[1-9]\d{5,14}$/, 'a number with its country, such as +351210000000');

const LOGO_BYTES = 100_000;
const Logo = z.strictObject({
  type: z.enum(['image/png', 'image/jpeg', 'image/gif']),
  data: z.base64().max(Math.ceil(LOGO_BYTES / 3) * 4, 'a picture of at most 100 kB'),
});

const Choice = z.strictObject({
  channels: z.array(z.enum(CHANNELS)).max(CHANNELS.length),
  to: z.array(z.email()).min(1).max(20).nullable().default(null).describe('Who of yours is told; null for all'),
});

const look = {
  design: z.enum(DESIGNS).default(PLAIN_LOOK.design),
  colour: z
    .string()
    .regex(/^#[0-9a-fA-F]{6}$/, 'a colour such as #16323A')
    .default(PLAIN_LOOK.colour),
  logo: Logo.nullable().default(null),
  terms: LocalisedText.nullable().default(null).describe('Markdown under every letter'),
};

export const MessageSettings = z
  .strictObject({
    ...look,
    text: z
      .strictObject({ url: Address, secret: z.string().max(500) })
      .nullable()
      .default(null)
      .describe('Takes text messages: POST of `to`, `text` and `reference`, with the secret as bearer token'),
    telephones: z.array(Telephone).max(20).default([]).describe('Where text messages to you go'),
    chat: z.strictObject({ url: Address }).nullable().default(null).describe('Takes chat messages: POST of `text`'),
    choices: z
      .partialRecord(Event, Choice)
      .default({})
      .describe(
        'The channels of each event, and who is notified; where it is not named by e-mail to all, but `insights.week` to nobody',
      ),
  })
  .superRefine(({ choices, text, chat }, context) => {
    for (const event of EVENT_CODES) {
      const choice = choices[event];
      if (!choice) continue;
      const issue = (allowed: string, ...at: (string | number)[]) => {
        context.addIssue({ code: 'custom', message: allowed, path: ['choices', event, ...at], input: choice });
      };
      const wrong = choice.channels.findIndex((channel) => !channelsOf(event).includes(channel));
      if (wrong >= 0) issue(`only these ways: ${channelsOf(event).join(', ')}`, 'channels', wrong);
      if (event === 'waitlist.confirm' && choice.channels.length === 0) issue('e-mail', 'channels');
      if (choice.to !== null && EVENTS[event].audience === 'customer') issue('null: it goes to the customer', 'to');
      if (choice.channels.includes('text') && !text)
        issue('ways that are connected: text messages are not', 'channels');
      if (choice.channels.includes('chat') && !chat) issue('ways that are connected: chat is not', 'channels');
    }
  })
  .meta({ id: 'MessageSettings' });
export type MessageSettings = z.infer<typeof MessageSettings>;

/** The channels of an event, and who of the owner's is notified. */
export const choiceOf = ({ choices }: Pick<MessageSettings, 'choices'>, event: MessageEvent): z.infer<typeof Choice> =>
  choices[event] ?? { channels: 'isOptional' in EVENTS[event] ? [] : ['email'], to: null };

export const getMessageSettings = call({
  method: 'get',
  path: '/api/messages/settings',
  summary: 'Returns the design, channels and recipients of messages',
  auth: 'settings',
  replies: { 200: MessageSettings },
});

const MessageLook = z
  .strictObject({ ...look, address: z.string().nullable().describe('The shop’s, below every letter') })
  .meta({ id: 'MessageLook' });
export type MessageLook = z.infer<typeof MessageLook>;

export const getMessageLook = call({
  method: 'get',
  path: '/api/messages/look',
  summary: 'Returns the design of messages',
  auth: 'readRequests',
  replies: { 200: MessageLook },
});

export const putMessageSettings = call({
  method: 'put',
  path: '/api/messages/settings',
  summary: 'Replaces the design, channels and recipients of messages',
  auth: 'settings',
  // With a logo.
  bodyLimit: 250_000,
  body: MessageSettings,
  replies: { 204: NoBody },
});

export const tryChannel = call({
  method: 'post',
  path: '/api/messages/trials',
  summary: 'Sends a test through a saved channel',
  auth: 'settings',
  body: z.discriminatedUnion('channel', [
    z.strictObject({ channel: z.literal('text'), to: Telephone }),
    z.strictObject({ channel: z.literal('chat') }),
  ]),
  replies: { 202: NoBody },
  problems: ['not-connected'],
});

export const tryMail = call({
  method: 'post',
  path: '/api/messages/letter',
  summary: 'Sends a test e-mail and returns the mail server’s answer',
  auth: 'settings',
  body: z.strictObject({ to: z.email().max(320) }),
  replies: { 200: z.strictObject({ isTaken: z.boolean(), answer: z.string().describe('In the mail server’s words') }) },
  problems: ['no-mail'],
});

const HookEvents = z.array(z.enum(HOOK_CODES)).min(1).max(HOOK_CODES.length);
const HookIs = { url: Address, events: HookEvents };

export const WebHook = z
  .strictObject({
    id: z.string(),
    ...HookIs,
    isOn: z.boolean(),
    createdAt: z.iso.datetime(),
    sent: z.int().describe('How many were taken'),
    failed: z.int().describe('How many were not'),
    lastError: z.string().nullable(),
  })
  .meta({ id: 'WebHook' });
export type WebHook = z.infer<typeof WebHook>;

const HookParams = z.strictObject({ id: RowId });

export const listWebHooks = call({
  method: 'get',
  path: '/api/web-hooks',
  summary: 'Lists web hooks',
  auth: 'settings',
  replies: { 200: z.array(WebHook) },
});

export const postWebHook = call({
  method: 'post',
  path: '/api/web-hooks',
  summary: 'Adds a web hook, signed according to Standard Webhooks. The secret is shown only once',
  auth: 'settings',
  body: z.strictObject(HookIs),
  replies: { 201: z.strictObject({ id: z.string(), secret: z.string() }) },
});

export const putWebHook = call({
  method: 'put',
  path: '/api/web-hooks/{id}',
  summary: 'Changes the events of a web hook, or pauses it',
  auth: 'settings',
  params: HookParams,
  body: z.strictObject({ ...HookIs, isOn: z.boolean() }),
  replies: { 204: NoBody },
  problems: ['not-found'],
});

export const deleteWebHook = call({
  method: 'delete',
  path: '/api/web-hooks/{id}',
  summary: 'Deletes a web hook',
  auth: 'settings',
  params: HookParams,
  replies: { 204: NoBody },
  problems: ['not-found'],
});

export const tryWebHook = call({
  method: 'post',
  path: '/api/web-hooks/{id}/trials',
  summary: 'Sends a test event to a web hook',
  auth: 'settings',
  params: HookParams,
  replies: { 202: NoBody },
  problems: ['not-found'],
});

export const CHANNEL_CALLS = [
  getMessageLook,
  getMessageSettings,
  putMessageSettings,
  tryChannel,
  tryMail,
  listWebHooks,
  postWebHook,
  putWebHook,
  deleteWebHook,
  tryWebHook,
] as const;
