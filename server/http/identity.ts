import { createHash, timingSafeEqual } from 'node:crypto';
import type { Request } from 'express';
import { PERMISSIONS, type Permission } from '#core/contract/permissions.ts';
import type { Actor } from '../db/acting.ts';
import { ProblemError } from './errors.ts';

declare module 'express-session' {
  interface SessionData {
    staffId: number;
    csrfToken: string;
    /** Epoch ms. */
    startedAt: number;
    /** Its own user agent. */
    browser: string;
  }
}

/** The caller and their permissions. */
export interface Identity {
  /** For the record. */
  readonly name: string;
  readonly may: readonly Permission[];
  /** The colleague who is signed in; null for a program. */
  readonly staffId: number | null;
  /** Theirs; null for a program. */
  readonly email: string | null;
  /** The seller they act for; null for the shop's colleagues and for programs. */
  readonly sellerId: string | null;
}

const identities = new WeakMap<Request, Identity>();

/** Remembers who a request is from, once that is certain. */
export const remember = (request: Request, identity: Identity): void => void identities.set(request, identity);

/** @throws {ProblemError} 403 */
export function demand(identity: Identity, permission: Permission): void {
  if (identity.may.includes(permission)) return;
  throw new ProblemError(
    'not-allowed',
    `${identity.name} may not do this: it needs leave to ${PERMISSIONS[permission]}. An owner of the shop can give it.`,
  );
}

/** Whether the caller has a permission beyond that of the call. */
export const mayAlso = (request: Request, permission: Permission): boolean =>
  identities.get(request)?.may.includes(permission) ?? false;

/** @throws {ProblemError} 403 if the caller lacks a permission beyond that of the call */
export function demandAlso(request: Request, permission: Permission): void {
  const identity = identities.get(request);
  if (identity) demand(identity, permission);
}

/** The token or key that a request carries (RFC 6750); null without one. */
export const bearerOf = (request: Request): string | null =>
  /^Bearer +(\S+)$/i.exec(request.get('Authorization') ?? '')?.[1] ?? null;

/** Name of the caller, for the record. */
export const whoIs = (request: Request): string => identities.get(request)?.name ?? 'nobody';

/** The colleague who is acting, for the record; null for a program. */
export function actorOf(request: Request): Actor | null {
  const { staffId, email } = identities.get(request) ?? {};
  return typeof staffId === 'number' && typeof email === 'string' ? { id: staffId, email } : null;
}

/** The colleague who is signed in; null for a program. */
export const staffIdOf = (request: Request): number | null => identities.get(request)?.staffId ?? null;

/** Seller of the signed-in user; null for everybody else. */
export const sellerIdOf = (request: Request): string | null => identities.get(request)?.sellerId ?? null;

/** Compares in a time that tells nothing. */
export function same(a: string, b: string): boolean {
  const digest = (text: string) => createHash('sha256').update(text).digest();
  return timingSafeEqual(digest(a), digest(b));
}
