import { OF_LISBON } from '#tests/support/arbitraries.ts';
import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { Rule } from './rulebook.ts';
import { fullSentence } from './sentence.ts';

/** Rules with the sentences that were read by eye: one of each construct, and many of their meetings. */
const corpus = readFileSync('tests/support/corpus.jsonl', 'utf8')
  .trim()
  .split('\n')
  .map((line) => JSON.parse(line) as { says: string } & Record<string, unknown>);

it.each(corpus)('$says', ({ says, ...rule }) => {
  expect(fullSentence(Rule.parse({ id: 'r', on: true, ...rule }), OF_LISBON)).toBe(says);
});

it('no two of them say the same', () => {
  expect(new Set(corpus.map(({ says }) => says)).size).toBe(corpus.length);
});
