import type { Request, RequestHandler, Response } from 'express';
import type { z } from 'zod';
import type { Call, Input, Reply } from '#core/contract/call.ts';
import { parse } from '#core/contract/validation.ts';
import { invalid, ProblemError } from './errors.ts';
import { bodyReader } from './body.ts';
import { EncodedJson } from './encodedJson.ts';
import { expressPath, type Endpoints } from './endpoints.ts';

/** Request and response, for handlers that need more than the parsed input. */
export interface RequestContext {
  readonly request: Request;
  readonly response: Response;
  /** The entity tag that If-Match named; `*` for any, null when it was not sent. */
  readonly ifMatch: string | null;
}

/** A reply, or one whose body is written already. */
type Written<R> = R extends { readonly body: infer Body } ? R | (Omit<R, 'body'> & { body: EncodedJson<Body> }) : never;
type Answer<C extends Call> = Written<Reply<C>>;
type Handler<C extends Call> = (input: Input<C>, context: RequestContext) => Promise<Answer<C>> | Answer<C>;

/** Builds a handler's answer. */
export const reply = <const Status extends number, Body>(
  status: Status,
  body: Body,
  headers: Readonly<Record<string, string>> = {},
) => ({ status, body, headers });

/** Headers of an answer that is to be saved as a file. */
export const attachment = (name: string) => ({
  'Content-Disposition': `attachment; filename="${name.replace(/[^\w.-]+/g, '_')}"`,
});

/**
 * Mounts one call of the contract: lets in whom the contract lets in, counts it against `limit`, parses what comes in by
 * its schemas, and sends what the handler answers.
 */
export function route<const C extends Call>(
  endpoints: Endpoints,
  call: C,
  handler: Handler<NoInfer<C>>,
  limit: readonly RequestHandler[] = [],
): void {
  const answer: RequestHandler = async (request, response) => {
    const input = {
      params: call.params && read(call.params, request.params, 'The address'),
      query: call.query && read(call.query, { ...request.query }, 'The query'),
      body: bodyOf(call, request),
    } as Input<C>;
    const context = { request, response, ifMatch: ifMatchOf(call, request) };
    const { status, body, headers } = await endpoints.recorded(call, request, input, async () =>
      handler(input, context),
    );
    response.status(status).set(headers);
    if (call.method === 'get' && isKnown(request, headers.ETag)) response.status(304).end();
    else if (body === undefined) response.end();
    else if (body instanceof EncodedJson) await body.send(request, response);
    else if (call.produces) response.type(call.produces).send(body);
    else response.json(body);
  };
  endpoints.mount(call.method, expressPath(call.path), call.auth, ...limit, ...bodyReader(call), answer);
}

/** Whether the asker has this already (RFC 9110, If-None-Match, compared weakly). */
function isKnown(request: Request, etag: string | undefined): boolean {
  const header = request.get('If-None-Match');
  if (header === undefined || etag === undefined) return false;
  const bare = (tag: string) => tag.trim().replace(/^W\//, '');
  return header.trim() === '*' || header.split(',').some((tag) => bare(tag) === bare(etag));
}

function bodyOf(call: Call, request: Request): unknown {
  if (!call.body || call.upload) return undefined;
  const body: unknown = request.body;
  if (body === undefined) {
    if (call.bodyOptional) return undefined;
    const detail = 'This call takes a body with Content-Type application/json. Send one.';
    throw new ProblemError('no-body', detail);
  }
  return read(call.body, body, 'What was sent');
}

/** @throws {ProblemError} 422 with every fault */
export function read<T extends NonNullable<Call['body']>>(schema: T, input: unknown, what: string): z.infer<T> {
  const result = parse(schema, input);
  if (!result.ok) throw invalid(what, result.faults);
  return result.value as z.infer<T>;
}

function ifMatchOf(call: Call, request: Request): string | null {
  const header = request.get('If-Match') ?? null;
  if (header === null && call.ifMatch === 'required') {
    const detail = 'Send If-Match with the ETag that you read, so that nobody’s work is lost unseen.';
    throw new ProblemError('if-match-needed', detail);
  }
  return header;
}
