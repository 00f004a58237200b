import { readFileSync } from 'node:fs';
import { isDeepStrictEqual } from 'node:util';
import { expect, it } from 'vitest';
import type { z } from 'zod';
import { ASPECTS } from '#core/aspects/aspects.ts';
import { CALLS } from '#core/contract/calls.ts';
import { DEFINED } from '#core/controls/controls.ts';
import { Decision } from '#core/engine/decision.ts';
import { FACTS } from '#core/facts/facts.ts';
import { Rulebook } from '#core/rulebook/rulebook.ts';
import { textFault } from '#core/texts/placeholders.ts';

const text = readFileSync('docs/rulebook.md', 'utf8');
const corpus = readFileSync('tests/support/corpus.jsonl', 'utf8')
  .trim()
  .split('\n')
  .map((line) => JSON.parse(line) as { says: string });

/** The examples of one sort, each with the quotation that follows it, if any. */
const examples = (sort: string) =>
  [...text.matchAll(new RegExp('```json ' + sort + '\\n(.*?)```\\n\\n((?:>[^\\n]*\\n)*)', 'gs'))].map(
    ([, json = '', quotation = '']) => ({
      value: JSON.parse(json) as unknown,
      quotation: quotation.replaceAll(/^> ?/gm, '').replaceAll('\n', ' ').trim(),
    }),
  );
/** The rows of the table whose heading begins with a word: the words in backticks of each cell. */
const table = (heading: string) => {
  const [, rows = ''] = new RegExp(`^\\| ${heading} .*\\n\\|[-| ]+\\n((?:\\|.*\\n)+)`, 'm').exec(text) ?? [];
  return rows
    .trim()
    .split('\n')
    .map((row) => row.split(' | ').map((cell) => [...cell.matchAll(/`([^`]+)`/g)].map(([, word = '']) => word)));
};

it.each(examples('rule'))('an example is a line of the corpus: $quotation', ({ value, quotation }) => {
  const line = corpus.find(({ says: _, ...rule }) => isDeepStrictEqual(rule, value));
  expect(line, JSON.stringify(value)).toBeDefined();
  if (quotation !== '') expect(quotation).toBe(line?.says);
});

it('its rulebook and its decision are valid', () => {
  expect(examples('rule')).toHaveLength(7);
  expect(examples('rulebook').map(({ value }) => Rulebook.safeParse(value).error)).toEqual([undefined]);
  expect(examples('decision').map(({ value }) => Decision.safeParse(value).error)).toEqual([undefined]);
});

it('its facts are those of the code, with their operators', () => {
  const written = table('fact').map(([fact, operators]) => [fact?.[0], operators]);
  expect(written).toEqual(FACTS.map(({ name, operators }) => [name, Object.keys(operators)]));
});

it('its ways of naming a time are those of the code', () => {
  const moment = FACTS.find(({ name }) => name === 'moment');
  expect(table('operator').map(([operator]) => operator?.[0])).toEqual(Object.keys(moment?.operators ?? {}));
});

it('its aspects are those of the code', () => {
  const written = table('aspect').flatMap(([aspect]) => aspect ?? []);
  expect(new Set(written)).toEqual(new Set(ASPECTS));
  expect(written).toHaveLength(ASPECTS.length);
});

it('its controls are those of the code, with their fields', () => {
  const common = new Set(['kind', 'label', 'beside', 'look']);
  expect(table('kind').map(([kind, fields]) => [kind?.[0], fields?.map((field) => /^\w+/.exec(field)?.[0])])).toEqual(
    DEFINED.map(({ kind, schema }) => {
      const { shape } = schema as unknown as { shape: Readonly<Record<string, z.ZodType>> };
      return [kind, Object.keys(shape).filter((field) => !common.has(field))];
    }),
  );
});

it('its placeholders are those of the code', () => {
  const [, known = ''] = /only these placeholders: (.*) \(not/.exec(textFault('{nobody.knows}') ?? '') ?? [];
  const written = [...text.matchAll(/`\{([\w.]+)\}`/g)].map(([, name]) => name);
  expect(new Set(written)).toEqual(new Set(known.split(', ')));
});

it('its calls are in the contract', () => {
  const known = new Set(CALLS.map(({ method, path }) => `${method.toUpperCase()} ${path}`));
  const written = table('call').flatMap(([calls]) => calls ?? []);
  expect(written.length).toBeGreaterThan(10);
  expect(written.filter((call) => !known.has(call) && call !== 'GET /embed.js')).toEqual([]);
});
