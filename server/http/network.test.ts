import { expect, it } from 'vitest';
import { networkOf } from './network.ts';

it.each([
  ['192.0.2.7', ['192.0.2.7', '192.0.2.7:1', '192.0.2.7:65535', '::ffff:192.0.2.7', '[::ffff:192.0.2.7]:80']],
  ['an IPv6 network', ['2001:db8::1', '[2001:db8::2]:443', '[2001:db8:0:0:ffff::]', '2001:0db8:0:0:1:2:3:4']],
  ['whatever is no address', ['', 'unknown', '_hidden', '192.0.2.7:x', '192.0.2.256', ':1']],
])('%s is one network however it is written', (_name, addresses) => {
  expect(new Set(addresses.map((ip) => networkOf({ ip })))).toHaveProperty('size', 1);
});

it('other addresses are other networks', () => {
  const all = ['192.0.2.7', '192.0.2.8:80', '2001:db8::1', '2001:db8:0:1::1', ''].map((ip) => networkOf({ ip }));
  expect(new Set(all)).toHaveProperty('size', all.length);
});
