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
  summary: 'Ends the previous secret: visitors with its tokens become guests',
  auth: 'settings',
  replies: { 204: NoBody },
});

export const rotateLinkKey = call({
  method: 'post',
  path: '/api/secrets/links',
  summary: 'Replaces the key that signs links in messages; links of the previous key stay valid, older ones end',
  auth: 'settings',
  replies: { 204: NoBody },
});
