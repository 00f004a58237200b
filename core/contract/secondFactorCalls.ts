import { z } from 'zod';
import { call, NoBody } from './call.ts';
import { RowId } from './scalars.ts';

const WithPassword = z.strictObject({ password: z.string().min(1, 'your password').max(200) });

/** Six digits of the telephone's, or a recovery code. */
export const Code = z.string().min(1).max(40);

const RecoveryCodes = z.strictObject({
  recoveryCodes: z.array(z.string()).describe('Each lets in once without the telephone; shown this once'),
});

export const SecondFactor = z
  .strictObject({
    isOn: z.boolean(),
    recoveryCodesLeft: z.int(),
  })
  .meta({ id: 'SecondFactor' });
export type SecondFactor = z.infer<typeof SecondFactor>;

export const getSecondFactor = call({
  method: 'get',
  path: '/api/second-factor',
  summary: 'Whether whoever is signed in has a second factor',
  auth: 'self',
  replies: { 200: SecondFactor },
  problems: [409],
});

export const postSecondFactor = call({
  method: 'post',
  path: '/api/second-factor',
  summary: 'Begins a second factor by codes of the time (TOTP, RFC 6238); it counts once a code was shown to work',
  auth: 'self',
  body: WithPassword,
  replies: {
    200: z.strictObject({
      secret: z.string().describe('Base32 (RFC 4648), to be typed where the address cannot be read'),
      address: z.string().describe('An otpauth address, to be read as a QR code'),
    }),
  },
  problems: [403, 409, 429],
});

export const putSecondFactor = call({
  method: 'put',
  path: '/api/second-factor',
  summary: 'Turns the second factor on that was begun, and ends their other sessions',
  auth: 'self',
  body: z.strictObject({ code: Code }),
  replies: { 200: RecoveryCodes },
  problems: [403, 409, 429],
});

export const postRecoveryCodes = call({
  method: 'post',
  path: '/api/second-factor/recovery-codes',
  summary: 'Makes the recovery codes anew; those before end',
  auth: 'self',
  body: WithPassword,
  replies: { 200: RecoveryCodes },
  problems: [403, 409, 429],
});

export const endSecondFactor = call({
  method: 'post',
  path: '/api/second-factor/removal',
  summary: 'Turns the second factor off',
  auth: 'self',
  body: WithPassword.extend({ code: Code.optional().describe('Needed while it is on') }),
  replies: { 204: NoBody },
  problems: [403, 409, 429],
});

export const deleteColleaguesFactor = call({
  method: 'delete',
  path: '/api/colleagues/{id}/second-factor',
  summary: 'Takes the second factor of a colleague away who lost it',
  auth: 'settings',
  params: z.strictObject({ id: RowId }),
  replies: { 204: NoBody },
  problems: [404],
});

export const SECOND_FACTOR_CALLS = [
  getSecondFactor,
  postSecondFactor,
  putSecondFactor,
  postRecoveryCodes,
  endSecondFactor,
  deleteColleaguesFactor,
] as const;
