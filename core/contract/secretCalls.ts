import { z } from 'zod';
import { call, NoBody } from './call.ts';

export const rotateVisitorSecret = call({
  method: 'post',
  path: '/api/secrets/visitor',
  summary:
    'Makes another secret for visitors’ tokens; the one before stays valid beside it until it is ended, an older one ends',
  auth: 'settings',
  replies: { 201: z.strictObject({ visitorSecret: z.string() }) },
});

export const endOldVisitorSecret = call({
  method: 'delete',
  path: '/api/secrets/visitor/old',
  summary: 'Ends the secret before the newest: tokens that it signed are those of guests',
  auth: 'settings',
  replies: { 204: NoBody },
});

export const rotateLinkKey = call({
  method: 'post',
  path: '/api/secrets/links',
  summary: 'Signs links in messages with another key; those signed by the one before stay good, older ones end',
  auth: 'settings',
  replies: { 204: NoBody },
});
