import type { z } from 'zod';

/** A fault of a document: its place (RFC 6901), the value found, and what is allowed. */
export interface ValidationIssue {
  pointer: string;
  found: string;
  allowed: string;
}

export type Parsed<T> = { ok: true; value: T } | { ok: false; faults: ValidationIssue[] };

/** Maximum nesting: deeper than any of our documents, and safe for every parser. */
const MAX_NESTING = 64;

/** Maximum number of issues reported: nobody reads more, and formatting them takes time. */
const MOST_FAULTS = 100;
/** Limit how much is repeated of keys that are not known. */
const LONGEST_KEY = 60;
const MOST_KEYS = 10;
/** Maximum number of keys in one object: more than any of our documents has, and quick to check. */
const MOST_KEYS_READ = 2000;

/**
 * Reads a JSON value by a schema, and lists what does not fit, up to a hundred faults. Lists that are too long are refused
 * before anybody looks at their items.
 */
export function parse<T>(schema: z.ZodType<T>, input: unknown): Parsed<T> {
  const unreadable = faultOfLength(limitsOf(schema), input, []) ?? faultOfForm(input);
  if (unreadable) return { ok: false, faults: [unreadable] };
  const result = schema.safeParse(input);
  if (result.success) return { ok: true, value: result.data };
  const faults = result.error.issues.slice(0, MOST_FAULTS).flatMap((issue) => faultsOf(issue, input, []));
  return { ok: false, faults: faults.slice(0, MOST_FAULTS) };
}

/** Maximum lengths of lists, by their place in a document. */
interface Limits {
  readonly most?: number;
  readonly items?: Limits;
  readonly keys?: Readonly<Record<string, Limits>>;
}

const known = new WeakMap<object, Limits | null>();

/** Reads off a schema how long its lists may be; null where it has none. Lists in unions are left to the schema. */
function limitsOf(schema: z.core.$ZodType): Limits | null {
  const before = known.get(schema);
  if (before !== undefined) return before;
  // Stop at a schema that contains itself.
  known.set(schema, null);
  const made = readLimits(schema);
  known.set(schema, made);
  return made;
}

function readLimits(schema: z.core.$ZodType): Limits | null {
  const { def } = (schema as z.core.$ZodTypes)._zod;
  switch (def.type) {
    case 'array': {
      const most = def.checks
        ?.map((check) => check._zod.def)
        .find((check): check is z.core.$ZodCheckMaxLengthDef => check.check === 'max_length')?.maximum;
      const items = limitsOf(def.element);
      return most === undefined && !items ? null : { ...(most !== undefined && { most }), ...(items && { items }) };
    }
    case 'object': {
      const keys = Object.entries(def.shape).flatMap(([key, inner]) => {
        const limits = limitsOf(inner);
        return limits ? [[key, limits] as const] : [];
      });
      return keys.length === 0 ? null : { keys: Object.fromEntries(keys) };
    }
    case 'optional':
    case 'nullable':
    case 'default':
    case 'readonly':
      return limitsOf(def.innerType);
    case 'pipe':
      return limitsOf(def.in);
    default:
      return null;
  }
}

function faultOfLength(limits: Limits | null, input: unknown, path: Path): ValidationIssue | null {
  if (!limits || typeof input !== 'object' || input === null) return null;
  if (Array.isArray(input)) {
    const { most = Infinity, items } = limits;
    if (input.length > most)
      return { pointer: pointerTo(path), found: `${input.length} items`, allowed: `at most ${most} items` };
    if (!items) return null;
    for (const [index, item] of input.entries()) {
      const fault = faultOfLength(items, item, [...path, index]);
      if (fault) return fault;
    }
    return null;
  }
  for (const [key, inner] of Object.entries(limits.keys ?? {})) {
    const value = (input as Record<string, unknown>)[key];
    const fault = value === undefined ? null : faultOfLength(inner, value, [...path, key]);
    if (fault) return fault;
  }
  return null;
}

type Issue = z.core.$ZodIssue;
type Path = readonly PropertyKey[];

function faultsOf(issue: Issue, input: unknown, base: Path): ValidationIssue[] {
  const path = [...base, ...issue.path];
  const fault = (allowed: string, at: Path = path): ValidationIssue => ({
    pointer: pointerTo(at),
    found: show(valueAt(input, at)),
    allowed,
  });
  switch (issue.code) {
    case 'unrecognized_keys':
      return issue.keys.slice(0, MOST_KEYS).map((key) => ({
        pointer: pointerTo([...path, key.slice(0, LONGEST_KEY)]),
        found: show(valueAt(input, [...path, key])),
        allowed: 'no such key here',
      }));
    case 'invalid_union':
      return unionFaults(issue, input, path);
    case 'invalid_key':
    case 'invalid_element':
      return issue.issues.map((inner) => fault(allowedBy(inner)));
    default:
      return [fault(allowedBy(issue))];
  }
}

