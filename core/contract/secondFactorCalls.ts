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
  summary: 'Returns whether the signed-in user has a second factor',
  auth: 'self',
  replies: { 200: SecondFactor },
  problems: ['no-password'],
});

export const postSecondFactor = call({
  method: 'post',
  path: '/api/second-factor',
  summary: 'Starts setting up a second factor (TOTP, RFC 6238), which is active once a code has been verified',
  auth: 'self',
  body: WithPassword,
  replies: {
    200: z.strictObject({
      secret: z.string().describe('Base32 (RFC 4648), to be typed where the address cannot be read'),
      address: z.string().describe('An otpauth address, to be read as a QR code'),
    }),
  },
  problems: ['factor-on', 'no-password', 'too-many', 'wrong-password'],
});

export const putSecondFactor = call({
  method: 'put',
  path: '/api/second-factor',
  summary: 'Activates the second factor, and ends the user’s other sessions',
  auth: 'self',
  body: z.strictObject({ code: Code }),
  replies: { 200: RecoveryCodes },
  problems: ['factor-on', 'no-password', 'too-many', 'too-many-tries', 'wrong-code'],
});

export const postRecoveryCodes = call({
  method: 'post',
  path: '/api/second-factor/recovery-codes',
  summary: 'Replaces the recovery codes',
  auth: 'self',
  body: WithPassword,
  replies: { 200: RecoveryCodes },
  problems: ['factor-off', 'no-password', 'too-many', 'wrong-password'],
});

export const endSecondFactor = call({
  method: 'post',
  path: '/api/second-factor/removal',
  summary: 'Removes the second factor',
  auth: 'self',
  body: WithPassword.extend({ code: Code.optional().describe('Needed while it is on') }),
  replies: { 204: NoBody },
  problems: [
    'factor-off',
    'no-password',
    'second-factor',
    'too-many',
    'too-many-tries',
    'wrong-code',
    'wrong-password',
  ],
});

export const deleteColleaguesFactor = call({
  method: 'delete',
  path: '/api/colleagues/{id}/second-factor',
  summary: 'Removes a colleague’s lost second factor',
  auth: 'settings',
  params: z.strictObject({ id: RowId }),
  replies: { 204: NoBody },
  problems: ['not-found'],
});

export const SECOND_FACTOR_CALLS = [
  getSecondFactor,
  postSecondFactor,
  putSecondFactor,
  postRecoveryCodes,
  endSecondFactor,
  deleteColleaguesFactor,
] as const;
