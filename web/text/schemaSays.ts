import type { Steps, Writing } from './places.ts';

/** The part of JSON Schema that a rulebook's uses. */
export interface Schema {
  readonly $ref?: string;
  readonly $defs?: Readonly<Record<string, Schema>>;
  readonly properties?: Readonly<Record<string, Schema>>;
  readonly additionalProperties?: Schema | boolean;
  readonly items?: Schema;
  readonly anyOf?: readonly Schema[];
  readonly oneOf?: readonly Schema[];
  readonly const?: unknown;
  readonly enum?: readonly unknown[];
  readonly type?: string;
}

/** Completions at a position: keys of an object, or values as JSON. */
export function offersFor(root: Schema, { at, steps, keys, known }: Writing): string[] {
  if (at === 'key') return keysFor(having(agreeing(schemasAt(root, steps), known), keys), keys);
  const step = steps.at(-1) ?? '';
  const isItem = /^\d+$/.test(step);
  const { [step]: _written, ...others } = known;
  const around = schemasAt(root, steps.slice(0, -1));
  const parents = isItem ? around : agreeing(around, others);
  return valuesFor(parents.flatMap((schema) => spread(childOf(schema, step), root)));
}

/** Every schema that a place may have to fit, choices spread out. */
function schemasAt(root: Schema, steps: Steps): Schema[] {
  return steps.reduce<Schema[]>(
    (schemas, step) => schemas.flatMap((schema) => spread(childOf(schema, step), root)),
    spread(root, root),
  );
}

/** Schemas of an object that its present values leave possible: a fact has its own operators. */
function agreeing(schemas: readonly Schema[], known: Readonly<Record<string, string>>): Schema[] {
  const fits = ({ properties = {} }: Schema) =>
    Object.entries(known).every(([key, text]) => {
      const schemaOf = properties[key];
      if (!schemaOf) return false;
      const allowed = schemaOf.const === undefined ? schemaOf.enum : [schemaOf.const];
      return allowed === undefined || allowed.includes(text);
    });
  const fitting = schemas.filter(fits);
  return fitting.length > 0 ? fitting : [...schemas];
}

/** Schemas of an object that know all its keys: an entry is a rule or the sellers' entry. */
function having(schemas: readonly Schema[], keys: readonly string[]): readonly Schema[] {
  const fitting = schemas.filter(({ properties = {} }) => keys.every((key) => key in properties));
  return fitting.length > 0 ? fitting : schemas;
}

function childOf({ properties, items, additionalProperties }: Schema, step: string): Schema {
  const schemaOf = properties?.[step] ?? (/^\d+$/.test(step) ? items : undefined);
  return schemaOf ?? (typeof additionalProperties === 'object' ? additionalProperties : {});
}

function spread(schema: Schema, root: Schema): Schema[] {
  if (schema.$ref !== undefined) {
    const named = root.$defs?.[schema.$ref.replace('#/$defs/', '')];
    return named ? spread(named, root) : [];
  }
  const choices = schema.anyOf ?? schema.oneOf;
  return choices ? choices.flatMap((choice) => spread(choice, root)) : [schema];
}

/** The keys that an object may still have. */
function keysFor(schemas: readonly Schema[], has: readonly string[]): string[] {
  const keys = schemas.flatMap(({ properties = {} }) => Object.keys(properties));
  return [...new Set(keys)].filter((key) => !has.includes(key));
}

/** The values that a place may have, as JSON, as far as the schema lists them. */
function valuesFor(schemas: readonly Schema[]): string[] {
  const values = schemas.flatMap((schema) => {
    if (schema.const !== undefined) return [schema.const];
    if (schema.enum) return schema.enum;
    if (schema.type === 'boolean') return [true, false];
    if (schema.type === 'array') return [[]];
    return schema.type === 'object' ? [{}] : [];
  });
  return [...new Set(values.map((value) => JSON.stringify(value)))];
}