/** Reports the branch of a union that the author seems to have meant. */
function unionFaults(issue: Extract<Issue, { code: 'invalid_union' }>, input: unknown, path: Path): ValidationIssue[] {
  if (issue.errors.length === 0) {
    const options = 'options' in issue && Array.isArray(issue.options) ? issue.options : [];
    return [{ pointer: pointerTo(path), found: show(valueAt(input, path)), allowed: oneOf(options) }];
  }
  if (issue.errors.every((branch) => branch.some(isWrongTypeHere))) {
    const types = issue.errors.flat().filter(isWrongTypeHere);
    const allowed = [...new Set(types.map(allowedBy))].join(' or ');
    return [{ pointer: pointerTo(path), found: show(valueAt(input, path)), allowed }];
  }
  const meant = issue.errors.reduce((best, branch) =>
    misfit(branch, input, path) <= misfit(best, input, path) ? branch : best,
  );
  return meant.flatMap((inner) => faultsOf(inner, input, path));
}

const isWrongTypeHere = (issue: Issue) => issue.code === 'invalid_type' && issue.path.length === 0;

/** A branch fits badly when the value has the wrong type for it, or lacks the keys that tell the branch. */
function misfit(branch: readonly Issue[], input: unknown, path: Path): number {
  return branch.filter(
    (issue) =>
      isWrongTypeHere(issue) ||
      (issue.path.length === 1 && valueAt(input, [...path, ...issue.path]) === undefined) ||
      (issue.path.length === 1 && issue.code === 'invalid_union' && issue.errors.length === 0),
  ).length;
}

function allowedBy(issue: Issue): string {
  switch (issue.code) {
    case 'invalid_type':
      return TYPES[issue.expected] ?? issue.expected;
    case 'invalid_value':
      return oneOf(issue.values);
    case 'too_big':
      return `at most ${issue.maximum}${unitOf(issue.origin)}`;
    case 'too_small':
      return `at least ${issue.minimum}${unitOf(issue.origin)}`;
    case 'invalid_format':
    case 'custom':
      return issue.message;
    default:
      return issue.message;
  }
}

const TYPES: Partial<Record<string, string>> = {
  string: 'a text',
  int: 'a whole number',
  number: 'a number',
  boolean: 'true or false',
  array: 'a list',
  tuple: 'a list',
  object: 'an object',
  record: 'an object',
};

const unitOf = (origin: string) => ({ string: ' characters', array: ' items' })[origin] ?? '';

const oneOf = (values: readonly unknown[]) =>
  values.length === 1 ? JSON.stringify(values[0]) : `one of ${values.map((value) => JSON.stringify(value)).join(', ')}`;

/** RFC 6901. */
export function pointerTo(path: Path): string {
  return path.map((key) => `/${String(key).replace(/~/g, '~0').replace(/\//g, '~1')}`).join('');
}

function valueAt(input: unknown, path: Path): unknown {
  return path.reduce<unknown>(
    (value, key) =>
      typeof value === 'object' && value !== null && Object.hasOwn(value, key)
        ? (value as Record<PropertyKey, unknown>)[key]
        : undefined,
    input,
  );
}

/** Writes a value as JSON, up to 80 characters. */
function show(value: unknown): string {
  if (value === undefined) return 'nothing';
  const text = JSON.stringify(abridged(value, 0));
  return text.length > 80 ? `${text.slice(0, 77)}…` : text;
}

/** Shortens a value before it is written, since writing a large document takes long. */
function abridged(value: unknown, depth: number): unknown {
  if (typeof value === 'string') return value.slice(0, 100);
  if (typeof value !== 'object' || value === null) return value;
  if (depth > 4) return '…';
  if (Array.isArray(value)) return value.slice(0, 40).map((item) => abridged(item, depth + 1));
  const few: Record<string, unknown> = {};
  for (const key in value) {
    if (Object.keys(few).length === 20) break;
    few[key.slice(0, 100)] = abridged((value as Record<string, unknown>)[key], depth + 1);
  }
  return few;
}

/** NUL and lone surrogates, which the database cannot store. */
const UNSTORABLE = /\0|\p{Surrogate}/u;

/** Finds faults that every schema shares: nesting too deep to be read safely, and texts that no database can keep. */
function faultOfForm(input: unknown, depth = 0): ValidationIssue | null {
  if (typeof input === 'string')
    return UNSTORABLE.test(input)
      ? { pointer: '', found: show(input), allowed: 'a text of whole Unicode characters, without NUL' }
      : null;
  if (typeof input !== 'object' || input === null) return null;
  if (depth > MAX_NESTING) return { pointer: '', found: 'more', allowed: `${MAX_NESTING} levels of nesting` };
  if (Array.isArray(input)) {
    for (let index = 0; index < input.length; index += 1) {
      const fault = faultOfForm(input[index], depth + 1);
      if (fault) return { ...fault, pointer: pointerTo([index]) + fault.pointer };
    }
    return null;
  }
  let keys = 0;
  for (const key in input) {
    keys += 1;
    if (keys > MOST_KEYS_READ) return { pointer: '', found: 'more', allowed: `${MOST_KEYS_READ} keys` };
    if (UNSTORABLE.test(key)) return { pointer: '', found: show(key), allowed: 'names of whole characters' };
    const fault = faultOfForm((input as Record<string, unknown>)[key], depth + 1);
    if (fault) return { ...fault, pointer: pointerTo([key]) + fault.pointer };
  }
  return null;
}
