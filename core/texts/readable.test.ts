import { describe, expect, it } from 'vitest';
import { readableParts, readableSentence } from './readable.ts';

const drawn = (text: string) =>
  readableParts(text)
    .map(({ text: words, isPlaceholder, isBold }) => {
      const name = isPlaceholder ? `[${words}]` : words;
      return isBold ? `<${name}>` : name;
    })
    .join('');

describe('a text for somebody who writes it', () => {
  it.each([
    ['Ships from **{product.date.ships}**.', 'Ships from <[ship date]>.'],
    ['{product.date.lifted} of {product.title}', '[lifted date] of [product]'],
    ['**Only** [terms](/terms?for={product.id}) hold', '<Only> terms hold'],
    ['{stock.quantity, plural, one {# left} other {**#** left}}', '<[units in stock]> left'],
    ['{product.attribute.hardiness}', '[hardiness]'],
    ['half {a brace', 'half {a brace'],
  ])('%s', (text, expected) => {
    expect(drawn(text)).toBe(expected);
  });

  it('leaves the words of the sentence around it as they are', () => {
    const parts = readableSentence('say “**Gone** \\”now\\”” in **x**');
    expect(parts.map(({ text }) => text).join('')).toBe('say “Gone ”now”” in **x**');
    expect(parts.filter(({ isBold }) => isBold).map(({ text }) => text)).toEqual(['Gone']);
  });
});
