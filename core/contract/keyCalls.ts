import { z } from 'zod';
import { call, NoBody } from './call.ts';
import { KEY_SCOPES } from './permissions.ts';
import { RowId } from './scalars.ts';

const Scopes = z
  .array(z.enum(KEY_SCOPES))
  .min(1)
  .max(KEY_SCOPES.length)
  .describe(
    '`read` all that is shown but secrets; `catalog` and `people` bring files in; `rules` change and publish them; `orders` serves those who wait, reserve or ask. `rules` and `orders` read too',
  );

export const ProgramKey = z
  .strictObject({
    id: z.int(),
    name: z.string(),
    scopes: Scopes,
    ending: z.string().describe('The last four characters, to tell one from another'),
    madeBy: z.string(),
    madeAt: z.iso.datetime(),
    usedAt: z.iso.datetime().nullable().describe('When it was last used, to the minute'),
    revokedAt: z.iso.datetime().nullable(),
    revokedBy: z.string().nullable(),
  })
  .meta({ id: 'ProgramKey' });
export type ProgramKey = z.infer<typeof ProgramKey>;

export const listKeys = call({
  method: 'get',
  path: '/api/keys',
  summary: 'Lists programs’ keys, the newest first; keys themselves cannot be read again',
  auth: 'settings',
  replies: { 200: z.array(ProgramKey) },
});

export const postKey = call({
  method: 'post',
  path: '/api/keys',
  summary: 'Creates a key for a program, which is shown only once. The first key ends UNDERSTUDY_OWNER_KEY',
  auth: 'settings',
  body: z.strictObject({ name: z.string().max(200).regex(/\S/, 'a name'), scopes: Scopes }),
  replies: { 201: z.strictObject({ id: z.int(), key: z.string() }) },
});

export const deleteKey = call({
  method: 'delete',
  path: '/api/keys/{id}',
  summary: 'Revokes a key: the next call with it is refused',
  auth: 'settings',
  params: z.strictObject({ id: RowId }),
  replies: { 204: NoBody },
  problems: ['not-found'],
});
