import fc from 'fast-check';

/** A JSON Schema as the API's description has it. */
export type Schema = Readonly<Record<string, unknown>>;
type Schemas = Readonly<Record<string, Schema>>;

const DEEPEST = 5;

/** Values that a schema of the API's description lets through, as far as it says; refinements may still refuse them. */
export function fromSchema(schema: Schema, schemas: Schemas, depth = 0): fc.Arbitrary<unknown> {
  const inner = (one: Schema) => fromSchema(one, schemas, depth + 1);
  if (typeof schema.$ref === 'string') {
    const name = schema.$ref.split('/').at(-1) ?? '';
    return depth > DEEPEST ? fc.constant(null) : inner(schemas[name] ?? {});
  }
  if ('const' in schema) return fc.constant(schema.const);
  if (Array.isArray(schema.enum)) return fc.constantFrom(...(schema.enum as unknown[]));
  const choices = (schema.anyOf ?? schema.oneOf) as Schema[] | undefined;
  if (choices) {
    const shallow = depth > DEEPEST ? choices.filter((choice) => !('$ref' in choice)) : choices;
    return fc.oneof(...(shallow.length > 0 ? shallow : choices.slice(0, 1)).map(inner));
  }
  if (Array.isArray(schema.allOf)) return inner((schema.allOf as Schema[])[0] ?? {});
  switch (schema.type) {
    case 'object':
      return fromObject(schema, inner);
    case 'array': {
      if (Array.isArray(schema.prefixItems)) return fc.tuple(...(schema.prefixItems as Schema[]).map(inner));
      const items = (schema.items ?? {}) as Schema;
      const minLength = Number(schema.minItems ?? 0);
      const most = depth > DEEPEST ? minLength : Math.min(Number(schema.maxItems ?? 3), minLength + 2);
      return fc.array(inner(items), { minLength, maxLength: Math.max(minLength, most) });
    }
    case 'string':
      return text(schema);
    case 'integer':
    case 'number': {
      const min = Math.max(Number(schema.minimum ?? schema.exclusiveMinimum ?? -1000), Number.MIN_SAFE_INTEGER);
      const max = Math.min(Number(schema.maximum ?? schema.exclusiveMaximum ?? 1000), Number.MAX_SAFE_INTEGER);
      const bounds = fc.constantFrom(Math.ceil(min), Math.floor(max));
      return fc.oneof({ arbitrary: fc.integer({ min: Math.ceil(min), max: Math.floor(max) }), weight: 3 }, bounds);
    }
    case 'boolean':
      return fc.boolean();
    case 'null':
      return fc.constant(null);
    default:
      return fc.constantFrom<unknown>('', 0, null, {}, []);
  }
}

function fromObject(schema: Schema, inner: (schema: Schema) => fc.Arbitrary<unknown>): fc.Arbitrary<unknown> {
  const properties = (schema.properties ?? {}) as Record<string, Schema>;
  const required = (schema.required ?? []) as string[];
  const fields = Object.fromEntries(Object.entries(properties).map(([name, field]) => [name, inner(field)]));
  const known = fc.record(fields, { requiredKeys: required });
  const { additionalProperties: more } = schema;
  if (typeof more !== 'object' || more === null) return known;
  const others = fc.dictionary(fc.constantFrom('en', 'fr', 'title', 'price', 'a'), inner(more as Schema), {
    maxKeys: 2,
  });
  return fc.tuple(known, others).map(([known, added]) => ({ ...added, ...known }));
}

const FORMATS: Readonly<Record<string, fc.Arbitrary<string>>> = {
  'date-time': fc.constantFrom('2026-11-25T10:00:00Z', '2027-05-20T00:00:00+01:00', '1900-01-01T00:00:00Z'),
  date: fc.constantFrom('2026-11-25', '2027-02-28'),
  email: fc.constantFrom('ada@quillfern.example', 'wren.hollis@quillfern.example'),
  uri: fc.constantFrom('https://shop.quillfern.example/plants', 'http://shop.quillfern.example:80/'),
  url: fc.constantFrom('https://shop.quillfern.example/plants'),
  uuid: fc.constantFrom('6f1d7b1e-4f6f-4a53-9d53-3f1d9a0b7c11'),
  base64: fc.constantFrom('', 'AAAA'),
};

/** Texts that are what a pattern of ours asks for, often enough. */
const LIKELY = fc.constantFrom(
  'fern',
  'f-1',
  'c-1',
  '/plants/fern',
  '/',
  'en',
  '12',
  '#16323a',
  'P3D',
  'ships',
  'quote',
  'contact',
  'EUR',
  '+351210000000',
);

function text(schema: Schema): fc.Arbitrary<string> {
  const format = typeof schema.format === 'string' ? FORMATS[schema.format] : undefined;
  if (format) return format;
  const minLength = Number(schema.minLength ?? 0);
  const maxLength = Math.min(Number(schema.maxLength ?? 40), Math.max(40, minLength));
  const any = fc.string({ unit: 'grapheme', minLength, maxLength });
  return fc.oneof({ arbitrary: LIKELY, weight: 3 }, any);
}
