import { createHash, randomInt } from 'node:crypto';
import { Secret, TOTP } from 'otpauth';
import type { Queryable } from '../db/database.ts';
import { ProblemError } from '../http/errors.ts';
import type { StaffRow } from './staffQueries.ts';

const STEP_MS = 30_000;
/** Bits of the secret (RFC 4226, R6: 160 are recommended). */
const SECRET_BYTES = 20;
/** A clock may be a step early or late. */
const WINDOW = 1;
const CODES = 10;
const CODE_LENGTH = 10;
/** Base32 without characters that are easily confused. */
const LETTERS = 'abcdefghijkmnpqrstuvwxyz23456789';

const totpOf = (secret: string, label: string) =>
  new TOTP({ issuer: 'Understudy', label, secret: Secret.fromBase32(secret), period: STEP_MS / 1000 });

/** A new secret, and the address by which a telephone is given it. */
export function newSecret(label: string): { secret: string; address: string } {
  const secret = new Secret({ size: SECRET_BYTES }).base32;
  return { secret, address: totpOf(secret, label).toString() };
}

/** The step of time that a code is of; null when it is none of this secret's. @param at epoch ms */
export function stepOf(secret: string, code: string, at: number): number | null {
  const delta = totpOf(secret, '').validate({ token: code.replace(/\s/g, ''), timestamp: at, window: WINDOW });
  return delta === null ? null : Math.floor(at / STEP_MS) + delta;
}

const hashOf = (staffId: number, code: string): string =>
  createHash('sha256')
    .update(`${staffId} ${code.toLowerCase().replace(/[^a-z0-9]/g, '')}`)
    .digest('base64url');

/** Replaces an account's recovery codes. @returns them; only hashes are stored */
export async function newRecoveryCodes(db: Queryable, staffId: number): Promise<string[]> {
  const letter = () => LETTERS[randomInt(LETTERS.length)] ?? '';
  const codes = Array.from({ length: CODES }, () => Array.from({ length: CODE_LENGTH }, letter).join(''));
  await db.query('DELETE FROM recovery_codes WHERE staff_id = $1', [staffId]);
  await db.query('INSERT INTO recovery_codes (staff_id, hash) SELECT $1, unnest($2::text[])', [
    staffId,
    codes.map((code) => hashOf(staffId, code)),
  ]);
  return codes.map((code) => `${code.slice(0, CODE_LENGTH / 2)}-${code.slice(CODE_LENGTH / 2)}`);
}

const TAKE_STEP = 'UPDATE staff SET totp_step = $2 WHERE id = $1 AND totp_step < $2';
const TAKE_CODE = 'DELETE FROM recovery_codes WHERE staff_id = $1 AND hash = $2';

/**
 * Takes somebody's code of the time, or one of their recovery codes, once.
 * @param at epoch ms
 * @throws {ProblemError} 401 when they have a second factor and this is none of its codes, or none was given
 */
export async function takeCode(
  db: Queryable,
  { id, totpSecret }: Pick<StaffRow, 'id' | 'totpSecret'>,
  code: string | undefined,
  at: number,
  status: 401 | 403 = 401,
): Promise<void> {
  if (totpSecret === null) return;
  if (code === undefined) throw needsCode(status);
  const step = stepOf(totpSecret, code, at);
  const taken = await (step === null ? db.query(TAKE_CODE, [id, hashOf(id, code)]) : db.query(TAKE_STEP, [id, step]));
  if (taken.rowCount === 0) throw wrongCode(status);
}

const needsCode = (status: 401 | 403) =>
  new ProblemError(
    'second-factor',
    'Write the six digits that your telephone shows for Understudy, or one of your recovery codes.',
    { status },
  );

export const wrongCode = (status: 401 | 403) =>
  new ProblemError(
    'wrong-code',
    'This code is wrong, was used before or its time has passed. Wait for the next one, and check that the telephone’s clock is right.',
    { status },
  );
