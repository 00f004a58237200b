import { describe, expect, it } from 'vitest';
import { addressIn } from './address.ts';

describe('the address of a product', () => {
  it.each([
    ['/plants/dahlia?utm=mail#top', [], '/plants/dahlia'],
    ['/item?i=44&utm=mail', ['i'], '/item?i=44'],
    ['/item?b=2&i=44', ['i', 'b'], '/item?b=2&i=44'],
    ['/item?i=a%20b', ['i'], '/item?i=a+b'],
    ['/item?I=44', ['i'], '/item'],
  ])('%s, told apart by %j, is %s', (address, parameters, expected) => {
    expect(addressIn(new URL(address, 'https://quillfern.example'), parameters)).toBe(expected);
  });
});
