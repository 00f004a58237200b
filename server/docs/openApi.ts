import { problemsOf } from '#core/contract/callProblems.ts';
import { isPermission } from '#core/contract/permissions.ts';
import { PROBLEMS, type ProblemCode } from '#core/contract/problems.ts';
import { z } from 'zod';
import { type Call, Problem } from '#core/contract/call.ts';
import { CALLS } from '#core/contract/calls.ts';

type Json = Record<string, unknown>;

/** The contract's calls as an OpenAPI 3.1 document, whose schemas are JSON Schema 2020-12. */
export function openApiDocument(publicUrl: string): Json {
  const schemas: Record<string, Json> = {};
  const paths: Record<string, Json> = {};
  for (const call of CALLS) {
    paths[call.path] = { ...paths[call.path], [call.method]: operation(call, schemas) };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Understudy',
      version: '1',
      description: 'What stands in for a shop’s add-to-cart control: asked by its pages, its server and its owner.',
      license: { name: 'MIT', identifier: 'MIT' },
    },
    servers: [{ url: publicUrl }],
    tags: [
      { name: 'Storefront', description: 'For the shop’s pages and server' },
      { name: 'Owner', description: 'With a colleague’s session or a program’s key' },
    ],
    paths,
    components: {
      schemas,
      securitySchemes: {
        key: { type: 'http', scheme: 'bearer', description: 'A key of the shop’s for a program' },
        session: { type: 'apiKey', in: 'cookie', name: 'understudy.sid' },
        shop: { type: 'http', scheme: 'bearer', bearerFormat: 'JWT' },
        picker: { type: 'http', scheme: 'bearer', bearerFormat: 'JWT' },
      },
    },
  };
}

const SECURITY = {
  picker: [{ picker: [] }],
  shop: [{ shop: [] }],
  public: [],
} as const;
const STAFF_SECURITY = [{ key: [] }, { session: [] }];

function operation(call: Call, schemas: Record<string, Json>): Json {
  const schema = (type: z.ZodType, io: 'input' | 'output') => toSchema(type, io, schemas);
  const problem = { content: { 'application/problem+json': { schema: schema(Problem, 'output') } } };
  const problems = new Map<number, ProblemCode[]>();
  for (const code of new Set(problemsOf(call))) {
    const { status } = PROBLEMS[code];
    problems.set(status, [...(problems.get(status) ?? []), code]);
  }
  const isWriting = call.method !== 'get';
  return {
    operationId: `${call.method}${call.path.replace(/[^a-z0-9]+(.)?/gi, (_, letter?: string) => letter?.toUpperCase() ?? '')}`,
    summary: call.summary,
    tags: [call.path.startsWith('/v1/') ? 'Storefront' : 'Owner'],
    security: isPermission(call.auth) ? STAFF_SECURITY : SECURITY[call.auth],
    ...(isPermission(call.auth) ? { 'x-permission': call.auth } : {}),
    parameters: [
      ...parameters(call.params, 'path', schema),
      ...parameters(call.query, 'query', schema),
      ...(call.ifMatch
        ? [{ name: 'If-Match', in: 'header', required: call.ifMatch === 'required', schema: { type: 'string' } }]
        : []),
      ...(call.isLong
        ? [
            {
              name: 'Prefer',
              in: 'header',
              description: '`respond-async, wait=SECONDS` answers 202 where it takes longer (RFC 7240)',
              schema: { type: 'string' },
            },
          ]
        : []),
      ...(isWriting && isPermission(call.auth)
        ? [
            {
              name: 'X-CSRF-Token',
              in: 'header',
              description: 'With a session; not with a key',
              schema: { type: 'string' },
            },
          ]
        : []),
    ],
    ...(call.body
      ? {
          requestBody: {
            required: !call.bodyOptional,
            content: {
              'application/json': { schema: schema(call.body, 'input') },
              ...(call.upload ? { 'text/csv': { schema: { type: 'string' } } } : {}),
            },
          },
        }
      : {}),
    responses: Object.fromEntries([
      ...Object.entries(call.replies).map(([status, body]) => [
        status,
        success(Number(status), body, call.produces ?? 'application/json', schema),
      ]),
      ...[...problems].map(([status, codes]) => [
        status,
        { description: codes.map(problemWords).join('; '), ...problem },
      ]),
    ]) as Json,
  };
}

function success(status: number, body: z.ZodType, kind: string, schema: (type: z.ZodType, io: 'output') => Json): Json {
  if (body instanceof z.ZodUndefined) return { description: 'Done' };
  const description = { 200: 'As asked', 201: 'Made', 202: 'Under way' }[status] ?? 'As asked';
  return { description, content: { [kind]: { schema: schema(body, 'output') } } };
}

const problemWords = (code: ProblemCode) => `\`${code}\`: ${PROBLEMS[code].title}`;

function parameters(
  type: z.ZodObject | undefined,
  place: 'path' | 'query',
  schema: (type: z.ZodType, io: 'input') => Json,
): Json[] {
  return Object.entries((type?.shape ?? {}) as Record<string, z.ZodType>).map(([name, field]) => ({
    name,
    in: place,
    required: place === 'path' || !field.safeParse(undefined).success,
    schema: schema(field, 'input'),
  }));
}

/** A type's JSON Schema; types with an id go to the document's components and are referred to. */
function toSchema(type: z.ZodType, io: 'input' | 'output', schemas: Record<string, Json>): Json {
  const { $schema: _, $defs, ...bare } = z.toJSONSchema(type, { io, unrepresentable: 'any', target: 'draft-2020-12' });
  for (const [name, schema] of Object.entries($defs ?? {})) {
    schemas[name] = relink(withoutId(schema)) as Json;
  }
  const id = z.globalRegistry.get(type)?.id;
  if (id === undefined) return relink(bare) as Json;
  if (!('$ref' in bare)) schemas[id] ??= relink(withoutId(bare)) as Json;
  return { $ref: `#/components/schemas/${id}` };
}

const withoutId = ({ id: _id, $id: _$id, ...schema }: Json): Json => schema;

/** Zod refers to `#/$defs/NAME` and to the whole as `#`; OpenAPI keeps both under components. */
function relink(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(relink);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, inner]) => [
      key,
      key === '$ref' && typeof inner === 'string' ? inner.replace('#/$defs/', '#/components/schemas/') : relink(inner),
    ]),
  );
}
