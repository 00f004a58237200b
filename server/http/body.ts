import express, { type RequestHandler } from 'express';
import type { Call } from '#core/contract/call.ts';
import { ProblemError } from './errors.ts';

/** Bytes and members of a body without a limit of its own: 500 products or lines fit, with every field they may have. */
const DEFAULT = { bytes: 100_000, members: 6_250 };
/** Maximum nesting: deeper than any of our documents, and safe for every parser. */
const MAX_DEPTH = 64;
/** Fewest bytes for each member of the lists and objects in a body with a limit of its own. */
const BYTES_A_MEMBER = 4;

/** Reads the body of a call up to the limit in its contract. Callers without permission are refused before it. */
export function bodyReader({ body, upload, isBeacon, bodyLimit }: Call): RequestHandler[] {
  if (!body || upload) return [];
  const { bytes: limit, members } =
    bodyLimit === undefined ? DEFAULT : { bytes: bodyLimit, members: bodyLimit / BYTES_A_MEMBER };
  return [
    express.json({
      limit,
      strict: false,
      type: ['application/json', ...(isBeacon ? ['text/plain'] : [])],
      verify: (_request, _response, bytes) => {
        refuseCostly(bytes, members);
      },
    }),
  ];
}

const [QUOTE, BACKSLASH, COMMA, COLON] = [0x22, 0x5c, 0x2c, 0x3a];
const OPENING = new Set([0x5b, 0x7b]);
const CLOSING = new Set([0x5d, 0x7d]);

/**
 * Refuses JSON that would cost much to read, before it is read: by how deep it nests and how many members it has.
 * @param bytes UTF-8
 * @throws {ProblemError} 422
 */
function refuseCostly(bytes: Uint8Array, mostMembers: number): void {
  let depth = 0;
  let members = 0;
  let inText = false;
  for (let at = 0; at < bytes.length; at += 1) {
    const byte = bytes[at]!;
    if (inText) {
      if (byte === BACKSLASH) at += 1;
      else if (byte === QUOTE) inText = false;
      continue;
    }
    if (byte === QUOTE) inText = true;
    else if (byte === COMMA || byte === COLON) members += 1;
    else if (OPENING.has(byte)) depth += 1;
    else if (CLOSING.has(byte)) depth -= 1;
    if (depth > MAX_DEPTH) throw costly(`It nests deeper than ${MAX_DEPTH} levels.`);
    if (members > mostMembers) throw costly(`It has more than ${mostMembers} members.`);
  }
}

const costly = (why: string) => new ProblemError('too-costly', `${why} Nothing was changed. Send less at once.`);
