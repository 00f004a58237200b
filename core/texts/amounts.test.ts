import { describe, expect, it } from 'vitest';
import { hasAmount, withoutAmounts } from './amounts.ts';

describe('amounts of money in a text', () => {
  it.each([
    ['small – 20.86 €', 'small'],
    ['small (€20.86)', 'small'],
    ['€20.86 – small', 'small'],
    ['small, 1 234,50 €', 'small'],
    ["large: CHF 1'234.50", 'large'],
    ['9 cm pot | $5', '9 cm pot'],
    ['3 × 2.00 CHF', '3 ×'],
    [' bare root – £7.50 ', ' bare root '],
    ['from €5 to €9', 'from  to'],
    ['€20.86', ''],
    ['¥1200 / tuber', 'tuber'],
    ['٢٠٫٨٦ €', ''],
  ])('%s', (text, rest) => {
    expect(hasAmount(text)).toBe(true);
    expect(withoutAmounts(text)).toBe(rest);
  });

  it.each(['small', 'H7 and up to 110 cm', '5 DIY tips', '3 tubers', 'Zone 7, sun', '2027', ''])(
    'are none in “%s”',
    (text) => {
      expect(hasAmount(text)).toBe(false);
      expect(withoutAmounts(text)).toBe(text);
    },
  );
});
