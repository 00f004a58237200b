import { describe, expect, it } from 'vitest';
import { openPage } from '#tests/support/pageDocument.ts';
import { limit } from './limits.ts';

const OPEN = { min: 1, max: null, step: 1 };
const TENS = { min: 10, max: 40, step: 10 };

function box(attributes: string) {
  const input = openPage(`<input type="number" ${attributes}>`).querySelector('input')!;
  const heard: string[] = [];
  for (const event of ['input', 'change']) input.addEventListener(event, () => heard.push(event));
  const state = () => ['min', 'max', 'step'].map((name) => input.getAttribute(name));
  return { input, heard, state };
}

describe('a quantity’s box', () => {
  it('is held to the limits, moved to the least, and tells the page', () => {
    const { input, heard, state } = box('value="1"');
    Object.assign(input, { matches: () => false });
    limit(input, TENS);
    expect(state()).toEqual(['10', '40', '10']);
    expect(input.value).toBe('10');
    expect(heard).toEqual(['input', 'change']);
  });

  it('keeps the shop’s own greatest where that is less', () => {
    const { input, state } = box('value="10" max="20"');
    Object.assign(input, { matches: () => false });
    limit(input, TENS);
    expect(state()).toEqual(['10', '20', '10']);
  });

  it.each([null, OPEN])('is given back as the shop made it once nothing limits it', (open) => {
    const { input, state } = box('value="1" min="0" max="9"');
    Object.assign(input, { matches: () => false });
    limit(input, TENS);
    limit(input, open);
    expect(state()).toEqual(['0', '9', null]);
  });

  it('is left alone while somebody types in it', () => {
    const { input, heard } = box('value="3"');
    Object.assign(input, { matches: () => true });
    limit(input, TENS);
    expect([input.value, heard]).toEqual(['3', []]);
  });
});
