import type { z } from 'zod';

/** One thing wrong with a document: where (RFC 6901), what was found there, and what is allowed. */
export interface ValidationIssue {
  pointer: string;
  found: string;
  allowed: string;
}

export type Parsed<T> = { ok: true; value: T } | { ok: false; faults: ValidationIssue[] };

/** Deeper than any document of ours goes, and shallow enough for every reader of it. */
const MAX_NESTING = 64;

/** Reads a JSON value by a schema, and lists every fault when it does not fit. */
export function parse<T>(schema: z.ZodType<T>, input: unknown): Parsed<T> {
  const unreadable = faultOfForm(input);
  if (unreadable) return { ok: false, faults: [unreadable] };
  const result = schema.safeParse(input);
  if (result.success) return { ok: true, value: result.data };
  return { ok: false, faults: result.error.issues.flatMap((issue) => faultsOf(issue, input, [])) };
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
      return issue.keys.map((key) => fault('no such key here', [...path, key]));
    case 'invalid_union':
      return unionFaults(issue, input, path);
    case 'invalid_key':
    case 'invalid_element':
      return issue.issues.map((inner) => fault(allowedBy(inner)));
    default:
      return [fault(allowedBy(issue))];
  }
}

/** Of a union's branches, speaks for the one that the author seems to have meant. */
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

function show(value: unknown): string {
  if (value === undefined) return 'nothing';
  const text = JSON.stringify(value);
  return text.length > 80 ? `${text.slice(0, 77)}…` : text;
}

/** NUL, and halves of characters: no text of ours may hold them, and no database of ours can. */
const UNSTORABLE = /\0|\p{Surrogate}/u;

/** What no schema has to look at: nesting too deep to be read safely, and texts that cannot be kept. */
function faultOfForm(input: unknown): ValidationIssue | null {
  const open: { value: unknown; path: string; depth: number }[] = [{ value: input, path: '', depth: 0 }];
  for (let entry = open.pop(); entry; entry = open.pop()) {
    const { value, path, depth } = entry;
    if (typeof value === 'string' && UNSTORABLE.test(value)) {
      return { pointer: path, found: show(value), allowed: 'a text of whole Unicode characters, without NUL' };
    }
    // Walked without recursion, for the same reason.
    if (typeof value !== 'object' || value === null) continue;
    if (depth > MAX_NESTING) return { pointer: path, found: 'more', allowed: `${MAX_NESTING} levels of nesting` };
    for (const [key, inner] of Object.entries(value)) {
      if (UNSTORABLE.test(key)) return { pointer: path, found: show(key), allowed: 'names of whole characters' };
      open.push({ value: inner, path: path + pointerTo([key]), depth: depth + 1 });
    }
  }
  return null;
}
