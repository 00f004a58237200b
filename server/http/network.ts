import type { Request } from 'express';
import { ipKeyGenerator } from 'express-rate-limit';
import ipaddr from 'ipaddr.js';

/** Whoever has an IPv6 address has all of these. */
const IPV6_PREFIX = 64;

/**
 * Where a request comes from, as far as limits are concerned: an IPv4 address, or an IPv6 network of /64. Ports, which some
 * proxies append, and IPv4 addresses written as IPv6 make no difference; anything else counts as one network.
 */
export function networkOf({ ip = '' }: Pick<Request, 'ip'>): string {
  const bare = /^\[(.+)\](?::\d+)?$/.exec(ip)?.[1] ?? /^(\d+(?:\.\d+){3}):\d+$/.exec(ip)?.[1] ?? ip;
  return ipaddr.isValid(bare) ? ipKeyGenerator(ipaddr.process(bare).toString(), IPV6_PREFIX) : '';
}
