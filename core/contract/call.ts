import { z } from 'zod';
import type { Permission } from './permissions.ts';
import type { ProblemCode } from './problems.ts';

/** One HTTP call: what it takes and what it answers. The server mounts it and OpenAPI describes it from this alone. */
export interface Call {
  readonly method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  /** OpenAPI's form: `/api/editions/{number}`. */
  readonly path: string;
  readonly summary: string;
  /**
   * `public` for shops' pages and servers; `shop` for the shop's server alone, by a token of its own; `picker` for the token
   * that opened the picker; else what a colleague who is signed in, or a program with a key, must be allowed.
   */
  readonly auth: 'public' | 'shop' | 'picker' | Permission;
  readonly params?: z.ZodObject;
  readonly query?: z.ZodObject;
  readonly body?: z.ZodType;
  /** In bytes; 100,000 when it is not said. */
  readonly bodyLimit?: number;
  /** The body is a file that may be large: `body` describes it as JSON, and it may also be CSV. It is read as a stream. */
  readonly upload?: true;
  /** Answers with a file of this kind. */
  readonly produces?: 'text/csv';
  /** Sent by `navigator.sendBeacon`: its JSON may come as `text/plain`, which asks no other origin first. */
  readonly isBeacon?: true;
  /** Works without a body. */
  readonly bodyOptional?: true;
  /** May take long: reports its progress to clients that prefer `respond-async` (RFC 7240). */
  readonly isLong?: true;
  /** Needs `If-Match`, or takes it. */
  readonly ifMatch?: 'required' | 'optional';
  readonly replies: Readonly<Record<number, z.ZodType>>;
  /** The problems it may answer beside those that every call may. */
  readonly problems?: readonly ProblemCode[];
}

type Infer<T> = T extends z.ZodType ? z.infer<T> : undefined;

/** Parsed input of a call's handler. */
export interface Input<C extends Call> {
  readonly params: Infer<C['params']>;
  readonly query: Infer<C['query']>;
  readonly body: C extends { bodyOptional: true } ? Infer<C['body']> | undefined : Infer<C['body']>;
}

/** Answer of a call: a status with its body. */
export type Reply<C extends Call> = {
  [Status in keyof C['replies'] & number]: {
    readonly status: Status;
    readonly body: Infer<C['replies'][Status]>;
    readonly headers: Readonly<Record<string, string>>;
  };
}[keyof C['replies'] & number];

/** Keeps a call's exact type. */
export const call = <const C extends Call>(definition: C): C => definition;

/** A reply without a body. */
export const NoBody = z.undefined();

/** RFC 9457. */
export const Problem = z
  .object({
    type: z.string().describe('A URI reference that names the kind of problem'),
    title: z.string(),
    status: z.int(),
    detail: z.string().describe('What happened, to what, and what to do'),
    requestId: z.string().optional(),
    errors: z
      .array(
        z.object({
          pointer: z.string().describe('RFC 6901, into the document that was sent'),
          found: z.string(),
          allowed: z.string(),
        }),
      )
      .optional(),
  })
  .meta({ id: 'Problem' });
export type Problem = z.infer<typeof Problem>;
