import { createHash } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';
import { dictionary } from '@zxcvbn-ts/language-common';
import type { ValidationIssue } from '#core/contract/validation.ts';
import { invalid } from '../http/errors.ts';
import type { Links } from '../http/links.ts';
import { staffById, type StaffRow } from './staffQueries.ts';
import type { Queryable } from '../db/database.ts';

const PURPOSE = 'password';
/** Common passwords. */
const COMMON = new Set(dictionary['passwords-common'].map((password) => password.toLowerCase()));

/** Verified for unknown people, so that answers take equally long. */
const NOBODYS_HASH = hash('nobody has this password');

export async function isPassword(staff: StaffRow | null, password: string): Promise<boolean> {
  const isRight = await verify(staff?.passwordHash ?? (await NOBODYS_HASH), password);
  return isRight && staff?.passwordHash != null;
}

/** @param about names and addresses that a password must not be made of */
export function passwordFaults(password: string, about: readonly string[], pointer: string): ValidationIssue[] {
  const plain = password.toLowerCase();
  const bare = plain.replace(/[^\p{L}]+/gu, '');
  const isTheirs = about.some((text) => [text, text.split('@')[0] ?? ''].some((one) => one.toLowerCase() === plain));
  const isOne = new Set(plain).size < 4;
  if (!COMMON.has(plain) && !COMMON.has(bare) && !isTheirs && !isOne) return [];
  const allowed =
    'one that is not among those that many people use, and not your name or address: several words do well';
  return [{ pointer, found: 'a password that is easily guessed', allowed }];
}

/**
 * @param about names and addresses that a password must not be made of
 * @throws {ProblemError} 422 when it is common or easily guessed from its owner
 */
export async function hashOf(password: string, about: readonly string[], pointer = '/password'): Promise<string> {
  const faults = passwordFaults(password, about, pointer);
  if (faults.length > 0) throw invalid('What was sent', faults);
  return hash(password);
}

/** Fingerprint of a password: a link stays valid until another is chosen. */
const stampOf = ({ passwordHash }: StaffRow): string =>
  createHash('sha256')
    .update(passwordHash ?? '')
    .digest('base64url')
    .slice(0, 22);

/** @param until epoch ms */
export const passwordToken = (links: Links, staff: StaffRow, until: number): Promise<string> =>
  links.sign(PURPOSE, until, { staff: staff.id, stamp: stampOf(staff) });

/** Finds the colleague whose password a link sets; null if it is invalid or was used. */
export async function staffByToken(db: Queryable, links: Links, token: string): Promise<StaffRow | null> {
  const claims = await links.read(PURPOSE, token);
  const staff = typeof claims?.staff === 'number' ? await staffById(db, claims.staff) : null;
  return staff && claims?.stamp === stampOf(staff) ? staff : null;
}
